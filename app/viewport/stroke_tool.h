// Drawing strokes into the scene, and moving their points, for the item that has any.
//
// While drawing, a drag adds a stroke on the plane through the item's place that faces the viewer. Otherwise
// points are moved in that plane; a double click takes one away.
#pragma once

#include "base/pose.h"
#include "base/strokes.h"
#include "render/camera.h"
#include "session/document.h"

#include <QPainter>
#include <QPointF>
#include <optional>

namespace comet {

class StrokeTool {
 public:
  explicit StrokeTool(Document& document) : document_(document) {}

  // Whether the selected item has strokes that apply.
  bool isUsable() const;
  // Each whether it took the event.
  bool press(const Projector& projector, const QPointF& position);
  bool move(const Projector& projector, const QPointF& position);
  bool release(const Projector& projector);
  bool doubleClick(const Projector& projector, const QPointF& position);

  void paint(QPainter& painter, const Projector& projector) const;
  // In pixels, for tests.
  QPointF pointAt(const Projector& projector, std::size_t stroke, std::size_t point) const;

 private:
  struct Grip {
    std::size_t stroke = 0, point = 0;
  };

  Scene::ItemPtr item() const { return document_.scene().find(document_.selected()); }
  const StrokeList& strokes() const;
  Pose pose() const;
  Vec3d toScene(const Vec3d& own) const;
  // The point under a position on the plane through `through` that faces the viewer, in the item's space.
  Vec3d pointUnder(const Projector& projector, const QPointF& position, const Vec3d& through) const;
  std::optional<Grip> gripAt(const Projector& projector, const QPointF& position) const;
  void set(StrokeList strokes);

  Document& document_;
  std::optional<Grip> grip_;
  Stroke drawn_;  // the one that is being drawn
};

}  // namespace comet
