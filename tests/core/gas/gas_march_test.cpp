#include "gas/gas_march.h"

#include "core/gas/gas_boxes.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::closedBox;

// Gas of one density, and how it is looked at.
struct Fog {
  GasGrid grid;
  GasState state;
  GasLook look;
  std::vector<Light> lights;

  explicit Fog(const GasGrid& box, float everywhere = 0) : grid(box), state(emptyGas(box)) {
    state.density.assign(box.cells().size(), everywhere);
    look.ambient = Vec3(0.0F);
    look.color = LookTable<Vec3>(1.0F, [](float) { return Vec3(1.0F); });
    look.extinction = LookTable<float>(10.0F, [](float x) { return x; });
  }
  GasMarch march(double stepVoxels = 1) const { return {grid, state, look, lights, stepVoxels}; }
};

TEST(GasMarch, SlabStopsLightByTheLawOfBeerAndLambert) {
  const Fog fog(closedBox(40, 24, 30, 0.1), 0.7F);
  const GasMarch march = fog.march();
  // Straight through 4 units, and from a corner to the opposite one.
  EXPECT_NEAR(march.along(Vec3d(-1, 1.13, 1.4), Vec3d(1, 0, 0), 100).transmittance, std::exp(-0.7 * 4), 1e-4);
  const Vec3d across = glm::normalize(Vec3d(4, 2.4, 3));
  const double diagonal = glm::length(Vec3d(4, 2.4, 3));
  EXPECT_NEAR(march.along(-across, across, 100).transmittance, std::exp(-0.7 * diagonal), 1e-4);
  EXPECT_NEAR(march.transmittanceTo(Vec3d(-1, 1.13, 1.4), Vec3d(1, 0, 0), 3), std::exp(-0.7 * 2), 1e-4);
  EXPECT_EQ(march.along(Vec3d(-1, 5, 1), Vec3d(1, 0, 0), 100).transmittance, 1);
  EXPECT_EQ(march.along(Vec3d(-1, 1, 1), Vec3d(-1, 0, 0), 100).transmittance, 1) << "the box is behind";
}

TEST(GasMarch, LightFadesOnItsWayIn) {
  for (const Vec3d& towards : {Vec3d(0, 1, 0), Vec3d(0, -1, 0), Vec3d(0.3, 1, -0.2), Vec3d(1, 0.2, 0.4)}) {
    Fog fog(closedBox(48, 48, 48, 0.1), 1.5F);
    fog.lights.push_back({glm::normalize(towards), Vec3(1.0F)});
    const GasMarch march = fog.march();
    const Vec3d direction = glm::normalize(towards);
    // From voxels whose way to the light leads through the wall at the end of the longest axis.
    for (const double depth : {0.45, 1.15}) {
      const int axis = std::abs(direction.x) > std::abs(direction.y) ? 0 : 1;
      Vec3d at(2.45);
      at[axis] = direction[axis] > 0 ? 4.8 - depth : depth;
      const double way = depth / std::abs(direction[axis]);
      const auto index = [](double x) { return static_cast<std::size_t>(x / 0.1); };
      const std::size_t i = fog.grid.cells().index(index(at.x), index(at.y), index(at.z));
      EXPECT_NEAR(march.lit(0)[i], std::exp(-1.5 * way), 2e-4) << direction.x << ", " << direction.y;
    }
  }
}

TEST(GasMarch, ColorsComeFromTheAge) {
  Fog fog(closedBox(20, 20, 20, 0.1), 2.0F);
  fog.state.age.assign(fog.state.density.size(), 2.0F * 0.75F);
  fog.look.ambient = Vec3(1.0F);
  fog.look.colorBy = GasColorBy::Age;
  fog.look.color = LookTable<Vec3>(3.0F, [](float age) { return Vec3(age / 3, 0, 1 - age / 3); });
  const GasRay ray = fog.march().along(Vec3d(-1, 1, 1), Vec3d(1, 0, 0), 100);
  EXPECT_NEAR(ray.light.x / (1 - ray.transmittance), 0.25, 1e-3);
  EXPECT_NEAR(ray.light.z / (1 - ray.transmittance), 0.75, 1e-3);
}

