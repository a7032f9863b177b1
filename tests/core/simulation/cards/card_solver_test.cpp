// What a card does by itself, against the theory of beams.
#include "simulation/cards/card_solver.h"

#include "simulation/cards/card_shape.h"
#include "support/scenes.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <gtest/gtest.h>
#include <numeric>

namespace comet {
namespace {

using test::with;

CardRule ruleWith(std::initializer_list<std::string> assignments) {
  const Scene scene = with(with(test::starting(), {"emitter.sprite=card"}), assignments);
  return CardRule(*scene.findByName("emitter"), 1);
}

// One card that is held at some of its points and hangs from them, in the way of CardStep but for the air.
class HeldCard {
 public:
  HeldCard(const CardRule& rule, double size, const std::vector<std::size_t>& clamped)
      : rule_(rule), clamped_(clamped), solver_(rule, clamped), numbers_(kCardLanes) {
    std::fill(numbers_.sizes.begin(), numbers_.sizes.end(), static_cast<float>(size));
    const std::vector<Vec3d> rest = rule.restPoints(size, 0);
    for (std::size_t axis = 0; axis < 3; ++axis) {
      x_[axis].resize(rest.size() * kCardLanes);
      v_[axis].resize(x_[axis].size());
      for (std::size_t i = 0; i < x_[axis].size(); ++i)
        x_[axis][i] = static_cast<float>(rest[i / kCardLanes][static_cast<int>(axis)]);
    }
  }

  void hang(double seconds, double step, const Vec3d& gravity) {
    std::fill(numbers_.durations.begin(), numbers_.durations.end(), static_cast<float>(step));
    const CardLanes lanes = numbers_.lanes(rule_);
    for (int number = 0; number * step < seconds; ++number) {
      std::array<std::vector<float>, 3> before = x_;
      for (std::size_t axis = 0; axis < 3; ++axis)
        for (std::size_t i = 0; i < x_[axis].size(); ++i) {
          if (isClamped(i / kCardLanes)) continue;
          // So that it comes to rest soon.
          v_[axis][i] *= 1 - 3 * static_cast<float>(step);
          v_[axis][i] += static_cast<float>(step * gravity[static_cast<int>(axis)]);
          x_[axis][i] += static_cast<float>(step) * v_[axis][i];
        }
      solver_.solve(number, lanes, {x_[0].data(), x_[1].data(), x_[2].data()});
      for (std::size_t axis = 0; axis < 3; ++axis)
        for (std::size_t i = 0; i < x_[axis].size(); ++i)
          v_[axis][i] = (x_[axis][i] - before[axis][i]) / static_cast<float>(step);
    }
  }

  Vec3d point(std::size_t column, std::size_t row) const {
    const std::size_t i = rule_.grid().at(column, row) * kCardLanes;
    return {x_[0][i], x_[1][i], x_[2][i]};
  }
  double longestStretch() const {
    std::vector<float> body(CardBody::numbers(rule_.grid()));
    for (std::size_t axis = 0; axis < 3; ++axis)
      for (std::size_t p = 0; p < rule_.grid().points(); ++p)
        body[axis * rule_.grid().points() + p] = x_[axis][p * kCardLanes];
    return cardStretch(rule_, 0, body.data());
  }

 private:
  bool isClamped(std::size_t point) const {
    return std::find(clamped_.begin(), clamped_.end(), point) != clamped_.end();
  }

