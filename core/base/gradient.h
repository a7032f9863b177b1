// Colour over a range of 0 to 1, through stops. Colours are scene-linear RGB (Rec. 709 primaries) and may
// exceed 1.
#pragma once

#include "base/color.h"
#include "base/vec.h"

#include <vector>

namespace comet {

struct GradientStop {
  double position = 0;
  Vec3d color{1.0};

  bool operator==(const GradientStop&) const = default;
};

class Gradient {
 public:
  Gradient() : Gradient(Vec3d(1.0)) {}
  explicit Gradient(const Vec3d& color) : stops_{{0.0, color}} {}
  // Sorts the stops by position. At least one stop is needed.
  explicit Gradient(std::vector<GradientStop> stops);

  Vec3d at(double position, ColorMix mix = ColorMix::Linear) const;
  const std::vector<GradientStop>& stops() const { return stops_; }

  bool operator==(const Gradient&) const = default;

 private:
  std::vector<GradientStop> stops_;
};

}  // namespace comet
