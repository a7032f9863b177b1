// The ways along which the selected item's keys move it, with the keys as handles.
#pragma once

#include "render/camera.h"
#include "session/document.h"

#include <QPainter>
#include <QPointF>
#include <optional>
#include <string>

namespace comet {

class MotionPath {
 public:
  explicit MotionPath(Document& document) : document_(document) {}

  void paint(QPainter& painter, const Projector& projector) const;

  // Each whether it took the event. A key is moved in the plane that faces the viewer.
  bool press(const Projector& projector, const QPointF& position);
  bool move(const Projector& projector, const QPointF& position);
  bool release();

  // In pixels, for tests.
  QPointF keyAt(const Projector& projector, const std::string& param, std::size_t key) const;

 private:
  struct Grip {
    std::string param;
    std::size_t key = 0;
  };

  Scene::ItemPtr item() const { return document_.scene().find(document_.selected()); }
  // The parameters that move it and have a way to show.
  std::vector<std::string> params() const;
  std::optional<Grip> gripAt(const Projector& projector, const QPointF& position) const;

  Document& document_;
  std::optional<Grip> grip_;
};

}  // namespace comet
