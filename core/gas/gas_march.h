// Gas as it is seen along rays.
//
// Light on its way through gas is stopped by the law of Beer and Lambert and sent on once, with what was
// scattered before approximated by octaves (Wrenninge, Kulla and Lundqvist 2013). How much of a light reaches
// each voxel is found once for all rays, plane by plane along the light.
#pragma once

#include "gas/brick_walk.h"
#include "gas/gas_grid.h"
#include "gas/gas_look.h"
#include "gas/gas_spot.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <span>

namespace comet {

// What a ray sees of gas.
struct GasRay {
  Vec3 light{0.0F};         // that comes from the gas
  float transmittance = 1;  // the fraction of what is behind the gas that still comes through
  float depth = 0;          // the mean distance at which light was stopped; 0 if none was
};

// A piece of a ray's way through gas.
struct GasSlab {
  Vec3 light{0.0F};         // that it sends along the ray, as seen at its front
  float transmittance = 1;  // the fraction of what is behind it that comes through
};

// For each light, what each of its octaves of scattering sends in a direction where all of the light comes
// through: one light after the other.
using GasPhases = std::vector<float>;

class GasMarch {
 public:
  // Box, state and look have to outlive it; velocities are not asked for. `stepVoxels`: how far apart looks
  // along a ray are taken, in voxels.
  GasMarch(const GasGrid& grid, const GasState& state, const GasLook& look, std::vector<GasLight> lights,
           double stepVoxels = 1);

  // From `from` along `direction`, of length one, as far as `farthest` units. Any thread.
  GasRay along(const Vec3d& from, const Vec3d& direction, double farthest) const;
  // The pieces of the way between `cuts`, distances that ascend, the first one nearest: one fewer than cuts.
  // `value(at, spot, density)` is what gas at a point sends along the ray, over what it stops; `at` is in
  // voxels from the first one's middle. Any thread.
  template <typename Value>
  void between(const Vec3d& from, const Vec3d& direction, std::span<const double> cuts, const Value& value,
               GasSlab* slabs) const;
  // How much of each light is sent along a ray in such a direction, octave by octave. Any thread.
  GasPhases phasesAlong(const Vec3d& direction) const;
  // The light that gas at a point sends along a ray, over what it stops.
  Vec3 scattered(const GasSpot& spot, float density, const GasPhases& phases) const;
  // How much of the light `which`, as if it were 1, gas at a place in the scene sends along a ray: 1 where
  // nothing is in its way and gas sends as much in all directions. Any thread.
  float sentOn(std::size_t which, const Vec3d& place, const Vec3d& direction) const;
  // How much of what is at such a distance comes through. Any thread.
  float transmittanceTo(const Vec3d& from, const Vec3d& direction, double distance) const;

  // The fraction of the light `which` that reaches each voxel.
  const GasChannel& lit(std::size_t which) const { return lit_[which]; }

 private:
  // From voxels of the box's corner to voxels of the first one's middle.
  static Four fromFirst(const Vec3d& at) {
    return Four{static_cast<float>(at.x - 0.5), static_cast<float>(at.y - 0.5),
                static_cast<float>(at.z - 0.5), 0};
  }
  // `octaves`: how much each sends where all of the light comes through.
  float sentOn(std::size_t which, const GasSpot& spot, std::span<const float> octaves) const;
  std::size_t octaves() const { return static_cast<std::size_t>(look_.scatterings); }
  void addPhases(std::size_t which, const Vec3d& direction, GasPhases& phases) const;
  struct Span {
    double begin = 0, end = 0;
    bool isEmpty() const { return end <= begin; }
  };

