// The shapes of deflectors, as distances.
#pragma once

#include "base/digest.h"
#include "base/vec.h"
#include "geometry/mesh_content.h"
#include "geometry/wire.h"
#include "scene/item.h"

#include <array>
#include <limits>
#include <memory>
#include <optional>

namespace comet {

// How far a place is from a surface, and which way leads straight away from it, of length one. Negative
// within what is solid.
struct SurfaceDistance {
  double distance = 0;
  Vec3d normal{0, 1, 0};
};

// One of the surfaces of which the nearest is what counts, seen from a place.
struct SurfacePart {
  double distance = 0;
  Vec3d normal{0, 1, 0};
  // How strongly the surface bends towards the place, 1/units: going on for a way s along the tangent, it may
  // come nearer by half of this times s².
  double bend = 0;
};

// About its own origin, standing along its y. All distances are exact, so that a way of that length in any
// direction cannot cross the surface.
class DeflectorShape {
 public:
  // What is made from pictures is a mesh too.
  enum class Type { Plane, Rectangle, Disc, Box, Sphere, Cylinder, Capsule, Mesh };

  DeflectorShape() = default;
  DeflectorShape(const Item& deflector, double frame);

  // Builds what finds places on a mesh, which takes a while the first time; before, one can only draw it.
  DeflectorShape readyToMeet(const Progress& progress) const;

  // How particles meet a mesh: by rays along their ways and the exact nearest points, or by distances on a
  // grid. The latter know an inside and how near the surface is, and so suit what is closed and particles
  // that are stopped by their rims; the former suit everything else.
  bool isMetByField() const { return metByField_; }
  bool isMetByRays() const { return type_ == Type::Mesh && !metByField_; }
  // Cells of the distance field along the mesh's longest side.
  int fieldCells() const { return fieldCells_; }

  Type type() const { return type_; }
  // Half the size along each axis; the radius is its x.
  const Vec3d& half() const { return half_; }
  bool isInsideOut() const { return insideOut_; }
  // Without thickness: it is hit from both sides and has no inside.
  bool isThin() const {
    return type_ == Type::Rectangle || type_ == Type::Disc ||
           (type_ == Type::Mesh && !(mesh_ && mesh_->report().isClosed()));
  }
  // The middle of the box in which it lies; away from its origin for meshes only.
  const Vec3d& centre() const { return centre_; }
  // Null unless it is a mesh.
  const MeshContent* mesh() const { return mesh_.get(); }
  std::shared_ptr<const Mesh> triangles() const {
    return mesh_ ? std::shared_ptr<const Mesh>(mesh_, &mesh_->mesh()) : nullptr;
  }
  double meshScale() const { return meshScale_; }

  // Of a mesh, no farther than `within`: beyond, it is given as endlessly far.
  SurfaceDistance at(const Vec3d& place, double within = std::numeric_limits<double>::infinity()) const;
  // Whether a place lies in what is solid.
  bool isInside(const Vec3d& place) const;
  // The fraction of a straight way at which it meets a mesh's surface, and the surface's normal against the
  // way.
  struct Crossing {
    double fraction = 0;
    Vec3d normal{0, 1, 0};
  };
  std::optional<Crossing> crossing(const Vec3d& from, const Vec3d& to) const;
  double fieldSpacing() const { return field_->spacing() * meshScale_; }
  // As at(), without the normal; for what is met by a field.
  double distanceByField(const Vec3d& place) const {
    const double out = field_->distanceAt(place / meshScale_) * meshScale_;
    return insideOut_ ? -out : out;
  }
  // Whether places may be as near to a mesh's surface as their ranges, or in what is solid. A quick answer,
  // which is true for some others too. In the mesh's space, before it is scaled.
  void mayBeNear(const DistanceField::Places& places, bool* near) const;
  // Whether several surfaces could be met next.
  bool hasParts() const { return insideOut_ && (type_ == Type::Box || type_ == Type::Cylinder); }
  // All surfaces that could be met next, always in the same order. What is seen from outside is convex and
  // one of them; what holds particles in has several.
  static constexpr int kMaxParts = 6;
  int parts(const Vec3d& place, std::array<SurfacePart, kMaxParts>& parts) const;
  void describe(Hasher& hasher) const;
  // For drawing it.
  Wire wire() const;

 private:
  using Whereabouts = DistanceField::Whereabouts;

  SurfaceDistance outside(const Vec3d& place) const;
  SurfaceDistance fromMesh(const Vec3d& place, double within) const;
  SurfaceDistance fromField(const Vec3d& place) const;
  bool isInsideMesh(const Vec3d& own) const;
  Whereabouts about(const Vec3d& own, double range) const {
    const Vec3 place(own);
    return near_->about({place.x, place.y, place.z, static_cast<float>(range)});
  }

  Type type_ = Type::Plane;
  Vec3d half_{1.0}, centre_{0.0};
  bool insideOut_ = false;  // it holds in what is within it
  std::shared_ptr<const MeshContent> mesh_;
  double meshScale_ = 1;
  std::shared_ptr<const SurfaceTree> tree_;
  std::shared_ptr<const VerticalLines> inside_;  // null for an open mesh
  bool metByField_ = false;
  int fieldCells_ = 0;
  std::shared_ptr<const DistanceField> field_;  // if it is met by that
  std::shared_ptr<const DistanceField> near_;   // a coarse one, which saves most searches
};

}  // namespace comet
