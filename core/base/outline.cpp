#include "base/outline.h"

namespace comet {
namespace {

constexpr int kPiecesPerSegment = 12;

Vec2d tangentAt(const OutlinePoints& outline, std::size_t i) {
  if (!outline[i].smooth) return Vec2d(0.0);
  const std::size_t count = outline.size();
  return (outline[(i + 1) % count].at - outline[(i + count - 1) % count].at) * 0.5;
}

Vec2d cubic(const Vec2d& from, const Vec2d& tangentFrom, const Vec2d& to, const Vec2d& tangentTo, double t) {
  const double t2 = t * t, t3 = t2 * t;
  return from * (2 * t3 - 3 * t2 + 1) + tangentFrom * (t3 - 2 * t2 + t) + to * (3 * t2 - 2 * t3) +
         tangentTo * (t3 - t2);
}

}  // namespace

std::vector<Vec2d> polygonOf(const OutlinePoints& outline) {
  std::vector<Vec2d> polygon;
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const std::size_t next = (i + 1) % outline.size();
    polygon.push_back(outline[i].at);
    if (!outline[i].smooth && !outline[next].smooth) continue;
    for (int piece = 1; piece < kPiecesPerSegment; ++piece)
      polygon.push_back(cubic(outline[i].at, tangentAt(outline, i), outline[next].at,
                              tangentAt(outline, next), static_cast<double>(piece) / kPiecesPerSegment));
  }
  return polygon;
}

bool isInside(const std::vector<Vec2d>& polygon, const Vec2d& point) {
  bool inside = false;
  for (std::size_t i = 0, j = polygon.size() - 1; i < polygon.size(); j = i++) {
    const Vec2d &a = polygon[i], &b = polygon[j];
    if ((a.y > point.y) != (b.y > point.y) && point.x < (b.x - a.x) * (point.y - a.y) / (b.y - a.y) + a.x)
      inside = !inside;
  }
  return inside;
}

}  // namespace comet
