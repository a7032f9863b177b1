// Where an emitter's particles end before their time.
#pragma once

#include "base/digest.h"
#include "geometry/mesh_content.h"
#include "particles/particle_store.h"
#include "scene/item.h"

#include <memory>

namespace comet {

struct EndBounds {
  enum class Type { None, Sphere, Box, Mesh };

  Type type = Type::None;
  bool endsInside = false;
  Vec3d centre{0.0};
  double radius = 0;
  Vec3d extent{0.0};
  std::shared_ptr<const MeshContent> mesh;  // keeps the test's mesh alive
  std::shared_ptr<const VerticalLines> insideTest;

  // Whether a particle there ends.
  bool ends(const Vec3d& position) const;
  void describe(Hasher& hasher) const;
};

// `gas` is the one whose box they are, if they are asked for; null if there is none.
EndBounds endBoundsOf(const Item& emitter, const Item* gas, double frame);

// Why the bounds do nothing although they are asked for; empty if they work.
std::string problemWithBounds(const Item& emitter);

}  // namespace comet
