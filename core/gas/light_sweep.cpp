#include "gas/light_sweep.h"

#include "base/parallel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

namespace comet {
namespace {

std::size_t longestAxis(const Vec3d& v) {
  const Vec3d size = glm::abs(v);
  return size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
}

// Places of voxels along one axis, from `begin` up to `end`.
struct Run {
  std::size_t begin = 0, end = 0;

  // Those of `count` whose middles lie between two places, both included.
  static Run between(double low, double high, std::size_t count) {
    const double last = static_cast<double>(count);
    const auto at = [last](double x) { return static_cast<std::size_t>(std::clamp(x, 0.0, last)); };
    return {at(std::ceil(low)), at(std::floor(high) + 1)};
  }
  bool isEmpty() const { return end <= begin; }
};

// Where the light of a voxel comes through the plane before its own, in voxels, and how long it is on its way
// from there, units.
struct Way {
  double one, other;
  double length;
};

// The planes of a grid across an axis.
class Planes {
 public:
  Planes(const GasGrid& grid, const GasChannel& density, const GasLook& look, std::size_t axis)
      : density_(density),
        look_(look),
        counts_{grid.counts[(axis + 1) % 3], grid.counts[(axis + 2) % 3]},
        planes_(grid.counts[axis]) {
    const GridLayout cells = grid.cells();
    step_ = stepAlong(cells, axis);
    steps_ = {stepAlong(cells, (axis + 1) % 3), stepAlong(cells, (axis + 2) % 3)};
  }

  std::size_t count() const { return planes_; }
  std::size_t across(std::size_t which) const { return counts_[which]; }
  std::size_t index(std::size_t plane, std::size_t one, std::size_t other) const {
    return plane * step_ + one * steps_[0] + other * steps_[1];
  }
  float extinctionAt(std::size_t voxel) const { return look_.shadow * look_.extinction.at(density_[voxel]); }

  // Sets what reaches the voxels of a plane in these runs, from `before`, the plane that light comes through
  // to it, where `reached` is known already. Beyond a plane's rim there is nothing but light.
  // `farther(spot, way)` is how much farther from the light, on average, the voxels are that the light of a
  // point there is mixed from than that point, units: more than nothing where light goes apart.
  template <typename WayOf, typename Farther>
  void carry(std::size_t plane, std::size_t before, const Run& ones, const Run& others, const WayOf& wayOf,
             const Farther& farther, GasChannel& reached) const {
    parallelFor(others.end - others.begin, [&](std::size_t row) {
      const std::size_t other = others.begin + row;
      for (std::size_t one = ones.begin; one < ones.end; ++one) {
        const std::size_t voxel = index(plane, one, other);
        const Way way = wayOf(one, other);
        const Spot spot = spotAt(before, way.one, way.other);
        const auto extinction = [&](std::size_t i) { return extinctionAt(i); };
        const float between = 0.5F * (extinctionAt(voxel) + spot.mix(0, extinction));
        reached[voxel] = spot.mix(1, [&](std::size_t i) { return reached[i]; }) *
                         std::exp(-static_cast<float>(way.length - farther(spot, way)) * between);
      }
    });
  }
  // The same where light comes in free up to a way of `lengthOf` before each voxel, units.
  template <typename LengthOf>
  void enter(std::size_t plane, const Run& ones, const Run& others, const LengthOf& lengthOf,
             GasChannel& reached) const {
    for (std::size_t other = others.begin; other < others.end; ++other)
      for (std::size_t one = ones.begin; one < ones.end; ++one) {
        const std::size_t voxel = index(plane, one, other);
        reached[voxel] = std::exp(-static_cast<float>(lengthOf(one, other)) * extinctionAt(voxel));
      }
  }

 private:
  // Four voxels of a plane around a point, some of which may lie beyond its rim.
  struct Spot {
    float one = 0, other = 0;
    std::array<bool, 4> isThere{};
    std::array<std::size_t, 4> voxels{};
    double lowOne = 0, lowOther = 0;  // where the first is in the plane

