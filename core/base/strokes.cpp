#include "base/strokes.h"

#include <algorithm>
#include <glm/geometric.hpp>
#include <utility>

namespace comet {
namespace {

// Between b and c.
Vec3d courseAt(const Vec3d& a, const Vec3d& b, const Vec3d& c, const Vec3d& d, double t) {
  return b + 0.5 * t * ((c - a) + t * ((2.0 * a - 5.0 * b + 4.0 * c - d) + t * (3.0 * (b - c) + d - a)));
}

Vec3d slopeAt(const Vec3d& a, const Vec3d& b, const Vec3d& c, const Vec3d& d, double t) {
  return 0.5 * ((c - a) + t * (2.0 * (2.0 * a - 5.0 * b + 4.0 * c - d) + 3.0 * t * (3.0 * (b - c) + d - a)));
}

double distanceFromPiece(const Vec3d& point, const Vec3d& from, const Vec3d& to) {
  const Vec3d along = to - from;
  const double squared = glm::dot(along, along);
  const double fraction = squared > 0 ? std::clamp(glm::dot(point - from, along) / squared, 0.0, 1.0) : 0;
  return glm::length(point - from - along * fraction);
}

}  // namespace

std::vector<StrokeSpot> smoothed(const Stroke& stroke, int pieces, bool closes) {
  std::vector<StrokeSpot> spots;
  const int count = static_cast<int>(stroke.size());
  if (count < 2) return spots;
  // A point before the first and after the last goes straight on.
  const auto point = [&](int i) {
    if (closes) return stroke[static_cast<std::size_t>((i + count) % count)];
    if (i < 0) return 2.0 * stroke.front() - stroke[1];
    if (i >= count) return 2.0 * stroke.back() - stroke[stroke.size() - 2];
    return stroke[static_cast<std::size_t>(i)];
  };
  const int spans = closes ? count : count - 1;
  for (int span = 0; span < spans; ++span) {
    const Vec3d a = point(span - 1), b = point(span), c = point(span + 1), d = point(span + 2);
    const Vec3d straight = unitOr(c - b, Vec3d(1, 0, 0));
    const bool isLast = span == spans - 1;
    for (int piece = 0; piece < pieces + (isLast ? 1 : 0); ++piece) {
      const double t = static_cast<double>(piece) / pieces;
      spots.push_back({courseAt(a, b, c, d, t), unitOr(slopeAt(a, b, c, d, t), straight)});
    }
  }
  return spots;
}

Stroke simplified(const Stroke& stroke, double tolerance) {
  if (stroke.size() < 3) return stroke;
  std::vector<bool> stays(stroke.size(), false);
  stays.front() = stays.back() = true;
  std::vector<std::pair<std::size_t, std::size_t>> open{{0, stroke.size() - 1}};
  while (!open.empty()) {
    const auto [from, to] = open.back();
    open.pop_back();
    std::size_t farthest = from;
    double max = tolerance;
    for (std::size_t i = from + 1; i < to; ++i) {
      const double distance = distanceFromPiece(stroke[i], stroke[from], stroke[to]);
      if (distance <= max) continue;
      max = distance;
      farthest = i;
    }
    if (farthest == from) continue;
    stays[farthest] = true;
    open.emplace_back(from, farthest);
    open.emplace_back(farthest, to);
  }
  Stroke kept;
  for (std::size_t i = 0; i < stroke.size(); ++i)
    if (stays[i]) kept.push_back(stroke[i]);
  return kept;
}

}  // namespace comet
