// How what is shown of a particle stands in the scene.
#pragma once

#include "base/random.h"
#include "scene/item.h"

namespace comet {

enum class Facing { Camera, Motion, Launch, Plane, Tumble };

Facing facingOf(const Item& emitter);

// Whether what has a shape in space, a mesh or a card, turns about an axis of its own.
inline bool tumbles(Facing facing) { return facing == Facing::Camera || facing == Facing::Tumble; }

// The normal of the plane in which an emitter's sprites lie, of length one.
Vec3d planeNormalOf(const Item& emitter, double frame);

// The axis, one of a particle's own, about which it tumbles.
Vec3d tumblingAxis(ParticleId id, const RandomSource& random);

// A rotation that takes y to `up`, of length one, after turning by `angle`, radians, about it.
Mat3d standing(const Vec3d& up, double angle);

}  // namespace comet
