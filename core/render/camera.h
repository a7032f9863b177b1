// Cameras: from a point in the scene to a point in the picture.
//
// Picture space: x to the right, y down, in pixels; (0, 0) is the top left corner of the top left pixel.
#pragma once

#include "base/vec.h"
#include "params/schema.h"
#include "render/clip_plane.h"
#include "scene/scene.h"

#include <glm/geometric.hpp>
#include <optional>
#include <vector>

namespace comet {

const KindSpec& cameraKind();

struct Camera {
  enum class Projection { Perspective, Orthographic };

  Projection projection = Projection::Perspective;
  Vec3d place{0, 2, 10};
  Vec3d aim{0, 2, 0};
  double fieldOfView = 40;  // degrees, from the picture's bottom to its top
  double height = 6;        // orthographic: scene units from the picture's bottom to its top

  // Unit vectors: to the right and up in the picture, and away from the viewer. Up is as near to +y as it can
  // be.
  struct Frame {
    Vec3d right, up, forward;
  };
  Frame frame() const;
  // How much of the scene fits between the picture's bottom and top at the aim, units.
  double heightAtAim() const;
};

// The parameters of a view, for every kind of item that has one; `affected` is what they change.
std::vector<ParamSpec> viewParams(Affects affected);
Camera viewOf(const Item& item, double frame);
// The item set so that it sees what `camera` sees; keys of these parameters are dropped.
Item withView(Item item, const Camera& camera);

// Of the scene's camera.
Camera cameraOf(const Scene& scene, double frame);
Scene withCamera(const Scene& scene, const Camera& camera);

// A camera made ready for one picture size, and what it does not see.
class Projector {
 public:
  Projector(const Camera& camera, int width, int height, std::optional<ClipPlane> clip = {});

  struct Point {
    double x, y;           // pixels
    double depth;          // scene units from the viewer along its axis; negative is behind
    double pixelsPerUnit;  // at that depth
  };
  // Points nearer than `kNearest` in front of a perspective camera have no sensible place: visible() is
  // false.
  Point project(const Vec3d& point) const;
  // As of project(), and 0 for what is not visible.
  double pixelsPerUnitAt(const Vec3d& point) const {
    if (!perspective_) return scale_;
    const double depth = glm::dot(point - place_, frame_.forward);
    return depth > kNearest ? scale_ / depth : 0;
  }
  bool isPerspective() const { return perspective_; }
  // Pixels per unit: at a distance of 1 in perspective, else everywhere.
  double scale() const { return scale_; }
  bool visible(const Point& point) const { return !perspective_ || point.depth > kNearest; }

  const std::optional<ClipPlane>& clip() const { return clip_; }
  bool isClipped(const Vec3d& point) const { return clip_ && clip_->beyond(point) > 0; }

  // A direction of the scene as it lies in the picture, x to the right and y down, per unit of length; seen
  // from the middle of the picture, which is exact for an orthographic camera.
  Vec2d directionInPicture(const Vec3d& direction) const;

  // The direction into the scene, of length one, and the origin of the ray through a pixel position.
  void ray(double x, double y, Vec3d& origin, Vec3d& direction) const;

  static constexpr double kNearest = 0.01;

 private:
  Camera::Frame frame_;
  Vec3d place_;
  bool perspective_;
  double scale_;  // pixels per unit at distance 1 (perspective) or everywhere (orthographic)
  double centreX_, centreY_;
  std::optional<ClipPlane> clip_;
};

}  // namespace comet