  CardRule rule_;
  std::vector<std::size_t> clamped_;
  CardSolver solver_;
  CardLaneNumbers numbers_;
  std::array<std::vector<float>, 3> x_, v_;
};

// Euler's elastica of a strip of length one that is clamped level and bends under its own weight: the angle
// follows d²θ/ds² = -q (1 - s) cos θ with θ(0) = 0 and θ'(1) = 0; q is weight by length / stiffness. Found by
// shooting with the method of Runge and Kutta. Returns how deep the tip hangs.
double tipOfElastica(double q) {
  constexpr int kSteps = 2000;
  constexpr double kStep = 1.0 / kSteps;
  const auto shoot = [q](double bend, double& depth) {
    double angle = 0;
    depth = 0;
    for (int i = 0; i < kSteps; ++i) {
      const auto slope = [&](double s, double a) { return -q * (1 - s) * std::cos(a); };
      const double s = i * kStep;
      const double k1 = slope(s, angle), l1 = bend;
      const double k2 = slope(s + 0.5 * kStep, angle + 0.5 * kStep * l1), l2 = bend + 0.5 * kStep * k1;
      const double k3 = slope(s + 0.5 * kStep, angle + 0.5 * kStep * l2), l3 = bend + 0.5 * kStep * k2;
      const double k4 = slope(s + kStep, angle + kStep * l3), l4 = bend + kStep * k3;
      depth += kStep * std::sin(angle + 0.5 * kStep * l1);
      angle += kStep / 6 * (l1 + 2 * l2 + 2 * l3 + l4);
      bend += kStep / 6 * (k1 + 2 * k2 + 2 * k3 + k4);
    }
    return bend;
  };
  double low = 0, high = q, depth = 0;
  for (int i = 0; i < 80; ++i) (shoot(0.5 * (low + high), depth) > 0 ? high : low) = 0.5 * (low + high);
  return depth;
}

// A strip that is clamped at its end bends as the elastica says, within 5 %.
TEST(CardSolver, AClampedStripBendsAsTheElasticaSays) {
  EXPECT_NEAR(tipOfElastica(0.01), 0.01 / 8, 1e-5) << "little bending, by the beam's formula";
  for (const double q : {1.0, 4.0, 12.0}) {
    constexpr double kSize = 0.2, kMass = 0.08;
    // The first two rows do not move: halfway between them the strip is level.
    constexpr double kFree = kSize * 7.5 / 8;
    const double stiffness = kMass * test::kGravity * std::pow(kFree, 3) / q;
    const CardRule rule = ruleWith({"emitter.card_cells_along=8", "emitter.card_cells_across=2",
                                    "emitter.aspect_ratio=0.1", "emitter.size=0.2", "emitter.card_mass=80",
                                    "emitter.card_bending_stiffness=" + std::to_string(stiffness / 5e-6)});
    HeldCard strip(rule, kSize, {0, 1, 2, 3, 4, 5});
    const double level = strip.point(1, 1).y;
    strip.hang(4, 1 / (24.0 * 16), {0, -test::kGravity, 0});
    EXPECT_NEAR((level - strip.point(1, 8).y) / kFree, tipOfElastica(q), 0.05 * tipOfElastica(q)) << q;
  }
}

// A strip that hangs down does not get longer by 2 % with the steps that an emitter starts with.
TEST(CardSolver, AHangingCardHardlyStretches) {
  for (const int cells : {4, 8}) {
    const CardRule rule =
        ruleWith({"emitter.card_cells_along=" + std::to_string(cells), "emitter.aspect_ratio=0.5"});
    std::vector<std::size_t> upper(rule.grid().columns());
    std::iota(upper.begin(), upper.end(), std::size_t{0});
    HeldCard card(rule, rule.size(0), upper);
    // Along its length.
    card.hang(3, 1.0 / (24 * rule.steps()), {0, 0, test::kGravity});
    EXPECT_LT(card.longestStretch(), 0.02) << cells;
  }
}

// Half as stiff against stretch: by as much as the weight below says.
TEST(CardSolver, SoftCardsStretchByTheirWeight) {
  const CardRule rule = ruleWith({"emitter.card_stretch_stiffness=20", "emitter.card_mass=3000",
                                  "emitter.size=1", "emitter.card_shear_stiffness=0",
                                  "emitter.card_cells_across=2", "emitter.card_cells_along=8"});
  HeldCard card(rule, 1, {0, 1, 2});
  card.hang(8, 1 / (24.0 * 32), {0, 0, test::kGravity});
  // The mean over the length of the weight below, by width, over the stiffness.
  const double expected = 3 * test::kGravity * 0.5 / rule.stretchStiffness();
  EXPECT_NEAR(card.point(1, 8).z - card.point(1, 0).z - 1, expected, 0.05 * expected);
}

// The slowest mode of a free narrow strip comes near that of a beam as cells get smaller: (4.730)⁴ for a
// length, mass and stiffness of one. Differences between points are of second order.
TEST(CardModes, SwingAsABeamDoes) {
  const auto missing = [](int cells) {
    const CardModes modes({2, cells}, 0.05, 1);
    const float slowest = *std::min_element(modes.stiffness().begin(), modes.stiffness().end());
    return 1 - static_cast<double>(slowest) / std::pow(4.730, 4);
  };
  EXPECT_LT(std::abs(missing(8)), 0.13);
  EXPECT_LT(std::abs(missing(8)), 0.35 * std::abs(missing(4)));
}

// Motion and rotation take no energy: all other modes are there, and each is orthogonal to the others.
TEST(CardModes, AreAllThatBends) {
  for (const CardGrid grid : {CardGrid{2, 2}, CardGrid{4, 3}, CardGrid{8, 8}}) {
    const CardModes modes(grid, 1, 0.7);
    ASSERT_EQ(modes.count(), grid.points() - 3);
    for (std::size_t a = 0; a < modes.count(); a += 3)
      for (std::size_t b = 0; b < modes.count(); b += 2) {
        double sum = 0;
        for (std::size_t p = 0; p < grid.points(); ++p)
          sum += static_cast<double>(modes.reads()[a * grid.points() + p]) *
                 static_cast<double>(modes.moves()[b * grid.points() + p]);
        EXPECT_NEAR(sum, a == b ? 1 : 0, 1e-4);
      }
  }
}

// At rest a card is as it says: sides and area in place, bent by its curl over its length.
TEST(CardRule, RestsFlatOrBent) {
  const CardRule rule = ruleWith({"emitter.aspect_ratio=0.5", "emitter.card_cells_across=3"});
  for (const double curl : {0.0, 1.0, 3.0}) {
    const std::vector<Vec3d> rest = rule.restPoints(2, curl);
    const CardGrid& grid = rule.grid();
    Vec3d middle(0.0);
    double length = 0;
    for (std::size_t p = 0; p < rest.size(); ++p) middle += rest[p] * grid.areaOf(p);
    for (std::size_t row = 1; row < grid.rows(); ++row)
      length += glm::length(rest[grid.at(1, row)] - rest[grid.at(1, row - 1)]);
    EXPECT_LT(glm::length(middle), 1e-12) << curl;
    EXPECT_NEAR(length, 2, 1e-12) << curl;
    EXPECT_NEAR(rest[grid.at(3, 0)].x - rest[grid.at(0, 0)].x, 1, 1e-12) << curl;
    const Vec3d first = glm::normalize(rest[grid.at(1, 1)] - rest[grid.at(1, 0)]);
    const Vec3d last = glm::normalize(rest[grid.at(1, 4)] - rest[grid.at(1, 3)]);
    // The first and last cells lie a cell less apart than the whole.
    EXPECT_NEAR(std::acos(glm::dot(first, last)), curl * 3 / 4, 1e-6) << curl;
    EXPECT_GE(last.y, -1e-12) << "towards the front";
  }
}

}  // namespace
}  // namespace comet
