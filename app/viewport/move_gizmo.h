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

  void start(Grip grip, const Projector& projector, const Vec3d& place, const QPointF& position);
  // The new place while the grip is held.
  Vec3d moved(const Projector& projector, const QPointF& position) const;
  void stop() { grip_ = Grip::None; }
  Grip held() const { return grip_; }

  void paint(QPainter& painter, const Projector& projector, const Vec3d& place, Grip hovered) const;

 private:
  // The point that a pixel position stands for while a grip is held.
  Vec3d pointUnder(const Projector& projector, const QPointF& position) const;

  Grip grip_ = Grip::None;
  Vec3d startPlace_{0.0};
  Vec3d startPoint_{0.0};
};

}  // namespace comet
