// Lines through space, as OBJ lines or as curves of the open scene-description standard's text form.
#pragma once

#include "base/vec.h"

#include <string>
#include <vector>

namespace comet {

struct CurvePointRow {
  Vec3d place{0.0};
  double width = 0;  // units
  Vec3d color{1.0};  // linear light
  double opacity = 1;
};

using CurveLine = std::vector<CurvePointRow>;

// The lines at one frame.
struct CurveFrame {
  int frame = 0;
  std::vector<CurveLine> lines;
};

// `v` and `l` entries; widths and colours have no place there.
std::string encodeObjLines(const CurveFrame& frame);

// One set of linear curves, with points, widths, colours and opacities as samples over time. `rate` is in
// frames per second.
std::string encodeUsdCurves(const std::vector<CurveFrame>& frames, double rate);

// The same line with so many points, evenly along it; at least two.
CurveLine resampled(const CurveLine& line, std::size_t points);

}  // namespace comet
