#include "base/curve.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>

namespace comet {
namespace {

constexpr std::array<std::string_view, 4> kNames{"linear", "smooth", "hold", "bezier"};

double slope(const CurvePoint& a, const CurvePoint& b) { return b.x > a.x ? (b.y - a.y) / (b.x - a.x) : 0.0; }

// Harmonic mean of the slopes on both sides; zero at ends and at local extremes, which keeps the cubic
// monotone.
double tangent(const std::vector<CurvePoint>& points, std::size_t i) {
  if (i == 0 || i + 1 == points.size()) return 0.0;
  const double before = slope(points[i - 1], points[i]);
  const double after = slope(points[i], points[i + 1]);
  return before * after > 0.0 ? 2.0 * before * after / (before + after) : 0.0;
}

// One coordinate of a cubic Bézier curve.
double bezier(double p0, double p1, double p2, double p3, double t) {
  const double s = 1 - t;
  return s * s * s * p0 + 3 * s * s * t * p1 + 3 * s * t * t * p2 + t * t * t * p3;
}

// The free curve from `a` to `b`, at a fraction of the way, 0 to 1.
double sampleFree(const CurvePoint& a, const CurvePoint& b, double fraction) {
  const double width = b.x - a.x;
  const double first = std::clamp(a.after.dx / width, 0.0, 1.0);
  const double second = 1 - std::clamp(-b.before.dx / width, 0.0, 1.0);
  // Since x never falls along the curve, halving finds the place. As often as a double has digits.
  double low = 0, high = 1;
  for (int i = 0; i < 53; ++i) {
    const double middle = 0.5 * (low + high);
    (bezier(0, first, second, 1, middle) < fraction ? low : high) = middle;
  }
  return bezier(a.y, a.y + a.after.dy, b.y + b.before.dy, b.y, 0.5 * (low + high));
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
    case Interpolation::Bezier:
      return sampleFree(a, b, t);
    case Interpolation::Smooth:
      break;
  }
  const double ta = tangent(points, i) * width;
  const double tb = tangent(points, i + 1) * width;
  const double t2 = t * t, t3 = t2 * t;
  return a.y * (2 * t3 - 3 * t2 + 1) + ta * (t3 - 2 * t2 + t) + b.y * (3 * t2 - 2 * t3) + tb * (t3 - t2);
}

void freeFrom(std::vector<CurvePoint>& points, std::size_t i) {
  assert(i + 1 < points.size());
  CurvePoint& a = points[i];
  CurvePoint& b = points[i + 1];
  double slopeAfter = 0, slopeBefore = 0;
  switch (a.toNext) {
    case Interpolation::Bezier:
      return;
    case Interpolation::Hold:
      break;
    case Interpolation::Linear:
      slopeAfter = slopeBefore = slope(a, b);
      break;
    case Interpolation::Smooth:
      slopeAfter = tangent(points, i);
      slopeBefore = tangent(points, i + 1);
      break;
  }
  // With handles of a third of the way, x goes along evenly, and the curve is the cubic of these slopes.
  const double third = (b.x - a.x) / 3;
  a.after = {third, slopeAfter * third};
  b.before = {-third, -slopeBefore * third};
  a.toNext = Interpolation::Bezier;
}

bool hasHandle(const std::vector<CurvePoint>& points, std::size_t i, CurveSide side) {
  if (side == CurveSide::After) return i + 1 < points.size() && points[i].toNext == Interpolation::Bezier;
  return i > 0 && points[i - 1].toNext == Interpolation::Bezier;
}

void moveHandle(std::vector<CurvePoint>& points, std::size_t i, CurveSide side, CurveHandle wanted,
                bool alone) {
  assert(hasHandle(points, i, side));
  CurvePoint& point = points[i];
  const bool isAfter = side == CurveSide::After;
  CurveHandle& moved = isAfter ? point.after : point.before;
  CurveHandle& other = isAfter ? point.before : point.after;
  const double turn = point.before.dx * point.after.dy - point.before.dy * point.after.dx;
  const double size =
      std::hypot(point.before.dx, point.before.dy) * std::hypot(point.after.dx, point.after.dy);
  constexpr double kInLine = 1e-6;
  const bool wereInLine = std::abs(turn) <= kInLine * size;
  const double reach = isAfter ? points[i + 1].x - point.x : point.x - points[i - 1].x;
  moved = {isAfter ? std::clamp(wanted.dx, 0.0, reach) : std::clamp(wanted.dx, -reach, 0.0), wanted.dy};
  const bool hasOther = hasHandle(points, i, isAfter ? CurveSide::Before : CurveSide::After);
  if (!alone && wereInLine && hasOther && moved.dx != 0) other.dy = other.dx * moved.dy / moved.dx;
}

}  // namespace comet
