// Gas as it is seen along rays.
//
// Light on its way through gas is stopped by the law of Beer and Lambert and sent on once, with what was
// scattered before approximated by octaves (Wrenninge, Kulla and Lundqvist 2013). How much of a light reaches
// each voxel is found once for all rays. Gas that glows sends light by
// itself, and lights the gas around it (see FireLight).
#pragma once

#include "base/color.h"
#include "base/light.h"
#include "gas/brick_walk.h"
#include "gas/fire_light.h"
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
  float depth = 0;          // the mean distance at which light was stopped or given off; 0 if none was
};

// A piece of a ray's way through gas.
struct GasSlab {
  Vec3 light{0.0F};         // that it sends along the ray, as seen at its front
  float transmittance = 1;  // the fraction of what is behind it that comes through
};

// A point in gas that may be seen.
struct GasPoint {
  Four at;  // in voxels from the first one's middle
  GasSpot spot;
  float density;
  Vec3 glow{0.0F};  // the light that it gives off by itself on a unit of the way
};

// What gas at a point sends along a ray: of others' light, over what it stops, and by itself, on a unit of
// the way.
struct GasSent {
  Vec3 scattered{0.0F};
  Vec3 glow{0.0F};
};

// How much light that gas gives off counts where pixels are weighed by how much of the gas is seen: by its
// luminance.
inline float glowWeight(const Vec3& glow) { return static_cast<float>(luminance(Vec3d(glow))); }

// How light is sent in a direction.
struct GasPhases {
  Vec3d direction;
  // What each octave of scattering sends of a light from far away where all of it comes through: one such
  // light after the other.
  std::vector<float> ofFar;
};

class GasMarch {
 public:
  // Box, state and look have to outlive it; velocities are not asked for. `stepVoxels`: how far apart looks
  // along a ray are taken, in voxels.
  GasMarch(const GasGrid& grid, const GasState& state, const GasLook& look, std::vector<Light> lights,
           double stepVoxels = 1);

  // From `from` along `direction`, of length one, as far as `farthest` units. Any thread.
  GasRay along(const Vec3d& from, const Vec3d& direction, double farthest) const;
  // The pieces of the way between `cuts`, distances that ascend, the first one nearest: one fewer than cuts.
  // `sent(point)` is what gas at a point sends along the ray, a GasSent. Any thread.
  template <typename Sent>
  void between(const Vec3d& from, const Vec3d& direction, std::span<const double> cuts, const Sent& sent,
               GasSlab* slabs) const;
  // How much of each light is sent along a ray in such a direction, octave by octave. Any thread.
  GasPhases phasesAlong(const Vec3d& direction) const;
  // The light that gas at a point sends along a ray, over what it stops; 0 where it stops nothing.
  Vec3 scattered(const GasPoint& point, const GasPhases& phases) const;
  // How much of the light `which`, as if it were 1, gas at a place in the scene sends along a ray: 1 where
  // nothing is in its way and gas sends as much in all directions. Any thread.
  float sentOn(std::size_t which, const Vec3d& place, const Vec3d& direction) const;
  // In the scene, of a point's `at`.
  Vec3d placeOf(const Four& at) const {
    return grid_.corner + grid_.voxel * (Vec3d(at[0], at[1], at[2]) + 0.5);
  }
  // How much of what is at such a distance comes through. Any thread.
  float transmittanceTo(const Vec3d& from, const Vec3d& direction, double distance) const;

  // The fraction of the light `which` that gas lets through to each voxel; empty if it throws no shadow.
  const GasChannel& lit(std::size_t which) const { return lit_[which]; }

