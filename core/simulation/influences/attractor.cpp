#include "base/pose.h"
#include "geometry/mesh_content.h"
#include "simulation/influences/influences.h"

#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/matrix.hpp>
#include <optional>

namespace comet {
namespace {

enum class Law { Even, Spring, Falling, FallingFast };

enum class Goal { Point, Line, Surface };

// A mesh as it is placed in the scene.
class PlacedSurface {
 public:
  PlacedSurface(std::shared_ptr<const MeshContent> mesh, const Pose& pose, double scale)
      : mesh_(std::move(mesh)), points_(mesh_->surfaceTree()), pose_(pose), scale_(scale) {}

  // From a place to the nearest point of the surface; zero if the mesh has none.
  Vec3d wayFrom(const Vec3d& position) const {
    const Vec3d own = pose_.toOwn(position) / scale_;
    const auto nearest = points_->nearest(own);
    return nearest ? pose_.rotation * (nearest->at - own) * scale_ : Vec3d(0.0);
  }
  void describe(Hasher& hasher) const {
    hasher << mesh_->digest() << scale_;
    for (int column = 0; column < 3; ++column) hasher << Vec3d(pose_.rotation[column]);
  }

 private:
  std::shared_ptr<const MeshContent> mesh_;
  std::shared_ptr<const SurfaceTree> points_;
  Pose pose_;
  double scale_;
};

class Attractor : public InfluenceAction {
 public:
  Attractor(const Item& item, double frame)
      : goal_(item.choiceAs<Goal>("target", std::array<std::string_view, 3>{"point", "line", "surface"})),
        place_(item.vector("position", frame)),
        axis_(unitOr(item.vector("axis", frame), Vec3d(0, 1, 0))),
        law_(item.choiceAs<Law>(
            "falloff", std::array<std::string_view, 4>{"constant", "linear", "inverse", "inverse_square"})),
        strength_(item.number("strength", frame)),
        core_(item.number("core_radius", frame)) {
    if (goal_ != Goal::Surface) return;
    if (auto mesh = item.content<MeshContent>("mesh"))
      surface_.emplace(std::move(mesh),
                       Pose{place_, rotationFromDegrees(item.vector("mesh_rotation", frame))},
                       item.number("mesh_scale", frame));
  }

  void describe(Hasher& hasher) const override {
    hasher << goal_ << place_ << axis_ << law_ << strength_ << core_ << surface_.has_value();
    if (surface_) surface_->describe(hasher);
  }

  bool readsPositions() const override { return true; }

  void addTo(Forces& forces, const Samples& samples, const Substep&, const Weights& weights) const override {
    Contribution& sum = law_ == Law::Spring ? forces.spring : forces.force;
    sum.addEach(weights, samples.count, [&](std::size_t i) { return pullAt(samples.position(i)); });
    if (law_ == Law::Spring) forces.stiffness.add(strength_, weights, samples.count);
  }

 private:
  // Softened at the core as masses in simulations of stars are (Plummer 1911; Aarseth 1963): the pull is
  // strength × way × (d² + core²)^(-(n + 1) / 2) for a law that falls with d^n.
  Vec3d pullAt(const Vec3d& position) const {
    const Vec3d path = wayFrom(position);
    if (law_ == Law::Spring) return path * strength_;
    const double squared = glm::dot(path, path) + core_ * core_;
    if (squared < 1e-18) return Vec3d(0.0);
    switch (law_) {
      case Law::Falling:
        return path * (strength_ / squared);
      case Law::FallingFast:
        return path * (strength_ / (squared * std::sqrt(squared)));
      case Law::Even:
      case Law::Spring:
        break;
    }
    return path * (strength_ / std::sqrt(squared));
  }

  Vec3d wayFrom(const Vec3d& position) const {
    if (goal_ == Goal::Surface) return surface_ ? surface_->wayFrom(position) : Vec3d(0.0);
    const Vec3d path = place_ - position;
    return goal_ == Goal::Line ? path - axis_ * glm::dot(path, axis_) : path;
  }

  Goal goal_;
  Vec3d place_, axis_;
  Law law_;
  double strength_;
  double core_;
  std::optional<PlacedSurface> surface_;
};

const KindSpec& attractorSpec() {
  static const KindSpec kind(
      "attractor", "Attractor", ItemFamily::Influence,
      "Attracts particles to a point, a line or a mesh's surface, or repels them from it.",
      influenceParams({
          choice("target", "Attract to",
                 {{"point", "Point", "They are attracted to a point."},
                  {"line", "Line", "They are attracted to an endless line."},
                  {"surface", "Surface", "They are attracted to the nearest point of a mesh's surface."}})
              .in("Attraction")
              .tip("What particles are attracted to."),
          vector("position", "Position", {0, 2, 0})
              .in("Attraction")
              .unit("units")
              .range(-1e6, 1e6)
              .usual(-20, 20)
              .keyed()
              .tip("The position of the point, of a point on the line, or of the mesh's origin."),
          vector("axis", "Axis", {0, 1, 0})
              .in("Attraction")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .when("target", {"line"})
              .tip("The direction of the line; its length does not matter."),
          file("mesh", "Mesh", FileKind::Mesh)
              .in("Attraction")
              .when("target", {"surface"})
              .tip("The mesh whose surface attracts particles."),
          vector("mesh_rotation", "Mesh rotation", {0, 0, 0})
              .in("Attraction")
              .unit("°")
              .range(-3600, 3600)
              .usual(-180, 180)
              .keyed()
              .when("target", {"surface"})
              .tip("Rotates the mesh about x, then y, then z."),
          number("mesh_scale", "Mesh scale", 1)
              .in("Attraction")
              .range(0.0001, 10000)
              .usual(0.1, 10)
              .keyed()
              .when("target", {"surface"})
              .tip("Scales the mesh."),
          number("strength", "Strength", 8)
              .in("Attraction")
              .unit("units/s²")
              .range(-100000, 100000)
              .usual(-40, 40)
              .keyed()
              .tip("The attraction at a distance of one unit. Negative values repel."),
          choice("falloff", "Falloff",
                 {{"constant", "Constant", "It is the same at any distance."},
                  {"linear", "Linear (spring)",
                   "It grows with distance, like that of a spring: particles swing through."},
                  {"inverse", "Inverse", "It is half as strong at twice the distance."},
                  {"inverse_square", "Inverse square",
                   "It is a quarter as strong at twice the distance, like gravity between planets."}})
              .in("Attraction")
              .tip("How the attraction changes with distance."),
          number("core_radius", "Core radius", 0.2)
              .in("Attraction")
              .unit("units")
              .range(0, 1e6)
              .usual(0, 5)
              .keyed()
              .when("falloff", {"constant", "inverse", "inverse_square"})
              .tip("Within about this distance the attraction weakens to nothing, so that particles that "
                   "come close are not flung away."),
      }));
  return kind;
}

}  // namespace

InfluenceKind attractorInfluence() {
  return {.spec = attractorSpec(),
          .group = InfluenceGroup::Force,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<Attractor>(item, time.middleFrame());
          },
          .hints = [](const Item& item, double frame) -> std::vector<PlacedWire> {
            if (!item.chooses("target", "line") || item.chooses("falloff", "linear")) return {};
            return {axisLines(item.vector("position", frame), item.vector("axis", frame),
                              item.number("core_radius", frame))};
          }};
}

}  // namespace comet
