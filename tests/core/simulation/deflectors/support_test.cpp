#include "simulation/deflectors/support.h"

#include "simulation/deflectors/deflector_motion.h"
#include "support/scenes.h"

#include <glm/geometric.hpp>
#include <random>

namespace comet {
namespace {

using test::kGravity;

const Vec3d kDown(0, -kGravity, 0);

Support leaning(double degrees, double friction) {
  const double angle = degrees * kPi / 180;
  return {{-std::sin(angle), std::cos(angle), 0}, friction};
}

void expectNear(const Vec3d& a, const Vec3d& b, double tolerance) {
  EXPECT_LT(glm::length(a - b), tolerance) << a.x << ", " << a.y << ", " << a.z;
}

TEST(Support, ASlopeLeavesWhatPullsAlongIt) {
  const SupportedMotion over = supportedMotion({leaning(30, 0.4)}, 1, {{0, 0, 2}, kDown});
  const double sine = std::sin(kPi / 6), cosine = std::cos(kPi / 6);
  expectNear(over.motion.acceleration, -kGravity * sine * Vec3d(cosine, sine, 0), 1e-12);
  expectNear(over.motion.velocity, {0, 0, 2}, 1e-12);
  EXPECT_NEAR(over.friction, 0.4 * kGravity * cosine, 1e-12);
}

TEST(Support, AGroovePressesHarderThanTheGroundTheSteeperItIs) {
  // Both sides together bear the weight, so each is pressed by 1 / (2 cos of its rise) of it.
  for (const double rise : {20.0, 45.0, 70.0}) {
    const SupportedMotion over =
        supportedMotion({leaning(rise, 0.3), leaning(-rise, 0.3)}, 2, {{1, -1, 5}, kDown});
    expectNear(over.motion.acceleration, Vec3d(0.0), 1e-12);
    expectNear(over.motion.velocity, {0, 0, 5}, 1e-12);
    EXPECT_NEAR(over.friction, 0.3 * kGravity / std::cos(rise * kPi / 180), 1e-9);
  }
}

TEST(Support, ACornerHoldsStill) {
  const SupportedMotion over = supportedMotion({Support{{1, 0, 0}, 0}, {{0, 1, 0}, 0}, {{0, 0, 1}, 0}}, 3,
                                               {{-1, -2, -3}, {-3, -2, -1}});
  expectNear(over.motion.velocity, Vec3d(0.0), 1e-12);
  expectNear(over.motion.acceleration, Vec3d(0.0), 1e-12);
}

TEST(Support, AWallFromWhichItIsPulledBearsNothing) {
  const SupportedMotion over =
      supportedMotion({Support{{1, 0, 0}, 0.5}, {{0, 1, 0}, 0.5}}, 2, {{0, 0, 0}, {3, -kGravity, 0}});
  expectNear(over.motion.acceleration, {3, 0, 0}, 1e-12);
  EXPECT_NEAR(over.friction, 0.5 * kGravity, 1e-12);
}

TEST(Support, ThatIsThereTwiceBearsOnce) {
  const SupportedMotion over =
      supportedMotion({leaning(0, 0.5), leaning(0, 0.5), leaning(0, 0.5)}, 3, {{0, 0, 0}, kDown});
  expectNear(over.motion.acceleration, Vec3d(0.0), 1e-12);
  EXPECT_NEAR(over.friction, 0.5 * kGravity, 1e-12);
}

TEST(Support, NoneIsGoneIntoAndWhatIsLeftIsTheNearestToWhatPulled) {
  // The nearest that goes into none is the projection onto the cone of free ways: it is at right angles to
  // what was taken away, and no free way is nearer (Moreau 1962).
  std::mt19937 random(4);
  std::normal_distribution<double> number;
  const auto vector = [&] { return Vec3d(number(random), number(random), number(random)); };
  for (int round = 0; round < 2000; ++round) {
    std::array<Support, kMaxSupports> supports;
    const std::size_t count = 2 + static_cast<std::size_t>(round) % 2;
    Vec3d pull = vector();
    for (std::size_t i = 0; i < count; ++i) {
      supports[i] = {glm::normalize(vector()), 0};
      // As for what lies on them all.
      if (glm::dot(pull, supports[i].normal) > 0) supports[i].normal = -supports[i].normal;
    }
    const Vec3d left = supportedMotion(supports, count, {{}, pull}).motion.acceleration;
    for (std::size_t i = 0; i < count; ++i) ASSERT_GE(glm::dot(left, supports[i].normal), -1e-6);
    ASSERT_NEAR(glm::dot(left, pull - left), 0, 1e-6);
  }
}

TEST(DeflectorMotion, TellsHowWhatGoesOverItIsAccelerated) {
  const DeflectorMotion motion({1, 2, 3}, rotationFromDegrees({10, 20, 30}), {1.5, 2, 2},
                               rotationFromDegrees({-15, 40, 60}), 0.5);
  // Evenly over it, from here.
  const Vec3d from(2, -1, 0.5), own(0.7, 0.3, -1.1);
  const auto at = [&](double seconds) {
    return motion.at(seconds / 0.5).toScene(from + own * (seconds - 0.2));
  };
  constexpr double kTimeStep = 1e-4;
  const Pose pose = motion.at(0.2 / 0.5);
  const Vec3d over = pose.rotation * own;
  const Vec3d velocity = (at(0.2 + kTimeStep) - at(0.2 - kTimeStep)) / (2 * kTimeStep);
  const Vec3d acceleration =
      (at(0.2 + kTimeStep) - 2.0 * at(0.2) + at(0.2 - kTimeStep)) / (kTimeStep * kTimeStep);
  expectNear(motion.velocityAt(at(0.2), pose) + over, velocity, 1e-6);
  expectNear(motion.accelerationAt(at(0.2), pose, over), acceleration, 1e-5);
}

}  // namespace
}  // namespace comet
