// Gas as it is seen along rays.
//
// Light on its way through gas is stopped by the law of Beer and Lambert and sent on once, with what was
// scattered before approximated by octaves (Wrenninge, Kulla and Lundqvist 2013). How much of a light reaches
// each voxel is found once for all rays, plane by plane along the light.
#pragma once

#include "gas/gas_grid.h"
#include "gas/gas_look.h"
#include "gas/gas_spot.h"

#include <cstdint>

namespace comet {

// What a ray sees of gas.
struct GasRay {
  Vec3 light{0.0F};         // that comes from the gas
  float transmittance = 1;  // the fraction of what is behind the gas that still comes through
  float depth = 0;          // the mean distance at which light was stopped; 0 if none was
};

class GasMarch {
 public:
  // Box, channels and look have to outlive it. `stepVoxels`: how far apart looks along a ray are taken, in
  // voxels.
  GasMarch(const GasGrid& grid, const GasChannel& density, const GasChannel& temperature, const GasLook& look,
           std::vector<GasLight> lights, double stepVoxels = 1);

  // From `from` along `direction`, of length one, as far as `farthest` units. Any thread.
  GasRay along(const Vec3d& from, const Vec3d& direction, double farthest) const;
  // How much of what is at such a distance comes through. Any thread.
  float transmittanceTo(const Vec3d& from, const Vec3d& direction, double distance) const;

  // The fraction of the light `which` that reaches each voxel.
  const GasChannel& lit(std::size_t which) const { return lit_[which]; }

 private:
  struct Span {
    double begin = 0, end = 0;
    bool isEmpty() const { return end <= begin; }
  };

  // The part of a ray that lies in the box.
  Span within(const Vec3d& from, const Vec3d& direction, double farthest) const;
  // Calls look(at, distance, length) in the middle of each step that may hold gas until it says false; `at`
  // is in voxels from the corner.
  template <typename Look>
  void eachStep(const Vec3d& from, const Vec3d& direction, double farthest, const Look& look) const;
  void findBricks();
  GasChannel lightThrough(const GasLight& light) const;
  Vec3 scattered(const GasSpot& spot, float density, const Vec3d& direction) const;

  const GasGrid& grid_;
  const GasChannel& density_;
  const GasChannel& temperature_;
  const GasLook& look_;
  std::vector<GasLight> lights_;
  double stepVoxels_;
  GasNodes nodes_;
  std::vector<GasChannel> lit_;
  // For each brick of 8³ voxels, whether there is gas in it or at its rim.
  GridLayout bricks_;
  std::vector<std::uint8_t> holdsGas_;
};

}  // namespace comet