// Gas that is 1000 K hotter than the air sends 0.6 of light on each unit of its way.
void setOnFire(Fog& fog) {
  fog.state.temperature.assign(fog.state.density.size(), 1000.0F);
  fog.look.fire = LookTable<Vec3>(1000.0F, [](float t) { return Vec3(0.0006F * t, 0, 0); });
  fog.look.glowsFrom = 200;
}

TEST(GasMarch, FireAddsLightAndCoversNothing) {
  Fog fog(closedBox(40, 24, 30, 0.1));
  setOnFire(fog);
  const GasRay ray = fog.march().along(Vec3d(-1, 1.13, 1.4), Vec3d(1, 0, 0), 100);
  EXPECT_NEAR(ray.light.x, 0.6 * 4, 1e-4);
  EXPECT_EQ(ray.transmittance, 1);
  EXPECT_NEAR(ray.depth, 3, 1e-3) << "the mean of where its light is given off";
  fog.state.temperature.assign(fog.state.density.size(), 199.0F);
  EXPECT_EQ(fog.march().along(Vec3d(-1, 1.13, 1.4), Vec3d(1, 0, 0), 100).light.x, 0);
}

TEST(GasMarch, SmokeDimsTheFireInIt) {
  Fog fog(closedBox(40, 24, 30, 0.1), 0.7F);
  setOnFire(fog);
  fog.look.fireOnGas = 0;
  const double expected = 0.6 * (1 - std::exp(-0.7 * 4)) / 0.7;
  const GasRay ray = fog.march().along(Vec3d(-1, 1.13, 1.4), Vec3d(1, 0, 0), 100);
  EXPECT_NEAR(ray.light.x, expected, 1e-3 * expected);
  EXPECT_NEAR(ray.transmittance, std::exp(-0.7 * 4), 1e-4);
  // In pieces too, wherever they are cut.
  const std::vector<double> cuts{0, 2.23, 3.1, 100};
  std::array<GasSlab, 3> slabs;
  fog.march().between(
      Vec3d(-1, 1.13, 1.4), Vec3d(1, 0, 0), cuts,
      [](const GasPoint& point) {
        return GasSent{Vec3(0.0F), point.glow};
      },
      slabs.data());
  const double first = 0.6 * (1 - std::exp(-0.7 * 1.23)) / 0.7;
  EXPECT_NEAR(slabs[0].light.x, first, 2e-3 * first);
}

// A small fire in the middle of a large box, whose light falls by the inverse square of the distance and is
// stopped by smoke on its way.
TEST(GasMarch, FireLightsTheSmokeAroundIt) {
  for (const float density : {1e-4F, 0.4F}) {
    Fog fog(closedBox(64, 64, 64, 0.125), density);
    setOnFire(fog);
    double volume = 0;
    for (std::size_t i = 0; i < fog.state.temperature.size(); ++i) {
      const bool isFire = glm::length(fog.grid.middleOf(i) - Vec3d(4.25)) < 0.3;
      fog.state.temperature[i] = isFire ? 1000.0F : 0.0F;
      volume += isFire ? std::pow(0.125, 3) : 0;
    }
    const FireLight light(fog.grid, fog.state, fog.look);
    for (const double distance : {2.0, 3.0}) {
      const double expected =
          0.6 * volume / (4 * kPi * distance * distance) * std::exp(-static_cast<double>(density) * distance);
      const Vec3d at = (Vec3d(4.25 - distance, 4.25, 4.25)) / 0.125 - 0.5;
      const Vec3 found =
          light.at(Four{static_cast<float>(at.x), static_cast<float>(at.y), static_cast<float>(at.z), 0});
      EXPECT_NEAR(found.x, expected, 0.1 * expected) << density << ", " << distance;
      EXPECT_EQ(found.y, 0);
    }
  }
}

