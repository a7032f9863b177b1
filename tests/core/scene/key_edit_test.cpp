#include "scene/key_edit.h"

#include "support/scenes.h"

namespace comet {
namespace {

using test::starting;
using test::with;

Scene keyed() {
  return with(
      starting(),
      {R"(emitter.rate={"keys":[{"frame":1,"value":0},{"frame":10,"value":5},{"frame":20,"value":9}]})"});
}

const KeyTrack& track(const Scene& scene) { return scene.findByName("emitter")->value("rate").keys; }

TEST(KeyEdit, AMovedKeyReplacesTheOneThatItComesOnto) {
  const Scene scene = keyed();
  KeySet moved;
  const Scene next = withKeysMoved(
      scene, scene.findByName("emitter")->id, {{"rate", 10}}, [](double frame) { return frame + 10.2; },
      moved);
  ASSERT_EQ(track(next).size(), 2U);
  EXPECT_EQ(track(next)[1].frame, 20) << "rounded to a whole frame";
  EXPECT_EQ(std::get<double>(track(next)[1].value), 5);
  EXPECT_EQ(moved, (KeySet{{"rate", 20}}));
}

TEST(KeyEdit, TheLastKeyLeavesItsValueBehind) {
  const Scene scene = keyed();
  const ItemId emitter = scene.findByName("emitter")->id;
  const Scene none = withoutKeys(scene, emitter, keysOf(*scene.find(emitter)));
  EXPECT_TRUE(track(none).empty());
  EXPECT_EQ(none.findByName("emitter")->number("rate", 50), 0);
}

TEST(KeyEdit, CopiesKeepTheirDistances) {
  const Scene scene = keyed();
  KeySet copied;
  const Scene next =
      withKeysCopied(scene, scene.findByName("emitter")->id, {{"rate", 10}, {"rate", 20}}, 31, copied);
  EXPECT_EQ(copied, (KeySet{{"rate", 31}, {"rate", 41}}));
  EXPECT_EQ(next.findByName("emitter")->number("rate", 41), 9);
}

TEST(KeyEdit, BecomingFreeKeepsTheCourseOfEveryNumber) {
  const Scene scene = with(
      starting(),
      {R"(emitter.position={"keys":[{"frame":1,"value":[0,5,1]},{"frame":9,"value":[4,0,1]},{"frame":21,"value":[9,2,0]}]})"});
  const ItemId emitter = scene.findByName("emitter")->id;
  const Scene free = withInterpolation(scene, emitter, {{"position", 1}, {"position", 9}, {"position", 21}},
                                       Interpolation::Bezier);
  for (double frame = 1; frame <= 21; frame += 0.5) {
    const Vec3d was = scene.find(emitter)->vector("position", frame),
                is = free.find(emitter)->vector("position", frame);
    for (int axis = 0; axis < 3; ++axis) EXPECT_NEAR(is[axis], was[axis], 1e-9) << frame;
  }
}

TEST(KeyEdit, AFreeCourseIsHeldWithinItsParametersRange) {
  const Scene scene = with(
      starting(),
      {R"(emitter.lifetime={"keys":[{"frame":1,"value":1,"to_next":"bezier","handle_after":[5,-40]},{"frame":11,"value":1,"handle_before":[-5,-40]}]})"});
  EXPECT_GT(scene.findByName("emitter")->number("lifetime", 6), 0);
}

}  // namespace
}  // namespace comet
