#include "bake/line_export.h"

#include "render/link.h"
#include "render/trail.h"

#include <memory>

namespace comet {
namespace {

void addLines(const Lines& lines, std::size_t wanted, CurveFrame& frame) {
  std::vector<LinePoint> points;
  for (std::size_t i = 0; i < lines.count(); ++i) {
    lines.points(i, points);
    if (points.size() < 2) continue;
    CurveLine line;
    for (const LinePoint& point : points)
      line.push_back({point.place, point.width, point.color, point.opacity});
    frame.lines.push_back(wanted > 0 ? resampled(line, wanted) : std::move(line));
  }
}

}  // namespace

CurveFrame linesOf(const Scene& scene, const SceneFrame& frame, const Past& past, LineKind kind,
                   std::size_t points) {
  CurveFrame lines;
  lines.frame = frame.number;
  StampCache stamps;
  for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter)) {
    if (!emitter->enabled) continue;
    const Look look(scene, *emitter, frame.number, stamps);
    if (kind == LineKind::Trails && Trails::hasAny(*emitter))
      addLines(Trails(scene, *emitter, frame, past, look), points, lines);
    if (kind == LineKind::Links && Links::hasAny(*emitter))
      addLines(Links(scene, *emitter, frame, look, stamps), points, lines);
  }
  return lines;
}

PointTable lineTable(const CurveFrame& frame) {
  constexpr const char* kNames[] = {"line", "x", "y", "z", "width", "red", "green", "blue", "opacity"};
  PointTable table;
  for (const char* name : kNames) table.columns.push_back({name, PointColumn::Type::Float, {}, {}});
  table.columns.front().type = PointColumn::Type::Whole;
  for (std::size_t i = 0; i < frame.lines.size(); ++i)
    for (const CurvePointRow& point : frame.lines[i]) {
      const double numbers[] = {static_cast<double>(i), point.place.x, point.place.y,
                                point.place.z,          point.width,   point.color.x,
                                point.color.y,          point.color.z, point.opacity};
      for (std::size_t c = 0; c < table.columns.size(); ++c) table.columns[c].numbers.push_back(numbers[c]);
      ++table.count;
    }
  return table;
}

}  // namespace comet
