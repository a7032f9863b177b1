// How the user looks at the scene in the viewport: through the scene's camera, or freely.
#pragma once

#include "geometry/mesh.h"
#include "render/camera.h"

#include <QPointF>
#include <QString>

namespace comet {

enum class ViewKind { Camera, Free, Front, Side, Top };

class ViewCamera {
 public:
  ViewKind kind() const { return kind_; }
  // Front, side and top start orthographic around what is in the middle now; free starts from the present
  // view.
  void look(ViewKind kind, const Camera& now);
  // The camera to draw with.
  Camera camera(const Scene& scene, double frame) const;

  // Moves that leave the scene's camera alone: a view through it becomes a free one first. Distances are
  // pixels of a picture `height` pixels high.
  void orbit(const QPointF& pixels, const Camera& now);
  void pan(const QPointF& pixels, int height, const Camera& now);
  void zoom(double factor, const Camera& now);
  // Looks the same way, from where the box fills a picture of this shape.
  void fit(const Box& box, double aspect, const Camera& now);

 private:
  void makeFree(const Camera& now);

  ViewKind kind_ = ViewKind::Camera;
  Camera own_;
};

}  // namespace comet
