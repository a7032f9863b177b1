// Pictures that are kept are those that would be drawn.
#include "render/picture_keys.h"

#include "cache/scene_run.h"
#include "render/screen_picture.h"
#include "render/trail.h"
#include "scene_files.h"
#include "simulation/gas/gas_kind.h"
#include "support/edits.h"
#include "support/scenes.h"

#include <map>
#include <random>
#include <set>

namespace comet {
namespace {

constexpr PictureSize kSmall{64, 36};

// A scene at a frame as a viewport sees it through the scene's camera.
class KeyedPicture {
 public:
  KeyedPicture(const Scene& scene, int frame, const std::shared_ptr<FrameCache>& cache)
      : keys_(scene), run_(atPreviewResolution(scene), cache), frame_(frame) {}

  Digest states() { return run_.key(frame_); }
  Digest key() { return keyWith(states()); }
  // As if its particles were where others are.
  Digest keyWith(const Digest& states) {
    return keys_.of(frame_, states, past().size(), {camera(), kSmall, true});
  }
  std::vector<std::uint32_t> pixels() {
    static Renderer renderer;
    static StampCache backdrops;
    const SceneFramePtr frame = run_.frame(frame_);
    return drawForScreen(renderer, backdrops,
                         {{keys_.scene(), *frame, past(), camera(), kSmall, 1, RenderPurpose::Viewport},
                          finishOf(keys_.scene().camera(), frame_)},
                         1)
        .pixels;
  }

 private:
  Camera camera() const { return cameraOf(keys_.scene(), frame_); }
  Past past() { return run_.past(frame_, pastNeeded(keys_.scene(), frame_)); }

  PictureKeys keys_;
  SceneRun run_;
  int frame_;
};

// The parameter with the value that it has, and another one at a frame beside.
ParamValue keyedBeside(const Item& item, std::size_t index, int frame, int beside) {
  const ParamSpec& spec = item.kind->params()[index];
  ParamValue value = item.values[index];
  Value other = value.base;
  if (auto* number = std::get_if<double>(&other)) *number = *number == spec.max ? spec.min : spec.max;
  if (auto* vector = std::get_if<Vec3d>(&other)) *vector += Vec3d(1);
  if (auto* flag = std::get_if<bool>(&other)) *flag = !*flag;
  const Value now = value.at(frame);
  value.keys = withKey(withKey({}, {static_cast<double>(frame), now}), {static_cast<double>(beside), other});
  return value;
}

// Of every parameter of every kind that the demos use, another constant and keys beside the frame: what has
// the key of the picture before shows that picture.
class PictureKeysOfDemo : public ::testing::TestWithParam<const char*> {
 protected:
  static constexpr int kFrame = 8;

  void expectNothingStale(const Item& item, std::size_t index, const ParamValue& value) {
    const ParamSpec& spec = item.kind->params()[index];
    const Scene scene = before_.withParam(item.id, spec.id, nearestValid(spec, value));
    KeyedPicture after(scene, kFrame, cache_);
    if (after.keyWith(states_) != key_) return void(++told_);
    if (spec.affectedPart == Affects::Simulation && after.states() != states_) return void(++told_);
    ++kept_;
    ASSERT_EQ(after.pixels(), pixels_) << item.kind->id() << "." << spec.id;
  }

  Scene before_;
  Digest states_, key_;
  std::vector<std::uint32_t> pixels_;
  std::shared_ptr<FrameCache> cache_ = test::roomyCache();
  int told_ = 0, kept_ = 0;
};

TEST_P(PictureKeysOfDemo, FindNoStalePicture) {
  before_ = openDemo(GetParam());
  KeyedPicture seen(before_, kFrame, cache_);
  states_ = seen.states();
  key_ = seen.key();
  pixels_ = seen.pixels();
  std::mt19937 random(25);
  for (const Scene::ItemPtr& item : before_.items())
    for (std::size_t i = 0; i < item->values.size(); ++i) {
      const ParamSpec& spec = item->kind->params()[i];
      if (spec.id == "first_frame" || spec.id == "last_frame" || spec.id == "frame_rate") continue;
      expectNothingStale(*item, i, test::anotherValue(spec, item->values[i], 2 * kFrame, random));
      if (!spec.canBeKeyed || spec.affectedPart == Affects::Simulation || !item->applies(i)) continue;
      for (const int beside : {kFrame - 1, kFrame + 1})
        expectNothingStale(*item, i, keyedBeside(*item, i, kFrame, beside));
    }
  EXPECT_GT(told_, 100);
  EXPECT_GT(kept_, 20);
}

// Sprites of all kinds, meshes, cards, trails, links, children, lights, gas, fire, a deflector that is seen.
INSTANTIATE_TEST_SUITE_P(Demos, PictureKeysOfDemo,
                         ::testing::Values("chain_grit", "deck_drizzle", "dew_net", "ferry_torch",
                                           "gulls_landing", "hull_splinters", "kettle_on_deck", "lamp_soot",
                                           "lantern_moths", "reed_fluff", "ticket_scatter", "wake_ribbon"),
                         [](const auto& demo) { return std::string(demo.param); });

TEST(PictureKeys, AfterRandomEditsAndUndoFindWhatWouldBeDrawn) {
  constexpr int kFrame = 6, kSteps = 120;
  const auto cache = test::roomyCache();
  std::mt19937 random(8);
  std::vector<Scene> history{test::with(test::busyScene(), {"emitter.rate=300", "scene.substeps=1"})};
  std::map<std::string, std::vector<std::uint32_t>> drawn;
  std::set<std::vector<std::uint32_t>> pictures;
  int found = 0;
  for (int step = 0; step < kSteps; ++step) {
    const bool undoes = step % 3 == 2 && history.size() > 1;
    if (undoes)
      history.pop_back();
    else
      history.push_back(test::edited(history.back(), kFrame, random));
    KeyedPicture seen(history.back(), kFrame, cache);
    const auto [kept, isNew] = drawn.emplace(seen.key().hex(), seen.pixels());
    pictures.insert(kept->second);
    if (isNew) continue;
    ++found;
    ASSERT_EQ(kept->second, seen.pixels()) << "step " << step;
  }
  EXPECT_GE(found, kSteps / 3) << "what is undone is found again";
  EXPECT_GT(pictures.size(), 15U);
}

}  // namespace
}  // namespace comet