// The distance from a point in a ball of radius 1 about the origin to its surface.
double wayOut(const Vec3d& from, const Vec3d& direction) {
  const double along = glm::dot(from, direction);
  return -along + std::sqrt(std::max(0.0, along * along + 1 - glm::dot(from, from)));
}

// The light that a ball of gas sends along a ray after scattering it once, by drawing where it is scattered.
double onceScattered(const Vec3d& from, const Vec3d& direction, const Vec3d& towards, double extinction) {
  const double through = wayOut(from, direction);
  const RandomSource random(3);
  constexpr std::size_t kDraws = 40000;
  double sum = 0;
  for (std::size_t i = 0; i < kDraws; ++i) {
    const double t = through * random.unit(i, Draw::ShapeA);
    sum += extinction * std::exp(-extinction * (t + wayOut(from + direction * t, towards)));
  }
  return through * sum / kDraws;
}

TEST(GasMarch, BallScattersLightAsDrawnByChance) {
  Fog fog(closedBox(72, 72, 72, 1.0 / 30));
  fog.grid.corner = Vec3d(-1.2);
  const GridLayout cells = fog.grid.cells();
  for (std::size_t z = 0; z < 72; ++z)
    for (std::size_t y = 0; y < 72; ++y)
      for (std::size_t x = 0; x < 72; ++x) {
        const Vec3d at = fog.grid.corner + fog.grid.voxel * (Vec3d(x, y, z) + 0.5);
        const double inside = (1 - glm::length(at)) / fog.grid.voxel + 0.5;
        fog.state.density[cells.index(x, y, z)] = static_cast<float>(2 * std::clamp(inside, 0.0, 1.0));
      }
  for (const Vec3d& towards : {glm::normalize(Vec3d(0.4, 1, 0.2)), glm::normalize(Vec3d(0, 0.1, 1))}) {
    fog.lights.assign(1, {towards, Vec3(1.0F)});
    const GasMarch march = fog.march(0.5);
    const Vec3d direction(0, 0, -1);
    for (const Vec2d& seen : {Vec2d(0, 0), Vec2d(0.4, 0.3), Vec2d(-0.5, 0.1), Vec2d(0.1, -0.6)}) {
      const double depth = std::sqrt(1 - glm::dot(seen, seen));
      const double expected = onceScattered(Vec3d(seen, depth), direction, towards, 2);
      const GasRay ray = march.along(Vec3d(seen, 5), direction, 100);
      EXPECT_NEAR(ray.light.x, expected, 0.02) << seen.x << ", " << seen.y;
      EXPECT_NEAR(ray.transmittance, std::exp(-4 * depth), 0.01);
    }
  }
}

TEST(GasMarch, PhaseSendsOnAsMuchAsComes) {
  for (const float anisotropy : {-0.6F, 0.0F, 0.3F, 0.8F}) {
    double sum = 0;
    constexpr int kParts = 20000;
    for (int i = 0; i < kParts; ++i)
      sum += static_cast<double>(phase(anisotropy, static_cast<float>(-1 + 2 * (i + 0.5) / kParts))) / kParts;
    EXPECT_NEAR(sum, 1, 1e-3) << anisotropy;
  }
  EXPECT_GT(phase(0.5F, 1), 3 * phase(0.5F, -1)) << "most goes ahead";
}

TEST(GasMarch, MoreScatteringsLightUpWhatLiesDeep) {
  Fog fog(closedBox(24, 24, 24, 0.1), 4.0F);
  fog.lights.push_back({Vec3d(0, 0, -1), Vec3(1.0F)});
  const auto seen = [&fog] { return fog.march().along(Vec3d(1.2, 1.2, 9), Vec3d(0, 0, -1), 100).light.x; };
  const float once = seen();
  fog.look.scatterings = 4;
  EXPECT_GT(seen(), 5 * once) << "light from behind comes through by being scattered again and again";
}

