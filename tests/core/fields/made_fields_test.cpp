#include "fields/made_fields.h"

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr double kPiHere = 3.14159265358979323846;

template <typename Each>
void forEachCell(const VectorGrid& grid, const Each& each) {
  for (int z = 0; z < grid.counts()[2]; ++z)
    for (int y = 0; y < grid.counts()[1]; ++y)
      for (int x = 0; x < grid.counts()[0]; ++x) each(x, y, z);
}

// By central differences through the sides.
double divergenceAt(const VectorGrid& grid, const Vec3d& cell, std::array<int, 3> here) {
  double sum = 0;
  for (int axis = 0; axis < 3; ++axis) {
    const int count = grid.counts()[axis];
    std::array<int, 3> before = here, after = here;
    before[axis] = (here[axis] + count - 1) % count;
    after[axis] = (here[axis] + 1) % count;
    sum += (static_cast<double>(grid.at(after[0], after[1], after[2])[axis]) -
            static_cast<double>(grid.at(before[0], before[1], before[2])[axis])) /
           (2 * cell[axis]);
  }
  return sum;
}

TEST(FieldBox, HasCubesForCells) {
  const FieldBox box = FieldBox::withCells({8, 2, 4}, 32);
  EXPECT_EQ(box.counts, (VectorGrid::Counts{32, 8, 16}));
  EXPECT_EQ(box.cell(), Vec3d(0.25));
  EXPECT_EQ(box.middleOf(0, 0, 0), Vec3d(-3.875, -0.875, -1.875));
  EXPECT_EQ(FieldBox::withCells({8, 0.001, 4}, 8).counts[1], 1);
}

TEST(SwirlField, HasNoSourcesAndTheLengthThatIsSaid) {
  const FieldBox box = FieldBox::withCells({6, 4, 5}, 24);
  const VectorGrid field = curlNoiseField(box, 2, 2, 11);
  double squares = 0, worst = 0, steepest = 0;
  Vec3d sum(0.0);
  forEachCell(field, [&](int x, int y, int z) {
    const Vec3d here(field.at(x, y, z));
    squares += glm::dot(here, here);
    sum += here;
    worst = std::max(worst, std::abs(divergenceAt(field, box.cell(), {x, y, z})));
    const Vec3d next(field.at((x + 1) % box.counts[0], y, z));
    steepest = std::max(steepest, glm::length(next - here) / box.cell().x);
  });
  EXPECT_NEAR(std::sqrt(squares / static_cast<double>(field.size())), 1, 1e-4);
  EXPECT_LT(worst, 1e-4 * steepest);
  // Nothing blows through: what goes one way comes back elsewhere.
  EXPECT_LT(glm::length(sum) / static_cast<double>(field.size()), 1e-4);
}

TEST(SwirlField, RepeatsAtItsSides) {
  const FieldBox box = FieldBox::withCells(Vec3d(4.0), 32);
  const VectorGrid field = curlNoiseField(box, 2, 1, 3);
  double inside = 0, seam = 0;
  for (int y = 0; y < 32; ++y)
    for (int z = 0; z < 32; ++z) {
      inside = std::max(inside, glm::length(Vec3d(field.at(16, y, z)) - Vec3d(field.at(15, y, z))));
      seam = std::max(seam, glm::length(Vec3d(field.at(0, y, z)) - Vec3d(field.at(31, y, z))));
    }
  EXPECT_LT(seam, 1.7 * inside) << "no jump where the field meets itself";
  EXPECT_NE(curlNoiseField(box, 2, 1, 4).digest(), field.digest());
  EXPECT_EQ(curlNoiseField(box, 2, 1, 3).digest(), field.digest());
}

