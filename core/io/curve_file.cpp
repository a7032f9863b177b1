#include "io/curve_file.h"

#include "io/usd_text.h"

#include <algorithm>
#include <fmt/format.h>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// All values of a frame in one list: `write(point)` gives the text of each.
template <typename Write>
std::string listOf(const CurveFrame& frame, const Write& write) {
  std::string text = "[";
  for (const CurveLine& line : frame.lines)
    for (const CurvePointRow& point : line) text += (text.size() > 1 ? ", " : "") + write(point);
  return text + "]";
}

std::string triple(const Vec3d& v) { return fmt::format("({:.6g}, {:.6g}, {:.6g})", v.x, v.y, v.z); }

// An attribute with a sample for each frame.
template <typename Sample>
std::string samples(const std::string& attribute, const std::vector<CurveFrame>& frames, const Sample& sample,
                    const std::string& metadata = "") {
  std::string text;
  for (const CurveFrame& frame : frames) text += usdSample(frame.frame, sample(frame));
  return usdAttribute(attribute, text, metadata);
}

std::string countsOf(const CurveFrame& frame) {
  std::string text = "[";
  for (const CurveLine& line : frame.lines)
    text += (text.size() > 1 ? ", " : "") + std::to_string(line.size());
  return text + "]";
}

}  // namespace

std::string encodeObjLines(const CurveFrame& frame) {
  std::string text = "# lines, written by Tawny Comet\n";
  for (const CurveLine& line : frame.lines)
    for (const CurvePointRow& point : line)
      text += fmt::format("v {:.6g} {:.6g} {:.6g}\n", point.place.x, point.place.y, point.place.z);
  std::size_t next = 1;
  for (const CurveLine& line : frame.lines) {
    text += "l";
    for (std::size_t i = 0; i < line.size(); ++i) text += fmt::format(" {}", next++);
    text += "\n";
  }
  return text;
}

std::string encodeUsdCurves(const std::vector<CurveFrame>& frames, double rate) {
  std::string text = "        uniform token type = \"linear\"\n";
  text += samples("int[] curveVertexCounts", frames, countsOf);
  text += samples("point3f[] points", frames, [](const CurveFrame& frame) {
    return listOf(frame, [](const CurvePointRow& point) { return triple(point.place); });
  });
  text += samples(
      "float[] widths", frames,
      [](const CurveFrame& frame) {
        return listOf(frame, [](const CurvePointRow& point) { return fmt::format("{:.6g}", point.width); });
      },
      kUsdPerVertex);
  text += samples(
      "color3f[] primvars:displayColor", frames,
      [](const CurveFrame& frame) {
        return listOf(frame, [](const CurvePointRow& point) { return triple(point.color); });
      },
      kUsdPerVertex);
  text += samples(
      "float[] primvars:displayOpacity", frames,
      [](const CurveFrame& frame) {
        return listOf(frame, [](const CurvePointRow& point) { return fmt::format("{:.6g}", point.opacity); });
      },
      kUsdPerVertex);
  return usdFile("BasisCurves \"lines\"", text, frames.empty() ? 1 : frames.front().frame,
                 frames.empty() ? 1 : frames.back().frame, rate);
}

CurveLine resampled(const CurveLine& line, std::size_t points) {
  if (line.size() < 2) return line;
  std::vector<double> along(1, 0.0);
  for (std::size_t i = 1; i < line.size(); ++i)
    along.push_back(along.back() + glm::length(line[i].place - line[i - 1].place));
  CurveLine result;
  const std::size_t count = std::max<std::size_t>(2, points);
  for (std::size_t k = 0; k < count; ++k) {
    const double at = along.back() * static_cast<double>(k) / static_cast<double>(count - 1);
    auto next = static_cast<std::size_t>(std::lower_bound(along.begin(), along.end(), at) - along.begin());
    next = std::clamp<std::size_t>(next, 1, line.size() - 1);
    const double piece = along[next] - along[next - 1];
    const double t = piece > 0 ? std::clamp((at - along[next - 1]) / piece, 0.0, 1.0) : 0;
    const CurvePointRow &a = line[next - 1], &b = line[next];
    result.push_back({a.place + (b.place - a.place) * t, a.width + (b.width - a.width) * t,
                      a.color + (b.color - a.color) * t, a.opacity + (b.opacity - a.opacity) * t});
  }
  return result;
}

}  // namespace comet
