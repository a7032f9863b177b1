// The axis that the lanes of the life chart share: fractions of life, and what they are in seconds.
#pragma once

#include <QWidget>

namespace comet {

constexpr int kChartMargin = 6;  // beside the axis and what stands above it, as beside the lanes below

class LifeAxis : public QWidget {
  Q_OBJECT

 public:
  explicit LifeAxis(QWidget* parent = nullptr);

  // Of particles that live for so many seconds; 0 if they live without end, and only shares are shown.
  void setLifetime(double seconds);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  double lifetime_ = 0;
};

}  // namespace comet