TEST(WhirlField, EachIsFastestAtItsRadiusAndTurnsAboutItsAxis) {
  const FieldBox box = FieldBox::withCells(Vec3d(8.0), 64);
  Vortices vortices;
  vortices.count = 1;
  vortices.radius = 1;
  vortices.axis = Vec3d(0, 1, 0);
  vortices.bothWays = false;
  const VectorGrid field = vortexField(box, vortices);
  double longest = 0, worstAlong = 0;
  Vec3d fastest(0.0), centre(0.0);
  double slowest = 1e9;
  forEachCell(field, [&](int x, int y, int z) {
    const Vec3d here(field.at(x, y, z));
    const double length = glm::length(here);
    worstAlong = std::max(worstAlong, std::abs(here.y));
    if (length > longest) {
      longest = length;
      fastest = box.middleOf(x, y, z);
    }
  });
  EXPECT_NEAR(longest, 1, 0.01);
  EXPECT_LT(worstAlong, 1e-7);
  // The eye is the slowest place near the fastest.
  forEachCell(field, [&](int x, int y, int z) {
    // The shortest way, which may lead through the box's sides.
    const Vec3d offset = box.middleOf(x, y, z) - fastest, near = offset - 8.0 * glm::round(offset / 8.0);
    const double length = glm::length(Vec3d(field.at(x, y, z)));
    if (glm::length(near) > 1.5 || length >= slowest) return;
    slowest = length;
    centre = fastest + near;
  });
  EXPECT_NEAR(std::hypot(fastest.x - centre.x, fastest.z - centre.z), 1, 0.2);
}

TEST(StrokeField, FlowsAlongItsStrokesAndNowhereElse) {
  const FieldBox box = FieldBox::withCells(Vec3d(8.0), 32);
  const StrokeList straight{{{-3, 0, 0}, {0, 0, 0}, {3, 0, 0}}};
  const VectorGrid field = strokeField(box, straight, 1);
  const auto at = [&](const Vec3d& place) { return field.sample(place / box.size + 0.5, Beyond::Nothing); };
  EXPECT_NEAR(at({0, 0, 0}).x, 1, 0.1);
  EXPECT_LT(at({0, 0.6, 0}).x, at({0, 0.2, 0}).x);
  EXPECT_EQ(at({0, 1.4, 0}), Vec3d(0.0));
  EXPECT_EQ(at({0, 0, -2}), Vec3d(0.0));
  EXPECT_NEAR(at({1, 0.3, 0.2}).y, 0, 1e-6);
  // The other way round when it is drawn the other way round.
  const VectorGrid back = strokeField(box, {{{3, 0, 0}, {-3, 0, 0}}}, 1);
  EXPECT_NEAR(back.sample({0.5, 0.5, 0.5}, Beyond::Nothing).x, -at({0, 0, 0}).x, 0.02);
}

TEST(SlopeField, RunsDownFromWhatIsBrightOrAroundIt) {
  Picture hill(64, 64);
  for (int y = 0; y < 64; ++y)
    for (int x = 0; x < 64; ++x) {
      const double dx = (x - 31.5) / 16, dy = (y - 31.5) / 16;
      hill.at(x, y) = Vec4(Vec3(static_cast<float>(std::exp(-dx * dx - dy * dy))), 1.0F);
    }
  const FieldBox box = FieldBox::withCells({4, 4, 1}, 32);
  const VectorGrid down = slopeField(box, hill, SlopeDirection::Down, 0);
  const VectorGrid along = slopeField(box, hill, SlopeDirection::Along, 0);
  EXPECT_EQ(down.counts()[2], 1);
  EXPECT_NEAR(down.longest(), 1, 1e-5);
  for (int i = 0; i < 12; ++i) {
    const double angle = 2 * kPiHere * i / 12;
    const Vec3d out(std::cos(angle), std::sin(angle), 0);
    const Vec3d place = Vec3d(0.5) + out * 0.2;
    const Vec3d slope = glm::normalize(down.sample(place, Beyond::Nothing));
    EXPECT_GT(glm::dot(slope, out), 0.995) << i;
    // Counter-clockwise.
    EXPECT_GT(glm::dot(glm::normalize(along.sample(place, Beyond::Nothing)), Vec3d(-out.y, out.x, 0)), 0.995);
  }
}

TEST(SlopeField, StandsTheRightWayUp) {
  Picture picture(8, 8);
  for (int x = 0; x < 8; ++x) picture.at(x, 0) = Vec4(1.0F);  // its top row is bright
  const VectorGrid down = slopeField(FieldBox::withCells({1, 1, 0.1}, 8), picture, SlopeDirection::Down, 0);
  EXPECT_LT(down.at(4, 6, 0).y, 0) << "from the bright top downwards";
  EXPECT_EQ(down.at(4, 2, 0).y, 0);
}

}  // namespace
}  // namespace comet