  // The part of a ray that lies in the box.
  Span within(const Vec3d& from, const Vec3d& direction, double farthest) const;
  // Calls look(at, distance, length) in the middle of each step that may hold gas until it says false; `at`
  // is in voxels from the first one's middle.
  template <typename Look>
  void eachStep(const Vec3d& from, const Vec3d& direction, double farthest, const Look& look) const;
  void findBricks();
  GasChannel lightThrough(const GasLight& light) const;
  // The part of the stopped light that goes on.
  Vec3 colorAt(const GasSpot& spot, float density) const;
  float extinctionAt(const GasSpot& spot, float& density) const {
    density = nodes_.valueAt(state_.density.data(), spot);
    return look_.extinction.at(density);
  }

  const GasGrid& grid_;
  const GasState& state_;
  const GasLook& look_;
  std::vector<GasLight> lights_;
  double stepVoxels_;
  GasNodes nodes_;
  std::vector<GasChannel> lit_;
  // For each brick of 8³ voxels, whether there is gas in it or at its rim.
  GridLayout bricks_;
  std::vector<std::uint8_t> holdsGas_;

  static constexpr std::size_t kBrick = 8;
  // What comes through less than this shows nothing of what is behind.
  static constexpr float kOpaque = 1e-4F;
};

template <typename Look>
void GasMarch::eachStep(const Vec3d& from, const Vec3d& direction, double farthest, const Look& look) const {
  const Span span = within(from, direction, farthest);
  if (span.isEmpty()) return;
  const double wanted = (span.end - span.begin) / (stepVoxels_ * grid_.voxel);
  const auto count = static_cast<std::size_t>(std::ceil(std::max(wanted, 1.0)));
  const double length = (span.end - span.begin) / static_cast<double>(count);
  const Vec3d start = (from + direction * span.begin - grid_.corner) / grid_.voxel;
  const Vec3d across = direction * (length / grid_.voxel);
  const Four first = fromFirst(start), perStep{static_cast<float>(across.x), static_cast<float>(across.y),
                                               static_cast<float>(across.z), 0};
  BrickWalk walk(bricks_, kBrick, start, across);
  for (std::size_t i = 0; i < count; walk.goOn()) {
    // A step belongs to the brick that its middle is in.
    const double left = std::clamp(walk.leaves(), 0.0, static_cast<double>(count));
    const auto end = static_cast<std::size_t>(left + 0.5);
    if (!holdsGas_[walk.brick()]) i = std::max(i, end);
    for (; i < end; ++i) {
      const double middle = static_cast<double>(i) + 0.5;
      const Four at = first + perStep * static_cast<float>(middle);
      if (!look(at, span.begin + length * middle, static_cast<float>(length))) return;
    }
  }
}

template <typename Value>
void GasMarch::between(const Vec3d& from, const Vec3d& direction, std::span<const double> cuts,
                       const Value& value, GasSlab* slabs) const {
  const std::size_t count = cuts.size() - 1;
  for (std::size_t i = 0; i < count; ++i) slabs[i] = {};
  std::size_t slab = 0;
  float transmittance = 1;
  eachStep(from, direction, cuts[count], [&](const Four& at, double distance, float length) {
    const GasSpot spot = nodes_.spotAt(at);
    float density = 0;
    const float extinction = extinctionAt(spot, density);
    if (!(extinction > 0)) return true;
    const Vec3 sent = value(at, spot, density);
    // A step that a cut divides belongs to the pieces on both sides of it, each for its part.
    double begin = distance - 0.5 * static_cast<double>(length);
    const double end = distance + 0.5 * static_cast<double>(length);
    if (end <= cuts[0]) return true;
    begin = std::max(begin, cuts[0]);
    while (begin < end) {
      while (slab + 1 < count && begin >= cuts[slab + 1]) ++slab;
      const double until = slab + 1 < count ? std::min(end, cuts[slab + 1]) : end;
      const float through = std::exp(-extinction * static_cast<float>(until - begin));
      slabs[slab].light += slabs[slab].transmittance * (1 - through) * sent;
      slabs[slab].transmittance *= through;
      transmittance *= through;
      begin = until;
    }
    return transmittance > kOpaque;
  });
}

}  // namespace comet