    template <typename Of>
    float mix(float beyond, const Of& of) const {
      std::array<float, 4> v{};
      for (std::size_t i = 0; i < 4; ++i) v[i] = isThere[i] ? of(voxels[i]) : beyond;
      const float low = v[0] + (v[1] - v[0]) * one, high = v[2] + (v[3] - v[2]) * one;
      return low + (high - low) * other;
    }
    // Of a function of the place in the plane, which goes on beyond its rim.
    template <typename Of>
    double mixPlaces(const Of& of) const {
      const double x = one, y = other;
      return (of(lowOne, lowOther) * (1 - x) + of(lowOne + 1, lowOther) * x) * (1 - y) +
             (of(lowOne, lowOther + 1) * (1 - x) + of(lowOne + 1, lowOther + 1) * x) * y;
    }
  };
  Spot spotAt(std::size_t plane, double atOne, double atOther) const {
    const double lowOne = std::floor(atOne), lowOther = std::floor(atOther);
    Spot spot;
    spot.lowOne = lowOne;
    spot.lowOther = lowOther;
    spot.one = static_cast<float>(atOne - lowOne);
    spot.other = static_cast<float>(atOther - lowOther);
    for (std::size_t i = 0; i < 4; ++i) {
      const double x = lowOne + (i % 2 == 1 ? 1 : 0), y = lowOther + (i > 1 ? 1 : 0);
      spot.isThere[i] =
          x >= 0 && y >= 0 && x < static_cast<double>(counts_[0]) && y < static_cast<double>(counts_[1]);
      if (spot.isThere[i])
        spot.voxels[i] = index(plane, static_cast<std::size_t>(x), static_cast<std::size_t>(y));
    }
    return spot;
  }

  const GasChannel& density_;
  const GasLook& look_;
  std::array<std::size_t, 2> counts_{};  // across the axis
  std::size_t planes_;                   // along it
  std::size_t step_ = 0;                 // from plane to plane, in the grid
  std::array<std::size_t, 2> steps_{};
};

GasChannel fromFarAway(const GasGrid& grid, const GasChannel& density, const GasLook& look,
                       const Vec3d& towards) {
  const std::size_t axis = longestAxis(towards);
  const Planes planes(grid, density, look, axis);
  const double along = towards[static_cast<int>(axis)];
  const double shiftOne = towards[static_cast<int>((axis + 1) % 3)] / std::abs(along);
  const double shiftOther = towards[static_cast<int>((axis + 2) % 3)] / std::abs(along);
  const double length = grid.voxel / std::abs(along);
  const Run ones{0, planes.across(0)}, others{0, planes.across(1)};
  GasChannel reached(grid.cells().size(), 1.0F);
  const std::size_t last = planes.count() - 1;
  const auto planeAt = [&](std::size_t n) { return along > 0 ? last - n : n; };
  // From the wall to the first voxels' middles.
  planes.enter(
      planeAt(0), ones, others, [&](std::size_t, std::size_t) { return 0.5 * length; }, reached);
  for (std::size_t n = 1; n <= last; ++n)
    planes.carry(
        planeAt(n), planeAt(n - 1), ones, others,
        [&](std::size_t one, std::size_t other) {
          return Way{static_cast<double>(one) + shiftOne, static_cast<double>(other) + shiftOther, length};
        },
        [](const auto&, const Way&) { return 0.0; }, reached);
  return reached;
}

// One of the six pyramids that a light's place is the tip of.
class Pyramid {
 public:
  // `place`: in voxels from the first one's middle.
  Pyramid(const GasGrid& grid, const GasChannel& density, const GasLook& look, const Vec3d& place,
          std::size_t axis, bool isUpward)
      : planes_(grid, density, look, axis),
        along_(place[static_cast<int>(axis)]),
        one_(place[static_cast<int>((axis + 1) % 3)]),
        other_(place[static_cast<int>((axis + 2) % 3)]),
        voxel_(grid.voxel),
        isUpward_(isUpward) {}

