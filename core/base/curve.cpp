#include "base/curve.h"

#include <algorithm>
#include <array>
#include <cassert>

namespace comet {
namespace {

constexpr std::array<std::string_view, 3> kNames{"linear", "smooth", "hold"};

double slope(const CurvePoint& a, const CurvePoint& b) { return b.x > a.x ? (b.y - a.y) / (b.x - a.x) : 0.0; }

// Harmonic mean of the slopes on both sides; zero at ends and at local extremes, which keeps the cubic
// monotone.
double tangent(const std::vector<CurvePoint>& points, std::size_t i) {
  if (i == 0 || i + 1 == points.size()) return 0.0;
  const double before = slope(points[i - 1], points[i]);
  const double after = slope(points[i], points[i + 1]);
  return before * after > 0.0 ? 2.0 * before * after / (before + after) : 0.0;
}

}  // namespace

std::string_view toString(Interpolation interpolation) {
  return kNames[static_cast<std::size_t>(interpolation)];
}

bool fromString(std::string_view text, Interpolation& out) {
  const auto* found = std::find(kNames.begin(), kNames.end(), text);
  if (found == kNames.end()) return false;
  out = static_cast<Interpolation>(found - kNames.begin());
  return true;
}

Curve::Curve(std::vector<CurvePoint> points) : points_(std::move(points)) {
  std::stable_sort(points_.begin(), points_.end(),
                   [](const CurvePoint& a, const CurvePoint& b) { return a.x < b.x; });
}

double Curve::at(double x) const { return points_.empty() ? 0.0 : sampleCurve(points_, x); }

double Curve::largest() const {
  double largest = 0.0;
  for (const CurvePoint& point : points_) largest = std::max(largest, point.y);
  return largest;
}

double sampleCurve(const std::vector<CurvePoint>& points, double x) {
  assert(!points.empty());
  const auto next = std::upper_bound(points.begin(), points.end(), x,
                                     [](double value, const CurvePoint& point) { return value < point.x; });
  if (next == points.begin()) return points.front().y;
  if (next == points.end()) return points.back().y;
  const std::size_t i = static_cast<std::size_t>(next - points.begin()) - 1;
  const CurvePoint& a = points[i];
  const CurvePoint& b = points[i + 1];
  const double width = b.x - a.x;
  const double t = (x - a.x) / width;
  switch (a.toNext) {
    case Interpolation::Hold:
      return a.y;
    case Interpolation::Linear:
      return a.y + (b.y - a.y) * t;
    case Interpolation::Smooth:
      break;
  }
  const double ta = tangent(points, i) * width;
  const double tb = tangent(points, i + 1) * width;
  const double t2 = t * t, t3 = t2 * t;
  return a.y * (2 * t3 - 3 * t2 + 1) + ta * (t3 - 2 * t2 + t) + b.y * (3 * t2 - 2 * t3) + tb * (t3 - t2);
}

}  // namespace comet
