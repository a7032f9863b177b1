// The course of a keyed parameter of the selected item over the frames, as curves with handles.
//
// Drag a key in time and value, or the end of a handle (with Alt it leaves the one opposite as it is);
// double-click for another key, right-click a key to choose how the curve goes on from it. The names on the
// left choose what is shown.
#pragma once

#include "session/document.h"
#include "timeline/time_scale.h"

#include <QRectF>
#include <optional>

class QMenu;
class QPainter;

namespace comet {

class KeyGraph {
 public:
  explicit KeyGraph(Document& document) : document_(document) {}

  // Where the graph lies; names stand to the left of it.
  void place(const TimeScale& scale, const QRectF& area);
  bool contains(const QPointF& position) const { return area_.contains(position); }
  // What is shown; empty if nothing is keyed.
  const std::string& param() const { return param_; }
  QPointF placeOf(double frame, double value) const;

  void paint(QPainter& painter) const;
  // Whether the position is on one of the names, which is then shown.
  bool chooseAt(const QPointF& position);
  // Whether a key or handle is there, which is then held.
  bool press(const QPointF& position);
  void drag(const QPointF& position, Qt::KeyboardModifiers modifiers);
  void release();
  void addKey(const QPointF& position);
  // False if no key is there.
  bool fillMenu(QMenu& menu, const QPointF& position);

 private:
  struct Grip {
    int component = 0;
    std::size_t key = 0;
    std::optional<CurveSide> side;
  };

  Scene::ItemPtr item() const { return document_.scene().find(document_.selected()); }
  std::vector<std::string> keyedParams() const;
  const KeyTrack& track() const { return item()->value(param_).keys; }
  int components() const;
  void fitValues();
  std::optional<Grip> gripAt(const QPointF& position) const;
  void paintScale(QPainter& painter) const;
  void paintCurve(QPainter& painter, int component) const;
  void set(const KeyTrack& track);
  double valueAt(double y) const;

  Document& document_;
  TimeScale scale_;
  QRectF area_;
  std::string param_;
  double min_ = 0, max_ = 1;  // at the lower and upper edge
  std::optional<Grip> held_;
};

}  // namespace comet
