// The handles that move an emitter: one for each axis, and a square for moving in the plane of the picture.
#pragma once

#include "render/camera.h"

#include <QPainter>
#include <QPointF>

namespace comet {

class MoveGizmo {
 public:
  enum class Grip { None, X, Y, Z, Plane };

  // Where the handles are in the picture, in its pixels.
  QPointF centre(const Projector& projector, const Vec3d& place) const;
  QPointF tip(const Projector& projector, const Vec3d& place, int axis) const;

  Grip gripAt(const Projector& projector, const Vec3d& place, const QPointF& position) const;

  void start(Grip airDrag, const Projector& projector, const Vec3d& place, const QPointF& position);
  // The new place while the airDrag is held.
  Vec3d moved(const Projector& projector, const QPointF& position) const;
  void stop() { airDrag_ = Grip::None; }
  Grip held() const { return airDrag_; }

  void paint(QPainter& painter, const Projector& projector, const Vec3d& place, Grip hovered) const;

 private:
  // The point that a pixel position stands for while a airDrag is held.
  Vec3d pointUnder(const Projector& projector, const QPointF& position) const;

  Grip airDrag_ = Grip::None;
  Vec3d startPlace_{0.0};
  Vec3d startPoint_{0.0};
};

}  // namespace comet
