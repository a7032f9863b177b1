// The timeline: the ruler with what is simulated, a row for each emitter with its births, and the keys of
// what is selected. Click or drag to go to a frame.
#pragma once

#include "session/background_run.h"
#include "session/document.h"
#include "simulation/emission/emission.h"
#include "timeline/playback.h"

#include <QWidget>
#include <vector>

class QPainter;

namespace comet {

class Timeline : public QWidget {
  Q_OBJECT

 public:
  Timeline(Document& document, BackgroundRun& run, Playback& playback, QWidget* parent = nullptr);

  QSize sizeHint() const override { return {500, 200}; }
  double xOf(double frame) const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;

 private:
  struct Births {
    ItemId emitter;
    std::vector<ExpectedBirths> perFrame;
    double most = 0;  // of births from the rate
  };

  void reread();
  void goTo(double x);
  void paintRuler(QPainter& painter) const;
  void paintSimulated(QPainter& painter) const;
  int paintEmitters(QPainter& painter, int top) const;
  void paintKeys(QPainter& painter, int top) const;

  Document& document_;
  BackgroundRun& run_;
  Playback& playback_;
  std::vector<Births> births_;
};

}  // namespace comet
