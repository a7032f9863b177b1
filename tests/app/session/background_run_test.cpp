#include "session/background_run.h"

#include "app/driver.h"
#include "cache/scene_run.h"
#include "support/files.h"
#include "support/scenes.h"

namespace comet {
namespace {

// A frame on the disk with one particle less than the simulation gives shows who has read it.
TEST(BackgroundRun, LendsItsFramesOnDiskToAllWhoShareItsCache) {
  const test::TemporaryFolder folder;
  const std::string path = (folder / "spray.comet").string();
  const Scene scene = test::with(test::starting(), {"scene.disk_cache=true", "scene.last_frame=12"});
  Document document{test::reader()};
  document.replace(scene, QString::fromStdString(path));
  BackgroundRun run(document);
  ASSERT_TRUE(QTest::qWaitFor([&] { return run.isComplete() && !run.isBusy(); }, 20000));

  const auto store = frameStoreOf(scene, path);
  const Digest key = SceneRun(scene, run.cache()).key(12);
  const SceneFramePtr kept = store->read(key, 12);
  ASSERT_TRUE(kept);
  ParticleState fewer;
  const ParticleGroup& group = kept->particles->groups.front();
  fewer.groups.push_back({group.emitter, group.births, group.particles.copy()});
  fewer.groups.front().particles.resize(group.particles.size() - 1);
  store->write(key, {12, std::make_shared<const ParticleState>(std::move(fewer)), kept->report});

  run.cache()->clear();
  SceneRun bake(scene, run.cache());
  EXPECT_EQ(bake.frame(12)->particles->count() + 1, kept->particles->count());
}

}  // namespace
}  // namespace comet
