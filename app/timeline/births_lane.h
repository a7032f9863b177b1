// The births of emitters over time, in their rows of the timeline: the rate as an area whose top is dragged
// up and down, bursts as ticks that are dragged to other frames.
#pragma once

#include "session/background_answer.h"
#include "session/document.h"
#include "simulation/emission/births_outlook.h"
#include "timeline/time_scale.h"

#include <QColor>
#include <QPainter>
#include <QRectF>
#include <functional>
#include <optional>
#include <vector>

namespace comet {

class BirthsLane {
 public:
  // `owner` holds the lane; `update` is called on its thread when what is drawn has changed.
  BirthsLane(Document& document, QObject* owner, std::function<void()> update);

  // Where one of an emitter's lanes lies.
  struct Place {
    ItemId emitter = 0;
    QRectF lane;
    TimeScale scale;
  };

  // Counts the births of all emitters again, behind the window.
  void reread();
  void paint(QPainter& painter, const Place& place, const QColor& color) const;

  enum class Part { None, Rate, Burst };
  Part partAt(const Place& place, const QPointF& position) const;
  // Whether something was taken hold of.
  bool press(const Place& place, const QPointF& position);
  // Says in words what it is now.
  QString drag(const QPointF& position);
  void release();

  // For tests: where the area's top is at a frame, and the tick of a burst.
  QPointF topAt(const Place& place, int frame) const;
  QPointF tickOf(const Place& place, std::size_t burst) const;

 private:
  struct Births {
    ItemId emitter = 0;
    BirthsOutlook outlook;
    double max = 0;  // of births from the rate; the area is as high as its lane there
  };
  struct Held {
    Place place;
    std::optional<std::size_t> burst;  // the rate, if none
    ParamValue before;
    QPointF pressedAt;
  };

  void show(std::vector<Births> births);
  const Births* birthsOf(ItemId emitter) const;
  std::optional<std::size_t> burstAt(const Place& place, const QPointF& position) const;
  QString scaleRate(double factor);
  QString moveBurst(double frames);

  Document& document_;
  std::vector<Births> births_;
  std::optional<Held> held_;
  std::function<void()> update_;
  BackgroundAnswer<std::vector<Births>> answer_;
};

}  // namespace comet
