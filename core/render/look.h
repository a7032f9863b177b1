// From particles to sprites: everything that is derived when drawing.
//
// Size, opacity and colour come from a particle's identity, its age and the emitter's parameters; nothing of
// it is stored with the particles, so a change of looks never simulates anything again.
#pragma once

#include "base/random.h"
#include "particles/particle_frame.h"
#include "render/camera.h"
#include "render/sprite.h"
#include "scene/scene.h"

#include <array>
#include <vector>

namespace comet {

// An emitter's look at one frame, evaluated.
class Look {
 public:
  Look(const Item& emitter, double frame);

  const SpriteProfile& profile() const { return profile_; }

  // Of the particle with this identity, at a share of its life from 0 to 1.
  double diameter(ParticleId id, double lifeShare) const;
  double opacity(ParticleId id, double lifeShare) const;
  // Linear light, brightness included.
  Vec3 color(double lifeShare) const;

 private:
  static constexpr int kSteps = 256;
  template <typename Sample>
  using Table = std::array<Sample, kSteps + 1>;

  template <typename Sample>
  static Sample read(const Table<Sample>& table, double share);

  SpriteProfile profile_;
  RandomSource random_;
  double size_, sizeVariation_;
  double opacity_, opacityVariation_;
  Table<float> sizeOverAge_, opacityOverAge_;
  Table<Vec3> color_;
};

// Share of its life that a particle has behind it, 0 to 1.
double lifeShare(float age, float lifetime);

// The sprites of particles `first` to `first + count` of a group that can be seen. Writes at most `count` to
// `out` and returns how many.
std::size_t makeSprites(const Look& look, std::uint32_t profileIndex, const ParticleStore& particles,
                        std::size_t first, std::size_t count, const Projector& projector, int width,
                        int height, Sprite* out);

}  // namespace comet
