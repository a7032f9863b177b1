#include "base/curl_noise.h"

#include "base/random.h"
#include "base/vec.h"
#include "base/vector_unit.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr std::size_t kBlock = 64;

// The noise at up to kBlock positions.
std::vector<Vec3d> sample(const CurlNoise& noise, const std::vector<Vec3d>& positions) {
  std::vector<Vec3d> result;
  for (std::size_t first = 0; first < positions.size(); first += kBlock) {
    alignas(64) std::array<std::array<float, kBlock>, 3> in{}, out{};
    const std::size_t count = std::min(kBlock, positions.size() - first);
    for (std::size_t i = 0; i < count; ++i)
      for (int axis = 0; axis < 3; ++axis) in[axis][i] = static_cast<float>(positions[first + i][axis]);
    addCurlNoise(noise, count, {in[0].data(), in[1].data(), in[2].data()},
                 {out[0].data(), out[1].data(), out[2].data()});
    for (std::size_t i = 0; i < count; ++i) result.emplace_back(out[0][i], out[1][i], out[2][i]);
  }
  return result;
}

std::vector<Vec3d> scattered(int count, double extent) {
  const RandomSource random(5);
  std::vector<Vec3d> points;
  for (int i = 0; i < count; ++i) {
    const auto id = static_cast<std::uint64_t>(i);
    points.push_back(extent * Vec3d(random.signedUnit(id, Draw::ShapeA), random.signedUnit(id, Draw::ShapeB),
                                    random.signedUnit(id, Draw::ShapeC)));
  }
  return points;
}

// Divergence against the size of all first derivatives, both from central differences.
void expectDivergenceFree(const CurlNoise& noise) {
  const double h = 0.01 * noise.scale;
  double divergence = 0, gradient = 0;
  for (const Vec3d& p : scattered(500, 20.0 * noise.scale)) {
    std::vector<Vec3d> around;
    for (int axis = 0; axis < 3; ++axis)
      for (const double side : {-h, h}) {
        Vec3d q = p;
        q[axis] += side;
        around.push_back(q);
      }
    const auto values = sample(noise, around);
    double sum = 0;
    for (int axis = 0; axis < 3; ++axis) {
      const Vec3d change = (values[2 * axis + 1] - values[2 * axis]) / (2 * h);
      sum += change[axis];
      gradient += glm::dot(change, change);
    }
    divergence += sum * sum;
  }
  ASSERT_GT(gradient, 0);
  EXPECT_LT(std::sqrt(divergence / gradient), 0.01);
}

TEST(CurlNoise, IsFreeOfDivergence) {
  expectDivergenceFree({1.0F, 1, 1.0F, 0.0, 3});
  expectDivergenceFree({2.5F, 1, 1.0F, 0.37, 3});
  expectDivergenceFree({1.0F, 3, 1.0F, 0.2, 9});
}

TEST(CurlNoise, HasTheStatedStrength) {
  for (const double turns : {0.0, 0.13, 0.4}) {
    const CurlNoise noise{0.7F, 1, 2.0F, turns, 11};
    double sum = 0;
    const auto values = sample(noise, scattered(20000, 50));
    for (const Vec3d& value : values) sum += glm::dot(value, value);
    EXPECT_NEAR(std::sqrt(sum / static_cast<double>(values.size())), 2.0, 0.06) << turns;
  }
}

TEST(CurlNoise, HasNoPreferredDirection) {
  const auto values = sample({1.0F, 2, 1.0F, 0.3, 4}, scattered(20000, 50));
  Vec3d mean(0.0), squares(0.0);
  for (const Vec3d& value : values) mean += value, squares += value * value;
  mean /= values.size();
  squares /= values.size();
  for (int axis = 0; axis < 3; ++axis) {
    EXPECT_NEAR(mean[axis], 0, 0.03);
    EXPECT_NEAR(squares[axis], (squares.x + squares.y + squares.z) / 3, 0.03);
  }
}

TEST(CurlNoise, RepeatsAfterOneTurn) {
  const auto points = scattered(50, 5);
  CurlNoise noise{1.0F, 2, 1.0F, 0.25, 4};
  const auto before = sample(noise, points);
  noise.turns = 1.25;
  EXPECT_EQ(sample(noise, points), before);
  noise.turns = 0.75;
  EXPECT_NE(sample(noise, points), before);
}

TEST(CurlNoise, IsTheSameOnTheBaselineVectorUnit) {
  const auto points = scattered(1000, 30);
  const CurlNoise noise{0.8F, 3, 1.5F, 0.3, 21};
  const auto best = sample(noise, points);
  useBaselineVectorUnit();
  const auto baseline = sample(noise, points);
  useBestVectorUnit();
  EXPECT_EQ(best, baseline);
}

}  // namespace
}  // namespace comet