  // Sets what reaches its voxels. `reached` is room for what reaches those, and some around.
  void sweep(GasChannel& reached, GasChannel& result) const {
    std::optional<std::size_t> before;
    for (std::size_t i = 0; i < planes_.count(); ++i) {
      const std::size_t plane = isUpward_ ? i : planes_.count() - 1 - i;
      const double away =
          isUpward_ ? static_cast<double>(plane) - along_ : along_ - static_cast<double>(plane);
      if (away < 0) continue;
      const Run ones = across(0, away + kMargin), others = across(1, away + kMargin);
      if (!ones.isEmpty() && !others.isEmpty()) {
        reach(plane, before, away, ones, others, reached);
        keep(plane, away, reached, result);
      }
      before = plane;
    }
  }

 private:
  // So much wider than the pyramid its planes are swept, in voxels, since what reaches a voxel at its rim is
  // mixed from some beyond.
  static constexpr double kMargin = 2;

  Run across(std::size_t which, double reach) const {
    const double middle = which == 0 ? one_ : other_;
    return Run::between(middle - reach, middle + reach, planes_.across(which));
  }
  // From the light to a point of a plane, units.
  double lengthOf(double one, double other, double away) const {
    const double x = one - one_, y = other - other_;
    return voxel_ * std::sqrt(x * x + y * y + away * away);
  }
  void reach(std::size_t plane, std::optional<std::size_t> before, double away, const Run& ones,
             const Run& others, GasChannel& reached) const {
    if (!before) {
      // From the light if it is so near, else from the wall.
      const double part = away < 1 ? 1 : 0.5 / away;
      planes_.enter(
          plane, ones, others,
          [&](std::size_t one, std::size_t other) { return part * lengthOf(one, other, away); }, reached);
      return;
    }
    // Of the plane before, only so much is known.
    const double known = away - 1 + kMargin - 1;
    planes_.carry(
        plane, *before, ones, others,
        [&](std::size_t one, std::size_t other) {
          const double x = static_cast<double>(one) - one_, y = static_cast<double>(other) - other_;
          const double nearer = 1 - 1 / away;
          return Way{one_ + std::clamp(x * nearer, -known, known),
                     other_ + std::clamp(y * nearer, -known, known), lengthOf(one, other, away) / away};
        },
        [&](const auto& spot, const Way& way) {
          const auto distance = [&](double one, double other) { return lengthOf(one, other, away - 1); };
          return spot.mixPlaces(distance) - distance(way.one, way.other);
        },
        reached);
  }
  void keep(std::size_t plane, double away, const GasChannel& reached, GasChannel& result) const {
    const Run ones = across(0, away), others = across(1, away);
    for (std::size_t other = others.begin; other < others.end; ++other)
      for (std::size_t one = ones.begin; one < ones.end; ++one) {
        const std::size_t voxel = planes_.index(plane, one, other);
        result[voxel] = reached[voxel];
      }
  }

  Planes planes_;
  double along_, one_, other_;
  double voxel_;
  bool isUpward_;
};

GasChannel fromPlace(const GasGrid& grid, const GasChannel& density, const GasLook& look,
                     const Vec3d& place) {
  const Vec3d inVoxels = (place - grid.corner) / grid.voxel - 0.5;
  GasChannel reached(grid.cells().size(), 1.0F), result(grid.cells().size(), 1.0F);
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (const bool isUpward : {false, true})
      Pyramid(grid, density, look, inVoxels, axis, isUpward).sweep(reached, result);
  return result;
}

}  // namespace

GasChannel lightThrough(const GasGrid& grid, const GasChannel& density, const GasLook& look,
                        const Light& light) {
  return light.point ? fromPlace(grid, density, look, light.point->place)
                     : fromFarAway(grid, density, look, light.towards);
}

}  // namespace comet
