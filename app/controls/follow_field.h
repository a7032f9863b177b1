// What a curve or gradient is read by: age, speed with its fastest, or chance.
#pragma once

#include "params/value.h"

#include <QWidget>

class QComboBox;

namespace comet {

class NumberField;

class FollowField : public QWidget {
  Q_OBJECT

 public:
  explicit FollowField(Qt::Orientation orientation = Qt::Horizontal, QWidget* parent = nullptr);

  void show(const ParamValue& value);

 Q_SIGNALS:
  void edited(CurveInput input, double fastest);
  void finished();

 private:
  QComboBox* input_;
  NumberField* fastest_;
};

}  // namespace comet
