// The motion kernel on its own, against a fine numerical solution of the same equation.
#include "simulation/motion/integrate.h"

#include <glm/geometric.hpp>
#include <memory>

namespace comet {
namespace {

constexpr std::size_t kParticles = 37;  // no multiple of any vector's length

struct State {
  double x, v;
};

// dv/dt = a + k (w - v) by the classical fourth-order Runge-Kutta method in many small steps.
State solveNumerically(State state, double a, double k, double w, double time) {
  constexpr int kSteps = 400;
  const double h = time / kSteps;
  const auto slope = [&](double v) { return a + k * (w - v); };
  for (int i = 0; i < kSteps; ++i) {
    const double v1 = state.v, k1 = slope(v1);
    const double v2 = state.v + 0.5 * h * k1, k2 = slope(v2);
    const double v3 = state.v + 0.5 * h * k2, k3 = slope(v3);
    const double v4 = state.v + h * k3, k4 = slope(v4);
    state.x += h / 6 * (v1 + 2 * v2 + 2 * v3 + v4);
    state.v += h / 6 * (k1 + 2 * k2 + 2 * k3 + k4);
  }
  return state;
}

std::unique_ptr<Chunk> someChunk() {
  auto chunk = std::make_unique<Chunk>();
  chunk->count = kParticles;
  for (std::size_t i = 0; i < kParticles; ++i)
    for (int axis = 0; axis < 3; ++axis) {
      chunk->fields[ParticleStore::PositionX + axis][i] =
          static_cast<float>(i) * 0.5F - static_cast<float>(axis);
      chunk->fields[ParticleStore::VelocityX + axis][i] =
          3.0F - 0.25F * static_cast<float>(i) + static_cast<float>(axis);
    }
  return chunk;
}

void expectSolved(const Chunk& before, const Chunk& after, const Forces& forces, const Durations& durations) {
  for (std::size_t i = 0; i < kParticles; ++i)
    for (int axis = 0; axis < 3; ++axis) {
      const State expected =
          solveNumerically({before.fields[ParticleStore::PositionX + axis][i],
                            before.fields[ParticleStore::VelocityX + axis][i]},
                           forces.acceleration.of(i)[axis] + forces.force.of(i)[axis],
                           forces.drag.of(i)[axis], forces.air.of(i)[axis], durations.of(i));
      const double scale = 1 + std::abs(expected.x) + std::abs(expected.v);
      EXPECT_NEAR(after.fields[ParticleStore::PositionX + axis][i], expected.x, 2e-6 * scale);
      EXPECT_NEAR(after.fields[ParticleStore::VelocityX + axis][i], expected.v, 2e-6 * scale);
    }
}

TEST(Integrate, SolvesTheEquationOfMotion) {
  const auto forces = std::make_unique<Forces>();
  forces->acceleration.all = {1.5, -9.81, 0.25};
  forces->air.all = {4, 0, -2};
  // From none over so little that its closed form loses its digits to a lot, and drag that drives.
  for (const double drag : {0.0, 1e-9, 1e-4, 0.02, 1.0, 30.0, -0.5})
    for (const double time : {0.0, 0.001, 1.0 / 24, 0.5}) {
      forces->drag.all = Vec3d(drag);
      const auto before = someChunk(), after = someChunk();
      integrate(*after, *forces, {time, nullptr});
      SCOPED_TRACE(testing::Message() << "drag " << drag << ", time " << time);
      expectSolved(*before, *after, *forces, {time, nullptr});
    }
}

TEST(Integrate, EachParticleMovesForItsOwnTime) {
  const auto forces = std::make_unique<Forces>();
  forces->acceleration.all = {0, -5, 1};
  forces->air.all = {2, 0, 0};
  forces->drag.all = Vec3d(0.8);
  float* own = forces->force.own.axes[1].use();
  std::vector<double> times(kParticles);
  for (std::size_t i = 0; i < kParticles; ++i) {
    times[i] = static_cast<double>(i) / kParticles / 10;
    own[i] = static_cast<float>(i) * 0.1F;
  }
  const auto before = someChunk(), after = someChunk();
  integrate(*after, *forces, {0.1, times.data()});
  expectSolved(*before, *after, *forces, {0.1, times.data()});
  EXPECT_EQ(after->fields[ParticleStore::PositionX][0], before->fields[ParticleStore::PositionX][0]);
}

TEST(Integrate, TwoHalfStepsAreOneWholeStep) {
  const auto forces = std::make_unique<Forces>();
  forces->acceleration.all = {0, -9.81, 0};
  forces->drag.all = Vec3d(1.3);
  const auto once = someChunk(), twice = someChunk();
  integrate(*once, *forces, {0.2, nullptr});
  for (int i = 0; i < 2; ++i) integrate(*twice, *forces, {0.1, nullptr});
  for (std::size_t i = 0; i < kParticles; ++i)
    EXPECT_NEAR(once->fields[ParticleStore::PositionY][i], twice->fields[ParticleStore::PositionY][i], 1e-5);
}

TEST(Integrate, TheMiddleIsHalfWay) {
  const auto chunk = someChunk();
  predictMiddle(*chunk, {0.5, nullptr});
  for (std::size_t i = 0; i < kParticles; ++i)
    EXPECT_FLOAT_EQ(chunk->middle[0][i], chunk->fields[ParticleStore::PositionX][i] +
                                             0.25F * chunk->fields[ParticleStore::VelocityX][i]);
}

TEST(Integrate, DragAndAirOfEachParticleAndAxisAreSolvedTheSameWay) {
  const auto forces = std::make_unique<Forces>();
  forces->acceleration.all = {0.5, -2, 0};
  forces->drag.all = {0.2, 1, 3};
  forces->air.all = {1, 0, 0};
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (std::size_t i = 0; i < kParticles; ++i) {
      const auto number = static_cast<float>(i + axis);
      forces->drag.own.axes[axis].use()[i] = 0.1F * number;
      forces->air.own.axes[axis].use()[i] = 1 - 0.2F * number;
      forces->acceleration.own.axes[axis].use()[i] = 0.3F * number;
      forces->force.own.axes[axis].use()[i] = -0.1F * number;
    }
  const auto before = someChunk(), after = someChunk();
  integrate(*after, *forces, {0.25, nullptr});
  expectSolved(*before, *after, *forces, {0.25, nullptr});
}

TEST(Integrate, ATurnAloneRunsAlongItsArcExactly) {
  const auto forces = std::make_unique<Forces>();
  forces->turn.all = {0, 0, 3};
  const auto before = someChunk(), after = someChunk();
  integrate(*after, *forces, {0.4, nullptr});
  for (std::size_t i = 0; i < kParticles; ++i) {
    // About z by 1.2 rad: the place turns about the middle of its circle.
    const Vec3d v = before->velocity(i), x = before->position(i);
    const Vec3d middle = x + Vec3d(-v.y, v.x, 0) / 3.0, out = x - middle;
    const double c = std::cos(1.2), s = std::sin(1.2);
    const Vec3d expected = middle + Vec3d(out.x * c - out.y * s, out.x * s + out.y * c, v.z * 0.4);
    EXPECT_LT(glm::length(after->position(i) - expected), 1e-5);
    EXPECT_NEAR(glm::length(after->velocity(i)), glm::length(v), 1e-5);
  }
}

TEST(Forces, StartEmptyInEachSubstep) {
  const auto forces = std::make_unique<Forces>();
  forces->force.own.axes[2].use()[5] = 7;
  forces->drag.all = Vec3d(3);
  forces->dragBySpeed.add(2, {1, nullptr}, 1);
  forces->stiffness.add(2, {1, nullptr}, 1);
  forces->clear();
  EXPECT_TRUE(forces->areSimple());
  EXPECT_FALSE(forces->force.own.isUsed());
  EXPECT_EQ(forces->drag.all, Vec3d(0.0));
  EXPECT_EQ(forces->force.own.axes[2].use()[5], 0) << "what an earlier substep left is still there";
}

}  // namespace
}  // namespace comet
