// What data sheets say of particles and gas: how they move until the next cell, how far away they are, how
// old, how dense, how warm, and how they are rounded.
#pragma once

#include "particles/particle_state.h"
#include "render/camera.h"
#include "render/gas_layer.h"
#include "render/look.h"

#include <vector>

namespace comet {

// Where a particle moves in the picture until another frame, pixels to the right and down. One that does not
// live then goes on along its velocity. Trails move along themselves.
class MotionPaint : public SpritePaint {
 public:
  // `seconds` is the time until `next`; negative if it lies before. `projector` is that of `next`.
  MotionPaint(const ParticleState& next, const Projector& projector, double seconds);

  Vec2d of(const DrawnParticle& particle, const Sprite& sprite, const Projector::Point& point,
           const Projector& projector) const override;
  // Of a card that lives then and has points, where the point is.
  Vec2d ofCard(const CardCorner& corner, const Projector::Point& point,
               const Projector& projector) const override;
  void ofTrail(const std::vector<LinePoint>& points, const Projector& projector,
               std::vector<Vec2d>& values) const override;
  std::optional<Vec2d> ofGas(const GasPlace& place, const Projector& projector) const override;

 private:
  // Nothing if it does not live then.
  std::optional<std::size_t> indexThen(const ParticleStore& store, ParticleId id) const;
  Vec2d until(const Vec3d& then, const Projector::Point& now) const;

  const ParticleState& next_;
  const Projector& then_;
  double seconds_;
};

// Units from the viewer along its axis.
class DepthPaint : public SpritePaint {
 public:
  Vec2d of(const DrawnParticle& particle, const Sprite& sprite, const Projector::Point& point,
           const Projector& projector) const override;
  void ofTrail(const std::vector<LinePoint>& points, const Projector& projector,
               std::vector<Vec2d>& values) const override;
  std::optional<Vec2d> ofGas(const GasPlace& place, const Projector& projector) const override;
};

// The fraction of its life that a particle has behind it; along a trail, the fraction of its length; of gas,
// the fraction of its full age, where it carries ages.
class AgePaint : public SpritePaint {
 public:
  Vec2d of(const DrawnParticle& particle, const Sprite& sprite, const Projector::Point& point,
           const Projector& projector) const override;
  void ofTrail(const std::vector<LinePoint>& points, const Projector& projector,
               std::vector<Vec2d>& values) const override;
  std::optional<Vec2d> ofGas(const GasPlace& place, const Projector& projector) const override;
};

// What a channel of gas holds on average, by how much of it is seen. Particles and trails have none.
class GasChannelPaint : public SpritePaint {
 public:
  explicit GasChannelPaint(GasChannel GasState::*channel) : channel_(channel) {}

  Vec2d of(const DrawnParticle& particle, const Sprite& sprite, const Projector::Point& point,
           const Projector& projector) const override;
  std::optional<Vec2d> ofGas(const GasPlace& place, const Projector& projector) const override;

 private:
  GasChannel GasState::*channel_;
};

// For normals: where a sprite's middle lies, in its own radii, from the middle of the picture.
class MiddlePaint : public SpritePaint {
 public:
  explicit MiddlePaint(const Vec2d& pictureMiddle) : middle_(pictureMiddle) {}

  Vec2d of(const DrawnParticle& particle, const Sprite& sprite, const Projector::Point& point,
           const Projector& projector) const override;
  // Where its face looks.
  Vec2d ofCard(const CardCorner& corner, const Projector::Point& point,
               const Projector& projector) const override;
  // Faces where it gets thinner.
  std::optional<Vec2d> ofGas(const GasPlace& place, const Projector& projector) const override;

 private:
  Vec2d middle_;
};

// For normals: how much of a sprite's radius a pixel is. Trails and cards are flat.
class CurvaturePaint : public SpritePaint {
 public:
  Vec2d of(const DrawnParticle& particle, const Sprite& sprite, const Projector::Point& point,
           const Projector& projector) const override;
  Vec2d ofCard(const CardCorner& corner, const Projector::Point& point,
               const Projector& projector) const override;
  std::optional<Vec2d> ofGas(const GasPlace& place, const Projector& projector) const override;
};

}  // namespace comet
