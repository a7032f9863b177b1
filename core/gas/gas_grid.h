// A box of voxels that gas moves in.
//
// Densities and temperatures lie at the voxels' middles, velocities across their faces (Harlow and Welch
// 1965): the component along an axis is known where a face between two voxels along that axis has its middle.
#pragma once

#include "base/digest.h"
#include "base/grid.h"
#include "base/untouched.h"
#include "base/vec.h"

#include <array>
#include <cstddef>
#include <vector>

namespace comet {

struct GasGrid {
  std::array<std::size_t, 3> counts{};  // voxels along each axis, at least one
  double voxel = 1;                     // the length of their edges, units
  Vec3d corner{0.0};                    // the least corner of the box, in the scene
  // Whether gas leaves and air comes in through the box's lower and upper wall along each axis.
  std::array<std::array<bool, 2>, 3> open{};

  GridLayout cells() const { return {counts}; }
  // Of the faces across an axis, which are one more along it than there are voxels.
  GridLayout faces(std::size_t axis) const {
    GridLayout layout{counts};
    ++layout.counts[axis];
    return layout;
  }
  // Whether no wall is open, so that what is in the box stays in it.
  bool isClosed() const {
    for (const auto& walls : open)
      if (walls[0] || walls[1]) return false;
    return true;
  }

  // Whether nothing can move along an axis: flat gas is a voxel thick between closed walls.
  bool isStill(std::size_t axis) const { return counts[axis] == 1 && !open[axis][0] && !open[axis][1]; }

  // Walls as bits of a number: that of an axis and a side.
  static constexpr unsigned wallBit(std::size_t axis, std::size_t side) { return 1U << (2 * axis + side); }

  // Along each axis, units.
  Vec3d size() const {
    return voxel * Vec3d(static_cast<double>(counts[0]), static_cast<double>(counts[1]),
                         static_cast<double>(counts[2]));
  }
  Vec3d middle() const { return corner + 0.5 * size(); }
  // Of a voxel, by its place along each axis or by its index in cells().
  Vec3d middleOf(std::size_t x, std::size_t y, std::size_t z) const {
    return corner +
           voxel * (Vec3d(static_cast<double>(x), static_cast<double>(y), static_cast<double>(z)) + 0.5);
  }
  Vec3d middleOf(std::size_t index) const {
    const GridLayout layout = cells();
    return middleOf(index % layout.row(), index % layout.plane() / layout.row(), index / layout.plane());
  }

  void describe(Hasher& hasher) const;
  bool operator==(const GasGrid&) const = default;
};

// From a node of a grid to the next one along an axis.
inline std::size_t stepAlong(const GridLayout& layout, std::size_t axis) {
  return axis == 0 ? std::size_t{1} : axis == 1 ? layout.row() : layout.plane();
}

// One number for each voxel, or for each face across an axis.
using GasChannel = BlockVector<float>;

// The velocity across all faces, units per second.
using GasVelocity = std::array<GasChannel, 3>;

struct GasState {
  GasVelocity velocity;
  GasChannel density;      // 0 and more
  GasChannel temperature;  // above that of the air around, kelvin
  // Density times its linear colour; empty where gas carries none.
  std::array<GasChannel, 3> color;
  // Density times the seconds since it was given off, by the gas's own time; empty where that is not kept.
  GasChannel age;
  GasChannel fuel;  // 0 and more; empty where nothing can burn

  bool hasColor() const { return !color[0].empty(); }
  bool hasAge() const { return !age.empty(); }
  bool hasFuel() const { return !fuel.empty(); }

  // What it carries that comes and goes with the density: those that it has.
  std::vector<GasChannel*> withDensity();
  // All that lies at the voxels' middles.
  std::vector<GasChannel*> contents();
};

// What a gas carries beside its density and temperature.
struct GasExtras {
  bool color = false;
  bool age = false;
  bool fuel = false;
  int detail = 1;  // how many times as fine, along each axis, the voxels are in which it is seen

  std::size_t channels() const { return (color ? 3U : 0U) + (age ? 1U : 0U) + (fuel ? 1U : 0U); }
  bool operator==(const GasExtras&) const = default;
};

// Gas at rest, with nothing in it.
GasState emptyGas(const GasGrid& grid, const GasExtras& extras = {});

}  // namespace comet
