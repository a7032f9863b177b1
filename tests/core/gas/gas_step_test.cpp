#include "gas/gas_step.h"

#include "base/parallel.h"
#include "core/gas/gas_boxes.h"
#include "gas/advect.h"
#include "gas/gas_turbulence.h"

#include <limits>

namespace comet {
namespace {

using test::ballIn;
using test::closedBox;
using test::largestOf;
using test::openAbove;
using test::sumOf;

GasStepReport step(const GasGrid& grid, PressureSolver& solver, const GasMotion& motion, double seconds,
                   GasState& state) {
  return stepGas(grid, solver, motion, seconds, {}, {}, state, Progress());
}

// act(axis, index, position) for each face.
template <typename Act>
void forFaces(const GasGrid& grid, const Act& act) {
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = grid.faces(axis);
    Vec3d middle(0.5);
    middle[static_cast<int>(axis)] = 0;
    for (std::size_t z = 0; z < faces.counts[2]; ++z)
      for (std::size_t y = 0; y < faces.counts[1]; ++y)
        for (std::size_t x = 0; x < faces.counts[0]; ++x)
          act(axis, faces.index(x, y, z), grid.corner + grid.voxel * (Vec3d(x, y, z) + middle));
  }
}

template <typename Act>
void forVoxels(const GasGrid& grid, const Act& act) {
  const GridLayout cells = grid.cells();
  for (std::size_t z = 0; z < cells.counts[2]; ++z)
    for (std::size_t y = 0; y < cells.counts[1]; ++y)
      for (std::size_t x = 0; x < cells.counts[0]; ++x)
        act(cells.index(x, y, z), grid.corner + grid.voxel * (Vec3d(x, y, z) + 0.5));
}

// The four vortices of Taylor and Green (1937) in a box of edge 1, which stand still without viscosity.
Vec3d taylorGreen(const Vec3d& at) {
  return {std::sin(kPi * at.x) * std::cos(kPi * at.y), -std::cos(kPi * at.x) * std::sin(kPi * at.y), 0};
}

// The mean error of the velocity after half a second, in which the vortices turn by about a quarter.
double taylorGreenError(std::size_t count) {
  const GasGrid grid = closedBox(count, count, 1, 1.0 / static_cast<double>(count));
  PressureSolver solver(grid, wallsOnly(grid));
  GasState state = emptyGas(grid);
  forFaces(grid, [&](std::size_t axis, std::size_t i, const Vec3d& at) {
    state.velocity[axis][i] = static_cast<float>(taylorGreen(at)[static_cast<int>(axis)]);
  });
  GasMotion motion;
  motion.tolerance = 1e-5;
  const int steps = static_cast<int>(count) / 2;
  for (int i = 0; i < steps; ++i) step(grid, solver, motion, 0.5 / steps, state);
  double sum = 0;
  std::size_t faces = 0;
  forFaces(grid, [&](std::size_t axis, std::size_t i, const Vec3d& at) {
    if (axis == 2) return;
    sum += std::abs(static_cast<double>(state.velocity[axis][i]) - taylorGreen(at)[static_cast<int>(axis)]);
    ++faces;
  });
  return sum / static_cast<double>(faces);
}

TEST(Gas, TaylorGreenVorticesKeepTurning) {
  const double coarse = taylorGreenError(16), middle = taylorGreenError(32), fine = taylorGreenError(64);
  EXPECT_LT(fine, 0.005);
  // Better than first order: the error falls to less than 0.4 when voxels are half as long.
  EXPECT_LT(middle, 0.4 * coarse) << coarse << ", " << middle << ", " << fine;
  EXPECT_LT(fine, 0.4 * middle) << coarse << ", " << middle << ", " << fine;
}

// A ball of smoke that turns about the middle of the box, a quarter around.
double carriedError(std::size_t count) {
  const GasGrid grid = closedBox(count, count, 1, 1.0 / static_cast<double>(count));
  GasState state = emptyGas(grid);
  const auto smoke = [](const Vec3d& at, const Vec3d& middle) {
    return std::exp(-40 * glm::dot(at - middle, at - middle));
  };
  forFaces(grid, [&](std::size_t axis, std::size_t i, const Vec3d& at) {
    const Vec3d velocity(-(at.y - 0.5), at.x - 0.5, 0);
    state.velocity[axis][i] = static_cast<float>(velocity[static_cast<int>(axis)]);
  });
  forVoxels(grid, [&](std::size_t i, const Vec3d& at) {
    state.density[i] = static_cast<float>(smoke(Vec3d(at.x, at.y, 0), Vec3d(0.7, 0.5, 0)));
  });
  const GasVelocity velocity = state.velocity;
  const int steps = static_cast<int>(count);
  for (int i = 0; i < steps; ++i) {
    advect(grid, velocity, 0.5 * kPi / steps, state);
  }
  double worst = 0;
  forVoxels(grid, [&](std::size_t i, const Vec3d& at) {
    worst = std::max(worst, std::abs(static_cast<double>(state.density[i]) -
                                     smoke(Vec3d(at.x, at.y, 0), Vec3d(0.5, 0.7, 0))));
  });
  return worst;
}

TEST(Gas, CarriesSmokeToWhereItGoes) {
  const double coarse = carriedError(32), fine = carriedError(64);
  EXPECT_LT(coarse, 0.08);
  EXPECT_LT(fine, 0.45 * coarse) << coarse << ", " << fine;
}

// However it thins out meanwhile.
TEST(Gas, GetsOlderWithTime) {
  const GasGrid grid = closedBox(8, 8, 8);
  PressureSolver solver(grid, wallsOnly(grid));
  GasState state = emptyGas(grid, {.age = true});
  forVoxels(grid, [&](std::size_t i, const Vec3d& at) {
    state.density[i] = 2;
    state.age[i] = at.x < 4 ? 0.0F : 2.0F * 0.5F;
  });
  GasMotion motion;
  motion.dissipation = 1;
  for (int i = 0; i < 4; ++i) step(grid, solver, motion, 0.25, state);
  forVoxels(grid, [&](std::size_t i, const Vec3d& at) {
    EXPECT_NEAR(state.age[i] / state.density[i], at.x < 4 ? 1.0 : 1.5, 1e-4);
  });
}

// By how much it is turned, root mean square, and that it has become no faster.
double turnedBy(const GasGrid& grid, const Vec3d& velocity, double seconds) {
  GasVelocity air = emptyGas(grid).velocity;
  forFaces(grid, [&](std::size_t axis, std::size_t i, const Vec3d&) {
    air[axis][i] = static_cast<float>(velocity[static_cast<int>(axis)]);
  });
  addTurbulence(grid, {.scale = 4, .octaves = 1, .strength = 3, .seed = 7}, seconds, air);
  double squares = 0, energy = 0;
  forVoxels(grid, [&](std::size_t, const Vec3d& at) {
    const Vec3d now = velocityAt(grid, air, at), added = now - velocity;
    squares += glm::dot(added, added);
    energy += glm::dot(now, now);
  });
  const auto voxels = static_cast<double>(grid.cells().size());
  EXPECT_LE(energy, voxels * glm::dot(velocity, velocity));
  return std::sqrt(squares / voxels);
}

TEST(Gas, TurbulenceTurnsByHowFastTheGasIs) {
  const GasGrid grid = closedBox(32, 32, 32, 0.5);
  // The noise is 3 long on average, root mean square; two of its three components turn.
  EXPECT_NEAR(turnedBy(grid, {2, 0, 0}, 0.02), std::sqrt(2.0 / 3) * 3 * 2 * 0.02, 0.02);
  EXPECT_NEAR(turnedBy(grid, {-4, 0, 0}, 0.02), 2 * turnedBy(grid, {2, 0, 0}, 0.02), 0.01);
  EXPECT_EQ(turnedBy(grid, {0, 0, 0}, 0.02), 0);
}

TEST(Gas, NeverOvershoots) {
  const GasGrid grid = closedBox(24, 24, 24, 0.1);
  PressureSolver solver(grid, wallsOnly(grid));
  GasState state = emptyGas(grid);
  state.velocity = test::randomVelocity(grid);
  Progress progress;
  solver.project(state.velocity, {}, 1e-4, 40, progress);
  forVoxels(grid, [&](std::size_t i, const Vec3d& at) { state.density[i] = at.x < 1.2 ? 1.0F : 0.0F; });
  GasGrid open = grid;  // without the correction of the total
  open.open[1][1] = true;
  for (int i = 0; i < 10; ++i) {
    const GasVelocity flow = state.velocity;
    advect(open, flow, 0.05, state);
    EXPECT_LE(*std::max_element(state.density.begin(), state.density.end()), 1.0F);
    EXPECT_GE(*std::min_element(state.density.begin(), state.density.end()), 0.0F);
  }
}

TEST(Gas, AtRestStaysAtRest) {
  // Heavy gas in layers: its weight is borne by pressure alone.
  const GasGrid grid = closedBox(16, 20, 12, 0.1);
  PressureSolver solver(grid, ballIn(grid, Vec3d(0.8, 1, 0.6), 0.33));
  GasState state = emptyGas(grid);
  forVoxels(grid, [&](std::size_t i, const Vec3d& at) {
    state.density[i] = static_cast<float>(2 - at.y);
    state.temperature[i] = static_cast<float>(at.y * at.y);
  });
  GasMotion motion;
  motion.weight = 9.81;
  motion.buoyancy = 3;
  motion.tolerance = 1e-6;
  for (int i = 0; i < 5; ++i) step(grid, solver, motion, 1.0 / 24, state);
  // Free fall would be 1 unit/s by then.
  EXPECT_LT(largestSpeed(state.velocity), 2e-3);
}

TEST(Gas, ClosedBoxKeepsAllDensity) {
  const GasGrid grid = closedBox(24, 32, 24, 0.1);
  PressureSolver solver(grid, ballIn(grid, Vec3d(1.2, 2, 1.2), 0.4));
  GasState state = emptyGas(grid);
  forVoxels(grid, [&](std::size_t i, const Vec3d& at) {
    if (glm::length(at - Vec3d(1.1, 0.6, 1.2)) < 0.4) state.density[i] = state.temperature[i] = 1;
  });
  const double before = sumOf(state.density);
  GasMotion motion;
  motion.buoyancy = 4;
  motion.vorticity = 0.3;
  for (int frame = 0; frame < 200; ++frame) {
    const GasStepReport report = step(grid, solver, motion, 1.0 / 24, state);
    ASSERT_TRUE(report.isReached) << frame;
  }
  EXPECT_NEAR(sumOf(state.density), before, 0.01 * before);
  double height = 0;
  forVoxels(grid,
            [&](std::size_t i, const Vec3d& at) { height += static_cast<double>(state.density[i]) * at.y; });
  EXPECT_GT(height / before, 1.5) << "it has risen past the ball";
}

TEST(Gas, SmokeFadesAndCoolsAtItsRate) {
  const GasGrid grid = closedBox(8, 8, 8);
  PressureSolver solver(grid, wallsOnly(grid));
  GasState state = emptyGas(grid);
  std::fill(state.density.begin(), state.density.end(), 2.0F);
  std::fill(state.temperature.begin(), state.temperature.end(), 3.0F);
  GasMotion motion;
  motion.buoyancy = 0;
  motion.dissipation = 0.7;
  motion.cooling = 1.3;
  for (int i = 0; i < 24; ++i) step(grid, solver, motion, 1.0 / 24, state);
  EXPECT_NEAR(state.density[100], 2 * std::exp(-0.7), 1e-4);
  EXPECT_NEAR(state.temperature[100], 3 * std::exp(-1.3), 1e-4);
}

double energyOf(const GasVelocity& velocity) {
  double energy = 0;
  for (const GasChannel& across : velocity)
    for (const float v : across) energy += static_cast<double>(v) * static_cast<double>(v);
  return energy;
}

// Vortices of few voxels lose much to the grid.
TEST(Gas, ConfinementGivesBackWhatTheGridTakesAndNoMore) {
  const GasGrid grid = closedBox(48, 48, 1, 1.0 / 48);
  PressureSolver solver(grid, wallsOnly(grid));
  GasVelocity swirls = emptyGas(grid).velocity;
  forFaces(grid, [&](std::size_t axis, std::size_t i, const Vec3d& at) {
    swirls[axis][i] = static_cast<float>(taylorGreen(8.0 * at)[static_cast<int>(axis)]);
  });
  const auto energyAfter = [&](double vorticity) {
    GasState state = emptyGas(grid);
    state.velocity = swirls;
    GasMotion motion;
    motion.vorticity = vorticity;
    for (int i = 0; i < 24; ++i) step(grid, solver, motion, 1.0 / 24, state);
    return energyOf(state.velocity);
  };
  const double none = energyAfter(0), some = energyAfter(2), much = energyAfter(1000);
  EXPECT_LT(none, 0.8 * energyOf(swirls));
  EXPECT_GT(some, 1.05 * none);
  EXPECT_GT(much, 0.999 * some);
  EXPECT_LT(much, energyOf(swirls)) << "however strong it is";
}

TEST(Gas, FastGasGoesInShorterSteps) {
  const GasGrid grid = openAbove(12, 12, 12, 0.1);
  PressureSolver solver(grid, wallsOnly(grid));
  GasState state = emptyGas(grid);
  state.velocity[1][grid.faces(1).index(6, 6, 6)] = 30;
  EXPECT_EQ(step(grid, solver, {}, 1.0 / 24, state).halves, 4) << "12.5 voxels, five at a time";
}

TEST(Gas, WhatIsNoNumberIsResetAndCounted) {
  const GasGrid grid = openAbove(12, 12, 12, 0.1);
  PressureSolver solver(grid, wallsOnly(grid));
  GasState state = emptyGas(grid);
  state.density[5] = std::numeric_limits<float>::infinity();
  state.velocity[0][7] = std::numeric_limits<float>::quiet_NaN();
  EXPECT_EQ(step(grid, solver, {}, 1.0 / 24, state).resetVoxels, 2U);
  EXPECT_TRUE(std::isfinite(sumOf(state.density)));
  EXPECT_TRUE(std::isfinite(sumOf(state.velocity[0])));
}

TEST(Gas, IsTheSameToTheBitWithAnyNumberOfThreads) {
  const auto after = [](int threads) {
    const ThreadLimit limit(threads);
    const GasGrid grid = openAbove(20, 28, 17, 0.1);
    PressureSolver solver(grid, ballIn(grid, Vec3d(1, 1.6, 0.8), 0.4));
    GasState state = emptyGas(grid);
    GasMotion motion;
    motion.buoyancy = 5;
    motion.vorticity = 0.5;
    for (int frame = 0; frame < 6; ++frame) {
      forVoxels(grid, [&](std::size_t i, const Vec3d& at) {
        if (glm::length(at - Vec3d(1, 0.4, 0.9)) < 0.3) state.density[i] = state.temperature[i] = 1;
      });
      step(grid, solver, motion, 1.0 / 24, state);
    }
    return state;
  };
  const GasState one = after(1), two = after(2);
  EXPECT_EQ(one.density, two.density);
  EXPECT_EQ(one.velocity, two.velocity);
  EXPECT_GT(sumOf(one.density), 10);
}

TEST(Gas, WhatComesInThroughAnOpenWallIsClearAir) {
  GasGrid grid = openAbove(12, 12, 12, 0.1);
  grid.open[1][0] = true;
  GasState state = emptyGas(grid);
  std::fill(state.density.begin(), state.density.end(), 1.0F);
  std::fill(state.velocity[1].begin(), state.velocity[1].end(), 1.2F);
  const GasVelocity flow = state.velocity;
  advect(grid, flow, 0.25, state);
  // Three voxels further up, and clear air behind.
  const GridLayout cells = grid.cells();
  EXPECT_EQ(state.density[cells.index(5, 1, 5)], 0.0F);
  EXPECT_EQ(state.density[cells.index(5, 5, 5)], 1.0F);
}

TEST(Gas, IsReadBetweenItsNodes) {
  const GasGrid grid{{6, 5, 4}, 0.5, Vec3d(-1, 2, 0.3), {}};
  GasState state = emptyGas(grid);
  const auto linear = [](const Vec3d& at) { return 1 + 2 * at.x - 3 * at.y + 0.5 * at.z; };
  forVoxels(grid, [&](std::size_t i, const Vec3d& at) { state.density[i] = static_cast<float>(linear(at)); });
  forFaces(grid, [&](std::size_t axis, std::size_t i, const Vec3d& at) {
    state.velocity[axis][i] = static_cast<float>(linear(at) * static_cast<double>(axis + 1));
  });
  const Vec3d at(0.37, 3.11, 1.2);
  EXPECT_NEAR(valueAt(grid, state.density, at), linear(at), 1e-5);
  const Vec3d velocity = velocityAt(grid, state.velocity, at);
  for (int axis = 0; axis < 3; ++axis) EXPECT_NEAR(velocity[axis], linear(at) * (axis + 1), 1e-4);
}

TEST(GasStep, ColorsGoWhereTheirGasGoes) {
  // Two colours that share all the gas stay complements of each other, and in a closed box none is lost.
  const GasGrid grid = test::closedBox(24, 24, 24, 0.1);
  GasState state = emptyGas(grid, {.color = true});
  const GridLayout cells = grid.cells();
  for (std::size_t i = 0; i < cells.size(); ++i) {
    const Vec3d at = grid.middleOf(i);
    if (glm::length(at - Vec3d(1.2, 0.8, 1.2)) > 0.5) continue;
    state.density[i] = state.temperature[i] = 1;
    state.color[at.x < 1.2 ? 0 : 1][i] = 1;
  }
  const double red = test::sumOf(state.color[0]), green = test::sumOf(state.color[1]);
  PressureSolver solver(grid, wallsOnly(grid));
  GasMotion motion;
  motion.buoyancy = 8;
  for (int i = 0; i < 12; ++i) stepGas(grid, solver, motion, 1.0 / 24, {}, {}, state, Progress());
  EXPECT_NEAR(test::sumOf(state.color[0]), red, 1e-3 * red);
  EXPECT_NEAR(test::sumOf(state.color[1]), green, 1e-3 * green);
  EXPECT_EQ(test::largestOf(state.color[2]), 0);
  double wrong = 0;
  for (std::size_t i = 0; i < cells.size(); ++i)
    wrong += std::abs(static_cast<double>(state.color[0][i] + state.color[1][i] - state.density[i]));
  EXPECT_LT(wrong, 0.03 * (red + green)) << "up to what limits do to each";
}

TEST(GasStep, FlatGasDoesWhatABoxOfAnyDepthDoes) {
  // Between closed walls nothing moves in depth, so that a deep box of the same in every plane is flat gas.
  // It is not so deep that short waves along its depth are damped.
  const auto run = [](std::size_t planes) {
    const GasGrid grid = test::openAbove(24, 32, planes, 0.1);
    GasState state = emptyGas(grid);
    const GridLayout cells = grid.cells();
    for (std::size_t i = 0; i < cells.size(); ++i) {
      const Vec3d at = grid.middleOf(i);
      if (std::hypot(at.x - 1.1, at.y - 0.6) < 0.3) state.density[i] = state.temperature[i] = 1;
    }
    PressureSolver solver(grid, wallsOnly(grid));
    GasMotion motion;
    motion.buoyancy = 6;
    motion.vorticity = 0.4;
    motion.tolerance = 1e-6;
    for (int i = 0; i < 10; ++i) stepGas(grid, solver, motion, 1.0 / 24, {}, {}, state, Progress());
    state.density.resize(cells.plane());  // the first plane
    return state.density;
  };
  const GasChannel flat = run(1), deep = run(4);
  EXPECT_GT(test::largestOf(flat), 0.3);
  for (std::size_t i = 0; i < flat.size(); ++i) ASSERT_NEAR(flat[i], deep[i], 2e-3) << i;
}

}  // namespace
}  // namespace comet
