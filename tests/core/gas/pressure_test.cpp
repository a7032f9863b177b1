#include "gas/pressure.h"

#include "base/parallel.h"
#include "core/gas/gas_boxes.h"

namespace comet {
namespace {

using test::ballIn;
using test::closedBox;
using test::largestOf;
using test::openAbove;
using test::randomVelocity;

constexpr double kTolerance = 1e-4;
constexpr int kMaxRounds = 60;

PressureResult project(PressureSolver& solver, GasVelocity& velocity, const GasChannel& expansion = {}) {
  return solver.project(velocity, expansion, kTolerance, kMaxRounds, Progress());
}

TEST(Multigrid, IsTheSameLinearAndSymmetricFunctionEachTime) {
  for (const GasGrid& grid : {openAbove(17, 24, 9), closedBox(16, 16, 1)}) {
    const GasSolids solids = ballIn(grid, Vec3d(8, 10, 0.5), 4.3);
    PressureSolver unused(grid, solids);
    PressureLevel level = emptyLevel(grid.counts, {1, 1, 1});
    const RandomSource random(5);
    for (std::size_t z = 1; z <= grid.counts[2]; ++z)
      for (std::size_t y = 1; y <= grid.counts[1]; ++y)
        for (std::size_t x = 1; x <= grid.counts[0]; ++x) {
          const std::size_t i = level.layout.index(x, y, z);
          level.cells[i] = PressureCell::Gas;
          if (x > 1) level.open[0][i] = random.unit(i, Draw::ShapeA) < 0.9 ? 1.0F : 0.3F;
          if (y > 1) level.open[1][i] = 1;
          if (z > 1) level.open[2][i] = 1;
        }
    // Open at the lower end of y.
    for (std::size_t z = 1; z <= grid.counts[2]; ++z)
      for (std::size_t x = 1; x <= grid.counts[0]; ++x) {
        level.cells[level.layout.index(x, 0, z)] = PressureCell::Air;
        level.open[1][level.layout.index(x, 1, z)] = 1;
      }
    completeLevel(level);
    Multigrid multigrid(std::make_shared<const std::vector<MultigridLevel>>(multigridLevels(level)));
    LevelNumbers a(level.layout.size(), 0.0F), b = a, ofA = a, ofB = a, twice = a;
    for (std::size_t i = 0; i < a.size(); ++i)
      if (level.hasGas(i)) {
        a[i] = static_cast<float>(random.signedUnit(i, Draw::ShapeB));
        b[i] = static_cast<float>(random.signedUnit(i, Draw::ShapeC));
      }
    multigrid.precondition(a, ofA);
    multigrid.precondition(b, ofB);
    double ab = 0, ba = 0, aa = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
      ab += static_cast<double>(a[i]) * static_cast<double>(ofB[i]);
      ba += static_cast<double>(b[i]) * static_cast<double>(ofA[i]);
      aa += static_cast<double>(a[i]) * static_cast<double>(ofA[i]);
    }
    EXPECT_GT(aa, 0);
    EXPECT_NEAR(ab, ba, 1e-5 * aa);
    multigrid.precondition(a, twice);
    EXPECT_EQ(twice, ofA);
  }
}

TEST(Pressure, LeavesNoDivergence) {
  struct Case {
    GasGrid grid;
    double radius;
  };
  for (const Case& each : {Case{openAbove(32, 32, 32, 0.1), 0.7}, Case{closedBox(24, 32, 20, 0.1), 0.6},
                           Case{openAbove(33, 21, 27, 0.1), 0.55}, Case{closedBox(7, 5, 9, 0.1), 0},
                           Case{openAbove(64, 64, 1, 0.1), 1}, Case{closedBox(48, 31, 1, 0.1), 0}}) {
    const GasGrid& grid = each.grid;
    const Vec3d middle = 0.5 * grid.voxel * Vec3d(grid.counts[0], grid.counts[1], grid.counts[2]);
    const GasSolids solids = each.radius > 0 ? ballIn(grid, middle, each.radius) : wallsOnly(grid);
    PressureSolver solver(grid, solids);
    GasVelocity velocity = randomVelocity(grid);
    const double before = largestOf(solver.divergence(velocity));
    const PressureResult result = project(solver, velocity);
    EXPECT_TRUE(result.isReached) << result.rounds;
    EXPECT_LE(result.rounds, 20) << grid.counts[0] << " × " << grid.counts[1] << " × " << grid.counts[2];
    EXPECT_LE(largestOf(solver.divergence(velocity)), 1.5 * kTolerance * before);
    for (std::size_t axis = 0; axis < 3; ++axis)
      for (std::size_t face = 0; face < velocity[axis].size(); ++face) {
        if (solids.open[axis][face] > 0) continue;
        ASSERT_EQ(velocity[axis][face], 0.0F) << "nothing flows through what is solid";
      }
  }
}

TEST(Pressure, NeedsHardlyMoreRoundsForMoreVoxels) {
  std::vector<int> rounds;
  for (const std::size_t count : {16U, 32U, 64U}) {
    const GasGrid grid = openAbove(count, count, count, 1.0 / static_cast<double>(count));
    PressureSolver solver(grid, ballIn(grid, Vec3d(0.5, 0.4, 0.5), 0.2));
    GasVelocity velocity = randomVelocity(grid);
    rounds.push_back(project(solver, velocity).rounds);
  }
  EXPECT_LE(rounds[2], rounds[0] + 6) << rounds[0] << ", " << rounds[1] << ", " << rounds[2];
}

TEST(Pressure, TakesAwayWhatIsAGradientAndKeepsWhatHasNoDivergence) {
  const GasGrid grid = closedBox(20, 16, 12, 0.25);
  PressureSolver solver(grid, wallsOnly(grid));
  // A gradient of any pressure is nothing but pressure.
  GasChannel pressure(grid.cells().size());
  test::fillAtRandom(pressure, 9);
  GasVelocity velocity = emptyGas(grid).velocity;
  const auto forFaces = [&](const auto& act) {
    for (std::size_t axis = 0; axis < 3; ++axis)
      for (std::size_t z = 0; z < grid.counts[2]; ++z)
        for (std::size_t y = 0; y < grid.counts[1]; ++y)
          for (std::size_t x = 0; x < grid.counts[0]; ++x)
            if (std::array<std::size_t, 3>{x, y, z}[axis] > 0) act(axis, x, y, z);
  };
  const GridLayout cells = grid.cells();
  forFaces([&](std::size_t axis, std::size_t x, std::size_t y, std::size_t z) {
    const std::size_t i = cells.index(x, y, z);
    const std::size_t step = axis == 0 ? 1 : axis == 1 ? cells.row() : cells.plane();
    velocity[axis][grid.faces(axis).index(x, y, z)] = pressure[i] - pressure[i - step];
  });
  project(solver, velocity);
  for (const GasChannel& across : velocity) EXPECT_LT(largestOf(across), 1e-3);
  // The curl of a stream along z has no divergence, voxel by voxel.
  const auto stream = [&](std::size_t x, std::size_t y) {
    return std::sin(kPi * static_cast<double>(x) / 20) * std::sin(kPi * static_cast<double>(y) / 16);
  };
  forFaces([&](std::size_t axis, std::size_t x, std::size_t y, std::size_t z) {
    const double along = axis == 0   ? stream(x, y + 1) - stream(x, y)
                         : axis == 1 ? stream(x, y) - stream(x + 1, y)
                                     : 0;
    velocity[axis][grid.faces(axis).index(x, y, z)] = static_cast<float>(along);
  });
  const GasVelocity before = velocity;
  project(solver, velocity);
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (std::size_t i = 0; i < velocity[axis].size(); ++i)
      ASSERT_NEAR(velocity[axis][i], before[axis][i], 1e-6);
}

TEST(Pressure, PistonMovesAsMuchGasAsItSweeps) {
  // A slab across the box moves up at 2 units/s: through each level above it flows what it sweeps.
  const GasGrid grid = openAbove(12, 24, 12, 0.5);
  const GasSolids solids = solidsOf(
      grid, [](const Vec3d& at) { return at.y - 3.2; }, [](const Vec3d&) { return Vec3d(0, 2, 0); });
  PressureSolver solver(grid, solids);
  GasVelocity velocity = emptyGas(grid).velocity;
  project(solver, velocity);
  const GridLayout faces = grid.faces(1);
  for (std::size_t y = 8; y <= 24; ++y) {
    double flow = 0;
    for (std::size_t z = 0; z < 12; ++z)
      for (std::size_t x = 0; x < 12; ++x)
        flow += static_cast<double>(velocity[1][faces.index(x, y, z)]) * grid.voxel * grid.voxel;
    EXPECT_NEAR(flow, 2 * 6 * 6, 0.02) << y;
  }
}

TEST(Pressure, GasThatExpandsLeavesThroughTheOpenWall) {
  const GasGrid grid = openAbove(10, 10, 10, 0.2);
  PressureSolver solver(grid, wallsOnly(grid));
  GasVelocity velocity = emptyGas(grid).velocity;
  GasChannel expansion(grid.cells().size(), 0.0F);
  expansion[grid.cells().index(4, 3, 5)] = 5;
  project(solver, velocity, expansion);
  const GridLayout faces = grid.faces(1);
  double flow = 0;
  for (std::size_t z = 0; z < 10; ++z)
    for (std::size_t x = 0; x < 10; ++x)
      flow += static_cast<double>(velocity[1][faces.index(x, 10, z)]) * 0.2 * 0.2;
  EXPECT_NEAR(flow, 5 * 0.2 * 0.2 * 0.2, 1e-4);
}

TEST(Pressure, ChambersThatAreClosedOffAreSolvedEachForItself) {
  // A wall across the middle; gas expands in the closed part, which no velocity could give.
  const GasGrid grid = openAbove(16, 16, 16);
  const GasSolids solids = solidsOf(
      grid, [](const Vec3d& at) { return std::abs(at.y - 8) - 0.6; },
      [](const Vec3d&) { return Vec3d(0.0); });
  PressureSolver solver(grid, solids);
  GasVelocity velocity = randomVelocity(grid);
  GasChannel expansion(grid.cells().size(), 0.0F);
  expansion[grid.cells().index(4, 3, 5)] = 2;
  const PressureResult result = project(solver, velocity, expansion);
  EXPECT_TRUE(result.isReached);
  for (const GasChannel& across : velocity) EXPECT_LT(largestOf(across), 4);
}

TEST(Pressure, IsTheSameToTheBitWithAnyNumberOfThreads) {
  const GasGrid grid = openAbove(40, 33, 28, 0.1);
  const auto solved = [&](int threads) {
    const ThreadLimit limit(threads);
    PressureSolver solver(grid, ballIn(grid, Vec3d(2, 1.5, 1.4), 0.8, Vec3d(0.3, 0, 0)));
    GasVelocity velocity = randomVelocity(grid);
    project(solver, velocity);
    return velocity;
  };
  EXPECT_EQ(solved(1), solved(2));
}

TEST(Pressure, StopsWhenItIsCancelled) {
  const GasGrid grid = openAbove(16, 16, 16);
  PressureSolver solver(grid, wallsOnly(grid));
  GasVelocity velocity = randomVelocity(grid);
  Progress progress;
  progress.cancel();
  EXPECT_THROW(solver.project(velocity, {}, kTolerance, kMaxRounds, progress), Error);
}

TEST(Solids, FractionsAreAreas) {
  EXPECT_EQ(positiveFraction({1, 1, 1, 1}), 1);
  EXPECT_EQ(positiveFraction({-1, -1, -1, -1}), 0);
  EXPECT_DOUBLE_EQ(positiveFraction({-1, 1, 1, -1}), 0.5);
  EXPECT_DOUBLE_EQ(positiveFraction({1, -1, -1, -1}), 0.125);
  EXPECT_DOUBLE_EQ(positiveFraction({-1, 3, 3, 3}), 1 - 0.5 * 0.25 * 0.25);
  // A ball's shadow: what it closes of the faces through its middle is its area.
  const GasGrid grid = closedBox(20, 20, 20, 0.1);
  const GasSolids solids = ballIn(grid, Vec3d(1, 1, 1), 0.52);
  double closed = 0;
  for (std::size_t z = 0; z < 20; ++z)
    for (std::size_t y = 0; y < 20; ++y)
      closed += (1 - static_cast<double>(solids.open[0][grid.faces(0).index(10, y, z)])) * 0.01;
  EXPECT_NEAR(closed, kPi * 0.52 * 0.52, 0.01);
}

}  // namespace
}  // namespace comet
