// The arrow of a direction: a drag of its tip turns it.
#pragma once

#include "render/camera.h"

#include <QPainter>
#include <QPointF>

namespace comet {

class DirectionGizmo {
 public:
  struct Arrow {
    Vec3d place;      // where it begins
    Vec3d direction;  // of length one
  };

  QPointF tip(const Projector& projector, const Arrow& arrow) const;
  bool isTipAt(const Projector& projector, const Arrow& arrow, const QPointF& position) const;

  void start(const Arrow& arrow);
  // The new direction while it is held, of length one.
  Vec3d turned(const Projector& projector, const QPointF& position) const;
  void stop() { isHeld_ = false; }
  bool isHeld() const { return isHeld_; }

  void paint(QPainter& painter, const Projector& projector, const Arrow& arrow, bool isHovered) const;

 private:
  bool isHeld_ = false;
  Arrow start_{};
};

}  // namespace comet
