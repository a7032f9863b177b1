// The timeline's ruler: frames or seconds, the part that is played, and markers with notes.
//
// Drag a marker to another frame, or an end of the part that is played.
#pragma once

#include "session/document.h"
#include "timeline/time_scale.h"

#include <QPainter>
#include <QRectF>
#include <optional>

namespace comet {

class TimeRuler {
 public:
  explicit TimeRuler(Document& document) : document_(document) {}

  // Set before anything else is asked.
  void place(const TimeScale& scale, const QRectF& area) {
    scale_ = scale;
    area_ = area;
  }
  bool contains(const QPointF& position) const { return area_.contains(position); }

  void paint(QPainter& painter) const;

  // The frame of the marker there.
  std::optional<double> markerAt(const QPointF& position) const;
  QString noteOf(double frame) const;
  QRectF flagOf(double frame) const;
  // An empty note is a note too; a marker that is there gets the new one.
  void setMarker(double frame, const QString& note);
  void removeMarker(double frame);
  // Either end of what is played; `playAll` ends it.
  void playFrom(double frame);
  void playUntil(double frame);
  void playAll();

  // Whether something was taken hold of.
  bool press(const QPointF& position);
  void drag(const QPointF& position);
  void release();
  bool isOverGrip(const QPointF& position) const;

 private:
  enum class Grip { None, Marker, First, Last };

  Grip gripAt(const QPointF& position) const;
  const MarkerList& markers() const;
  void setMarkers(MarkerList markers, const QString& mergeKey = {});
  void setPlayed(int first, int last, const QString& mergeKey = {});
  void paintTicks(QPainter& painter) const;
  void paintPlayed(QPainter& painter) const;

  Document& document_;
  TimeScale scale_;
  QRectF area_;
  Grip grip_ = Grip::None;
  double heldMarker_ = 0;     // its frame, as it is now
  MarkerList markersBefore_;  // without the held one, so that it passes over others
  std::string heldNote_;
};

}  // namespace comet