TEST(GasMarch, DepthIsWhereLightIsStopped) {
  Fog fog(closedBox(32, 8, 8, 0.25));
  const GridLayout cells = fog.grid.cells();
  for (std::size_t z = 0; z < 8; ++z)
    for (std::size_t y = 0; y < 8; ++y) fog.state.density[cells.index(20, y, z)] = 8;
  const GasRay ray = fog.march(0.25).along(Vec3d(-3, 1, 1), Vec3d(1, 0, 0), 100);
  EXPECT_NEAR(ray.depth, 3 + 20.5 * 0.25, 0.15);
  EXPECT_EQ(fog.march().along(Vec3d(-3, 1, 1), Vec3d(1, 0, 0), 4).depth, 0) << "it lies further away";
}

TEST(GasMarch, ShowsTheColorsThatGasCarries) {
  Fog fog(closedBox(8, 8, 8, 0.25), 2);
  fog.look.ambient = Vec3(1.0F);
  fog.look.colorBy = GasColorBy::Source;
  const auto seen = [&fog] { return fog.march().along(Vec3d(1, 1, 9), Vec3d(0, 0, -1), 100); };
  const GasRay without = seen();
  EXPECT_NEAR(without.light.x, 1 - without.transmittance, 1e-5) << "without colours as its ramp says";
  const Vec3 color(0.9F, 0.5F, 0.1F);
  for (int c = 0; c < 3; ++c)
    fog.state.color[static_cast<std::size_t>(c)].assign(fog.grid.cells().size(), 2 * color[c]);
  const GasRay ray = seen();
  for (int c = 0; c < 3; ++c) EXPECT_NEAR(ray.light[c], color[c] * (1 - ray.transmittance), 1e-5) << c;
}

TEST(GasMarch, EmptyBricksAreLeftOutWithoutATrace) {
  // The same ball with and without gas so thin that it stops nothing to speak of in all other bricks.
  Fog fog(closedBox(64, 64, 64, 0.05)), filled(closedBox(64, 64, 64, 0.05), 1e-7F);
  const GridLayout cells = fog.grid.cells();
  for (std::size_t z = 0; z < 64; ++z)
    for (std::size_t y = 0; y < 64; ++y)
      for (std::size_t x = 0; x < 64; ++x)
        if (glm::length(Vec3d(x, y, z) - Vec3d(20.0, 33.0, 41.0)) < 13)
          fog.state.density[cells.index(x, y, z)] = filled.state.density[cells.index(x, y, z)] = 3;
  const GasMarch march = fog.march(), slow = filled.march();
  const RandomSource random(8);
  int seen = 0;
  for (std::size_t i = 0; i < 400; ++i) {
    const Vec3d from(3.2 * random.unit(i, Draw::ShapeA), 3.2 * random.unit(i, Draw::ShapeB), 6);
    const Vec3d to(3.2 * random.unit(i, Draw::ShapeC), 1.6, 0.5 * random.unit(i, Draw::Lifetime));
    const Vec3d direction = glm::normalize(to - from);
    const GasRay ray = march.along(from, direction, 100);
    EXPECT_NEAR(ray.transmittance, slow.along(from, direction, 100).transmittance, 1e-5);
    seen += ray.transmittance < 0.9F ? 1 : 0;
  }
  EXPECT_GT(seen, 60);
}

TEST(LookTable, IsMixedBetweenItsEntriesAndStaysAtItsEnds) {
  const LookTable<float> table(2.0F, [](float x) { return 3 * x + 1; });
  EXPECT_NEAR(table.at(0.777F), 3 * 0.777F + 1, 1e-5);
  EXPECT_EQ(table.at(-5), 1);
  EXPECT_NEAR(table.at(50), 7, 1e-5);
}

}  // namespace
}  // namespace comet
