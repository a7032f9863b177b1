// Frames kept on disk: found again, believed only when they are whole, cleaned up.
#include "cache/frame_store.h"

#include "cache/scene_run.h"
#include "simulation/plan.h"
#include "support/files.h"
#include "support/scenes.h"

#include <fstream>
#include <gmock/gmock.h>
#include <iterator>

namespace comet {
namespace {

namespace fs = std::filesystem;
using test::busyScene;
using test::TemporaryFolder;
using test::with;

std::size_t filesIn(const fs::path& folder) {
  return static_cast<std::size_t>(std::distance(fs::directory_iterator(folder), fs::directory_iterator()));
}

TEST(FrameStore, GivesBackWhatItWasGiven) {
  const TemporaryFolder folder;
  const Scene scene = with(busyScene(), {"emitter.rate=300", "turbulence.acts_as=displacement"});
  const auto store = std::make_shared<const FrameStore>(folder / "frames");
  SceneRun first(scene, test::roomyCache(store));
  const SceneFramePtr made = first.frame(12);
  EXPECT_EQ(first.keepOnDisk(), "");
  EXPECT_EQ(filesIn(folder / "frames"), 12U);
  const SceneFramePtr read = store->read(first.key(12), 12);
  ASSERT_TRUE(read);
  EXPECT_EQ(read->particles->digest(), made->particles->digest());
  EXPECT_EQ(read->number, 12);
  EXPECT_EQ(read->report->stats.living, made->report->stats.living);
  ASSERT_EQ(read->report->contacts.size(), 1U);
  EXPECT_GT(read->report->contacts[0].particles, 0U);
  EXPECT_EQ(read->report->contacts[0].pairs, made->report->contacts[0].pairs);
  EXPECT_FALSE(read->particles->groups[0].particles.displacement().empty());
  EXPECT_EQ(read->particles->groups[0].particles.displacement(),
            made->particles->groups[0].particles.displacement());
  EXPECT_FALSE(store->read(Digest{1, 2}, 1));
}

TEST(FrameStore, ARunGoesOnFromWhatIsOnDisk) {
  const TemporaryFolder folder;
  const Scene scene = with(busyScene(), {"emitter.rate=300"});
  const auto store = std::make_shared<const FrameStore>(folder / "frames");
  SceneRun whole(scene, test::roomyCache(store));
  const SceneFramePtr straight = whole.frame(20);
  EXPECT_FALSE(std::filesystem::exists(folder / "frames")) << "nothing is written while it runs";
  EXPECT_EQ(whole.keepOnDisk(), "");
  // All but one are gone: the run resumes from it, and what it makes is what it was.
  SceneRun keys(scene, test::roomyCache());
  for (int frame = 1; frame <= 20; ++frame)
    if (frame != 9) fs::remove(folder / "frames" / (keys.key(frame).hex() + ".frame"));
  SceneRun resumed(scene, test::roomyCache(store));
  EXPECT_EQ(resumed.frame(20)->particles->digest(), straight->particles->digest());
  EXPECT_EQ(resumed.keepOnDisk(), "");
  EXPECT_EQ(filesIn(folder / "frames"), 12U) << "frames 9 to 20";
}

TEST(FrameStore, DoesNotBelieveADamagedFile) {
  const TemporaryFolder folder;
  const Scene scene = with(busyScene(), {"emitter.rate=50"});
  const auto store = std::make_shared<const FrameStore>(folder / "frames");
  SceneRun run(scene, test::roomyCache(store));
  const SceneFramePtr made = run.frame(8);
  EXPECT_EQ(run.keepOnDisk(), "");
  const fs::path file = folder / "frames" / (run.key(8).hex() + ".frame");
  std::ifstream in(file, std::ios::binary);
  const std::string whole{std::istreambuf_iterator<char>(in), {}};
  const auto isBelieved = [&](const std::string& content) {
    std::ofstream(file, std::ios::binary) << content;
    return store->read(run.key(8), 8) != nullptr;
  };
  EXPECT_TRUE(isBelieved(whole));
  for (std::size_t at = 0; at < whole.size(); at += 1 + whole.size() / 50) {
    std::string damaged = whole;
    damaged[at] = static_cast<char>(damaged[at] ^ 0x10);
    EXPECT_FALSE(isBelieved(damaged)) << at;
    EXPECT_FALSE(fs::exists(file)) << "it is removed";
    EXPECT_FALSE(isBelieved(whole.substr(0, at))) << at;
  }
  EXPECT_FALSE(isBelieved(whole + "x"));
  // Another frame's file under this name is no better.
  fs::copy_file(folder / "frames" / (run.key(7).hex() + ".frame"), file);
  EXPECT_FALSE(store->read(run.key(8), 8));
  EXPECT_EQ(SceneRun(scene, test::roomyCache(store)).frame(8)->particles->digest(),
            made->particles->digest());
}

TEST(FrameStore, CleansUpByAgeAndSize) {
  const TemporaryFolder folder;
  const Scene scene = with(busyScene(), {"emitter.rate=50"});
  const auto store = std::make_shared<const FrameStore>(folder / "frames");
  SceneRun run(scene, test::roomyCache(store));
  (void)run.frame(10);
  EXPECT_EQ(run.keepOnDisk(), "");
  const auto fileOf = [&](int frame) { return folder / "frames" / (run.key(frame).hex() + ".frame"); };
  std::ofstream(folder / "frames" / "notes.txt") << "mine";
  const auto now = fs::file_time_type::clock::now();
  for (int frame = 1; frame <= 10; ++frame)
    fs::last_write_time(fileOf(frame), now - std::chrono::hours(24 * (11 - frame)));
  store->cleanUp(std::uintmax_t{1} << 30, std::chrono::hours(24 * 5 + 1));
  EXPECT_FALSE(fs::exists(fileOf(5)));
  EXPECT_TRUE(fs::exists(fileOf(6)));
  std::uintmax_t room = fs::file_size(fileOf(10)) + fs::file_size(fileOf(9));
  store->cleanUp(room, std::chrono::hours(24 * 365));
  EXPECT_FALSE(fs::exists(fileOf(8)));
  EXPECT_TRUE(fs::exists(fileOf(9)));
  EXPECT_TRUE(fs::exists(folder / "frames" / "notes.txt")) << "what is not its own stays";
}

TEST(FrameStore, LiesBesideTheSceneIfItWantsToKeepFrames) {
  EXPECT_FALSE(frameStoreOf(busyScene(), "/somewhere/spray.comet"));
  const Scene keeps = with(busyScene(), {"scene.disk_cache=true"});
  EXPECT_FALSE(frameStoreOf(keeps, ""));
  EXPECT_EQ(frameStoreOf(keeps, "/somewhere/spray.comet")->folder(), "/somewhere/spray.comet.frames");
}

TEST(FrameStore, AFullDiskDoesNotStopTheRun) {
  const TemporaryFolder folder;
  std::ofstream(folder / "frames") << "a file where the folder should be";
  const auto store = std::make_shared<const FrameStore>(folder / "frames");
  SceneRun run(with(busyScene(), {"emitter.rate=50"}), test::roomyCache(store));
  EXPECT_TRUE(run.frame(5));
  EXPECT_THAT(run.keepOnDisk(), testing::HasSubstr("frames"));
}

}  // namespace
}  // namespace comet
