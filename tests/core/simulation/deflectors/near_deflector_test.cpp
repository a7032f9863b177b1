#include "simulation/deflectors/near_deflector.h"

#include "support/scenes.h"

#include <glm/geometric.hpp>
#include <random>

namespace comet {
namespace {

using test::withInfluence;

// A deflector that moves and turns in the step to frame 2, which lasts a twenty-fourth of a second.
Deflector deflectorOf(const std::string& shape, bool insideOut, bool moves) {
  const Scene scene = withInfluence(
      test::starting(), "deflector",
      {"deflector.shape=" + shape, insideOut ? "deflector.inside_out=true" : "deflector.inside_out=false",
       "deflector.size=2,3,4", "deflector.radius=1.5", "deflector.height=3",
       moves
           ? R"(deflector.position={"keys":[{"frame":1,"value":[1,0,0],"to_next":"linear"},{"frame":2,"value":[1.5,0.5,0]}]})"
           : "deflector.position=1,0,0",
       moves
           ? R"(deflector.rotation={"keys":[{"frame":1,"value":[0,20,0],"to_next":"linear"},{"frame":2,"value":[10,0,30]}]})"
           : "deflector.rotation=10,20,30"});
  FrameTime time;
  time.frame = 2;
  time.length = 1.0 / 24;
  return Deflector(*scene.findByName("deflector"), time);
}

// Whether the deflector comes as near as `clearance` to a way, tried at many moments.
bool isMet(const Deflector& deflector, const Vec3d& from, const Vec3d& velocity, const Vec3d& acceleration,
           double clearance) {
  constexpr int kMoments = 200;
  for (int i = 0; i <= kMoments; ++i) {
    const double fraction = static_cast<double>(i) / kMoments, t = fraction / 24;
    const Vec3d at = from + velocity * t + acceleration * (0.5 * t * t);
    if (deflector.shape().at(deflector.motion().at(fraction).toOwn(at)).distance < clearance) return true;
  }
  return false;
}

TEST(NearDeflector, LeavesOutNoneThatMeetsIt) {
  std::mt19937 random(9);
  std::uniform_real_distribution<float> place(-6, 6), speed(-12, 12);
  constexpr std::size_t kCount = 400;
  int met = 0, marked = 0, all = 0;
  for (const char* shape : {"plane", "rectangle", "disc", "box", "sphere", "cylinder", "capsule"})
    for (const bool insideOut : {false, true})
      for (const bool moves : {false, true}) {
        const Deflector deflector = deflectorOf(shape, insideOut, moves);
        ChunkArray start[3], middle[3], range;
        std::vector<Vec3d> velocities, accelerations;
        for (std::size_t i = 0; i < kCount; ++i) {
          for (ChunkArray& axis : start) axis[i] = place(random);
          velocities.emplace_back(speed(random), speed(random), speed(random));
          accelerations.emplace_back(speed(random), speed(random), speed(random));
          const Vec3d bulge = accelerations[i] / (2.0 * 24 * 24), whole = velocities[i] / 24.0 + bulge;
          for (int axis = 0; axis < 3; ++axis)
            middle[axis][i] = start[axis][i] + static_cast<float>(0.5 * whole[axis]);
          range[i] = static_cast<float>(0.5 * glm::length(whole) + 0.25 * glm::length(bulge));
        }
        DeflectorMasks masks{};
        markNear(deflector, 0.01, 0.5, 1.0 / 24,
                 {{middle[0].data(), middle[1].data(), middle[2].data()}, range.data()}, kCount, 4, masks);
        for (std::size_t i = 0; i < kCount; ++i) {
          const bool meets = isMet(deflector, {start[0][i], start[1][i], start[2][i]}, velocities[i],
                                   accelerations[i], 0.01);
          if (meets) {
            ASSERT_EQ(masks[i], 4U) << shape << (insideOut ? " inside out" : "") << (moves ? ", moving" : "");
          }
          met += meets ? 1 : 0;
          marked += masks[i] != 0 ? 1 : 0;
          ++all;
        }
      }
  EXPECT_GT(met, 1000);
  EXPECT_LT(marked - met, (all - met) * 6 / 10) << "and many of the others are left out";
}

}  // namespace
}  // namespace comet
