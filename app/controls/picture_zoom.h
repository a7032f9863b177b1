// How a picture in a widget is zoomed into and moved about.
#pragma once

#include <QPointF>
#include <QRectF>
#include <algorithm>
#include <cmath>
#include <optional>

namespace comet {

class PictureZoom {
 public:
  // Times as large as it fits.
  double factor() const { return factor_; }
  // Where the picture is whose place would be `fitting`.
  QRectF placed(const QRectF& fitting) const {
    const QSizeF size = fitting.size() * factor_;
    return {fitting.center() + shift_ - QPointF(size.width(), size.height()) / 2, size};
  }

  // What lies at `place` stays there. The factor stays between these.
  void zoomAt(const QPointF& place, double by, const QRectF& fitting, double least, double most) {
    const double next = std::clamp(factor_ * by, least, most);
    const QPointF from = place - fitting.center();
    shift_ = from - (from - shift_) * (next / factor_);
    factor_ = next;
  }
  const QPointF& shift() const { return shift_; }
  void setShift(const QPointF& shift) { shift_ = shift; }
  // As large as it fits, in the middle.
  void reset() { *this = {}; }

  // By how much a wheel zooms that has moved by so many eighths of a degree.
  static double byWheel(double angle) { return std::pow(1.2, angle / 120); }
  // By how much a key zooms; nothing for any other.
  static std::optional<double> byKey(int key) {
    constexpr double kStep = 1.5;
    if (key == Qt::Key_Plus || key == Qt::Key_Equal) return kStep;
    if (key == Qt::Key_Minus) return 1 / kStep;
    return std::nullopt;
  }

 private:
  double factor_ = 1;
  QPointF shift_;  // of the picture's middle
};

}  // namespace comet
