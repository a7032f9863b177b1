// What influences would do at places where no particle need be: for showing them as arrows.
#pragma once

#include "scene/scene.h"

#include <vector>

namespace comet {

struct PushField {
  // At each place: the acceleration of a particle of mass 1 that rests there, units per second squared; for
  // an influence that displaces, by how much, units.
  std::vector<Vec3d> vectors;
  bool isDisplacement = false;
};

// Of one influence, as if particles answered to it with 100 %, whatever their age. Zero everywhere where it
// is off or outside of its window, and for those that only correct what others did.
PushField pushOf(const Scene& scene, ItemId influence, double frame, const std::vector<Vec3d>& places);

// Of all influences that an emitter's particles answer to, each by its percent; displacements are left out.
PushField pushOn(const Scene& scene, ItemId emitter, double frame, const std::vector<Vec3d>& places);

}  // namespace comet
