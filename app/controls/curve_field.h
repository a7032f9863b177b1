// A curve as a parameter of its own: a lane that opens when it is clicked, with presets by shape.
#pragma once

#include "base/curve.h"

#include <QWidget>

namespace comet {

class CurveLane;
class CurvePresetBar;

class CurveField : public QWidget {
  Q_OBJECT

 public:
  explicit CurveField(QWidget* parent = nullptr);

  void setCurve(const Curve& curve);

 Q_SIGNALS:
  void edited(const Curve& curve);
  void finished();

 private:
  CurveLane* lane_;
  CurvePresetBar* presets_;
};

}  // namespace comet
