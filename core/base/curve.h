// Curves through points: values mapped over age, and keyframes over time.
//
// "Smooth" is a cubic through the points that never overshoots them (Fritsch & Butland, "A Method for
// Constructing Local Monotone Piecewise Cubic Interpolants", 1984). Outside its points a curve holds its end
// values. Curves are values: copy freely, read from any thread.
#pragma once

#include <cstddef>
#include <cstdint>
#include <string_view>
#include <vector>

namespace comet {

enum class Interpolation : std::uint8_t { Linear, Smooth, Hold };

std::string_view toString(Interpolation interpolation);
// False if `text` names no interpolation; `out` is then untouched.
bool fromString(std::string_view text, Interpolation& out);

struct CurvePoint {
  double x = 0;
  double y = 0;
  Interpolation toNext = Interpolation::Linear;

  bool operator==(const CurvePoint& other) const {
    return x == other.x && y == other.y && toNext == other.toNext;
  }
};

class Curve {
 public:
  Curve() = default;
  // Sorts the points by x; the order of points with equal x is kept, so that a curve can jump.
  explicit Curve(std::vector<CurvePoint> points);
  static Curve constant(double y) { return Curve({{0.0, y}}); }

  double at(double x) const;
  const std::vector<CurvePoint>& points() const { return points_; }
  double largest() const;

  bool operator==(const Curve& other) const { return points_ == other.points_; }
  bool operator!=(const Curve& other) const { return !(*this == other); }

 private:
  std::vector<CurvePoint> points_;
};

// The value at `x` of the curve through `points`, which must be sorted by x and not empty.
double sampleCurve(const std::vector<CurvePoint>& points, double x);

}  // namespace comet