 private:
  // From voxels of the box's corner to voxels of the first one's middle.
  static Four fromFirst(const Vec3d& at) {
    return Four{static_cast<float>(at.x - 0.5), static_cast<float>(at.y - 0.5),
                static_cast<float>(at.z - 0.5), 0};
  }
  // How much of the light `which` gets to a spot.
  float throughTo(std::size_t which, const GasSpot& spot) const;
  float sentOn(std::size_t which, const Vec3d& place, const GasSpot& spot, const Vec3d& direction) const;
  float sentOnOfFar(std::size_t which, const GasSpot& spot, const float* phases) const;
  std::size_t octaves() const { return static_cast<std::size_t>(look_.scatterings); }
  // Calls take(sent) for each octave of scattering: what it sends of a light at such an angle where all of it
  // comes through.
  template <typename Take>
  void eachOctave(float cosine, const Take& take) const;
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
  // The part of the stopped light that goes on.
  Vec3 colorAt(const GasSpot& spot, float density) const;
  // Calls look(point, extinction, distance, length) for each step that shows anything, as eachStep does.
  template <typename Look>
  void eachSeen(const Vec3d& from, const Vec3d& direction, double farthest, const Look& look) const;
  Vec3 glowAt(const GasSpot& spot) const {
    const float temperature = nodes_.valueAt(heat_.data(), spot);
    return temperature > look_.glowsFrom ? look_.fire.at(temperature) : Vec3(0.0F);
  }
  // How far the light of a step of even gas gets on its way out of it, on average over the step, times its
  // length.
  static float litLength(float extinction, float length, float through) {
    constexpr float kThin = 1e-3F;
    return extinction * length > kThin ? (1 - through) / extinction : length;
  }

  const GasGrid& grid_;
  const GasState& state_;
  const GasLook& look_;
  std::vector<Light> lights_;
  double stepVoxels_;
  float firstOctave_ = 1;  // its weight; all of them make 1
  GasNodes nodes_;
  std::vector<GasChannel> lit_;
  // The temperature as fire is seen by: smooth, since a flame's edge is as sharp as a voxel, and its steep
  // colours would show each one. Empty where nothing glows.
  GasChannel heat_;
  FireLight fireLight_;
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
    // Never negative. NOLINTNEXTLINE(bugprone-incorrect-roundings)
    const auto end = static_cast<std::size_t>(left + 0.5);
    if (!holdsGas_[walk.brick()]) i = std::max(i, end);
    for (; i < end; ++i) {
      const double middle = static_cast<double>(i) + 0.5;
      const Four at = first + perStep * static_cast<float>(middle);
      if (!look(at, span.begin + length * middle, static_cast<float>(length))) return;
    }
  }
}

template <typename Look>
void GasMarch::eachSeen(const Vec3d& from, const Vec3d& direction, double farthest, const Look& look) const {
  eachStep(from, direction, farthest, [&](const Four& at, double distance, float length) {
    const GasSpot spot = nodes_.spotAt(at);
    GasPoint point{at, spot, nodes_.valueAt(state_.density.data(), spot)};
    const float extinction = look_.extinction.at(point.density);
    if (look_.glows()) point.glow = glowAt(spot);
    const bool isSeen = extinction > 0 || (look_.glows() && point.glow != Vec3(0.0F));
    return !isSeen || look(point, extinction, distance, length);
  });
}

template <typename Sent>
void GasMarch::between(const Vec3d& from, const Vec3d& direction, std::span<const double> cuts,
                       const Sent& sent, GasSlab* slabs) const {
  const std::size_t count = cuts.size() - 1;
  for (std::size_t i = 0; i < count; ++i) slabs[i] = {};
  std::size_t slab = 0;
  float transmittance = 1;
  eachSeen(from, direction, cuts[count],
           [&](const GasPoint& point, float extinction, double distance, float length) {
             const GasSent light = sent(point);
             // A step that a cut divides belongs to the pieces on both sides of it, each for its part.
             double begin = distance - 0.5 * static_cast<double>(length);
             const double end = distance + 0.5 * static_cast<double>(length);
             if (end <= cuts[0]) return true;
             begin = std::max(begin, cuts[0]);
             while (begin < end) {
               while (slab + 1 < count && begin >= cuts[slab + 1]) ++slab;
               const double until = slab + 1 < count ? std::min(end, cuts[slab + 1]) : end;
               const auto part = static_cast<float>(until - begin);
               const float through = std::exp(-extinction * part);
               Vec3 added = (1 - through) * light.scattered;
               if (look_.glows()) added += litLength(extinction, part, through) * light.glow;
               slabs[slab].light += slabs[slab].transmittance * added;
               slabs[slab].transmittance *= through;
               transmittance *= through;
               begin = until;
             }
             return transmittance > kOpaque;
           });
}

}  // namespace comet
