// The handles in the middles of a box's faces, which move that face and leave the opposite one where it is.
#pragma once

#include "render/camera.h"

#include <QPainter>
#include <QPointF>
#include <array>
#include <optional>

namespace comet {

class BoxGizmo {
 public:
  struct Box {
    Vec3d middle{0.0}, size{1.0};
  };
  // A face across an axis, at its lower or upper end.
  struct Face {
    int axis = 0;
    bool isUpper = false;

    bool operator==(const Face&) const = default;
  };

  // Where a handle is in the picture, in its pixels.
  QPointF handle(const Projector& projector, const Box& box, const Face& face) const;
  std::optional<Face> faceAt(const Projector& projector, const Box& box, const QPointF& position) const;

  void start(const Face& face, const Projector& projector, const Box& box, const QPointF& position);
  // The box while a handle is held; no face comes nearer to the opposite one than a thousandth of a unit.
  Box moved(const Projector& projector, const QPointF& position) const;
  void stop() { held_.reset(); }
  bool isHeld() const { return held_.has_value(); }

  void paint(QPainter& painter, const Projector& projector, const Box& box,
             const std::optional<Face>& hovered) const;

 private:
  static Vec3d placeOf(const Box& box, const Face& face);

  std::optional<Face> held_;
  Box startBox_;
  double startAt_ = 0;  // along the axis
};

}  // namespace comet
