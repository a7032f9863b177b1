// The timeline: the ruler with what is simulated and drawn, a row for each emitter with its births, one for
// whatever else acts for a time or has keys, and below its own row the keys of what is selected. Click or
// drag to go to a frame; drag the ends of a window, or all of it. In graph mode the course of what is keyed
// takes the place of the rows.
#pragma once

#include "session/background_run.h"
#include "session/document.h"
#include "timeline/births_lane.h"
#include "timeline/item_window.h"
#include "timeline/key_graph.h"
#include "timeline/key_lanes.h"
#include "timeline/playback.h"
#include "timeline/time_ruler.h"
#include "timeline/time_scale.h"
#include "viewport/picture_run.h"

#include <QWidget>
#include <vector>

class QLineEdit;
class QPainter;
class QToolButton;

namespace comet {

class Timeline : public QWidget {
  Q_OBJECT

 public:
  Timeline(Document& document, BackgroundRun& run, PictureRun& pictures, Playback& playback,
           QWidget* parent = nullptr);

  QSize sizeHint() const override { return {500, 200}; }
  double xOf(double frame) const;

  // Folded, only the ruler and what is simulated and drawn are seen.
  static int foldedHeight();
  void setFolded(bool folded);

  // Where an item's window lies, for tests; null if it has none.
  QRectF barOf(ItemId item) const;
  const KeyLanes& keys() const { return keys_; }
  const KeyGraph& graph() const { return graph_; }
  const BirthsLane& births() const { return births_; }
  const TimeRuler& ruler() const { return ruler_; }
  BirthsLane::Place birthsPlace(ItemId emitter) const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  struct Row {
    ItemId item;
    QRect rect;
  };
  enum class Part { None, From, Until, Whole };
  struct Grip {
    ItemId item = 0;
    Part part = Part::None;
  };
  enum class Held { Nothing, Frame, Bar, Keys, Graph, Ruler, Births };

  void reread();
  // Puts the rows in their places.
  void arrange();
  TimeScale scale() const;
  void goTo(double x);
  Grip gripAt(const QPointF& position) const;
  bool isInfluence(ItemId item) const;
  bool showsGraph() const;
  void dragBar(double x);
  bool hasSomethingInTime(const Item& item) const;
  QRectF laneOf(const Row& row) const;
  Qt::CursorShape cursorAt(const QPointF& position) const;
  void addTimeDisplays(QMenu& menu);
  void showRulerMenu(const QPointF& position, const QPoint& globalPosition);
  void editNote(double frame);
  void finishNote();
  void paintMarkers(QPainter& painter) const;
  void paintKeysOf(QPainter& painter, const Item& item, const QRectF& lane) const;
  // What is said of the strip below the ruler.
  QString progressText() const;
  void paintProgress(QPainter& painter) const;
  void paintRow(QPainter& painter, const Row& row) const;
  void paintFirings(QPainter& painter, const BirthsLane::Place& place) const;
  void paintBar(QPainter& painter, const Item& item, const QRectF& lane, const QColor& color) const;

  Document& document_;
  BackgroundRun& run_;
  PictureRun& pictures_;
  Playback& playback_;
  BirthsLane births_;
  TimeRuler ruler_;
  std::vector<Row> rows_;
  KeyLanes keys_;
  KeyGraph graph_;
  QToolButton* graphButton_;
  QLineEdit* note_ = nullptr;
  double noteFrame_ = 0;
  int scrolled_ = 0, maxScrolled_ = 0;  // pixels
  Held held_ = Held::Nothing;
  Grip gripped_;
  ItemWindow grippedWindow_;  // as it was when the drag began
  double pressedX_ = 0;
};

}  // namespace comet
