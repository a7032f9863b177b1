// Curves through points: values mapped over age, and keyframes over time.
//
// "Smooth" is a cubic through the points that never overshoots them (Fritsch & Butland, "A Method for
// Constructing Local Monotone Piecewise Cubic Interpolants", 1984). "Bezier" is a cubic Bézier curve between
// two points and the ends of their handles, which are held back within the stretch between the points, so
// that the curve never turns back. Outside its points a curve holds its end values. Curves are values: copy
// freely, read from any thread.
#pragma once

#include <cstddef>
#include <cstdint>
#include <string_view>
#include <vector>

namespace comet {

enum class Interpolation : std::uint8_t { Linear, Smooth, Hold, Bezier };

std::string_view toString(Interpolation interpolation);
// False if `text` names no interpolation; `out` is then untouched.
bool fromString(std::string_view text, Interpolation& out);

// From a point to the end of one of its handles.
struct CurveHandle {
  double dx = 0, dy = 0;

  bool operator==(const CurveHandle&) const = default;
};

struct CurvePoint {
  double x = 0;
  double y = 0;
  Interpolation toNext = Interpolation::Linear;
  CurveHandle before{}, after{};  // matter where the curve is free on that side; dx is never against the side

  bool operator==(const CurvePoint&) const = default;
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

  bool operator==(const Curve&) const = default;

 private:
  std::vector<CurvePoint> points_;
};

// The value at `x` of the curve through `points`, which must be sorted by x and not empty.
double sampleCurve(const std::vector<CurvePoint>& points, double x);

// Makes the curve free from point `i` to the next, with handles that leave its course as it is; a course that
// holds becomes one that eases. `i` is not the last.
void freeFrom(std::vector<CurvePoint>& points, std::size_t i);

// Which way a handle goes from its point.
enum class CurveSide : std::uint8_t { Before, After };

// Whether the curve is free on that side of point `i`, so that its handle there matters.
bool hasHandle(const std::vector<CurvePoint>& points, std::size_t i, CurveSide side);
// Puts a handle to where it is wanted, held within its stretch. If both handles of the point were in line
// they stay so, unless `alone`.
void moveHandle(std::vector<CurvePoint>& points, std::size_t i, CurveSide side, CurveHandle wanted,
                bool alone);

}  // namespace comet
