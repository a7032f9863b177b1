#include "simulation/emission/parent_path.h"

#include <algorithm>
#include <array>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// Pieces that a way is measured in.
constexpr int kPieces = 8;

// Lengths from the way's beginning to the end of each piece; the pieces take equally long.
std::array<double, kPieces + 1> lengthsOf(const ParentPath& path) {
  std::array<double, kPieces + 1> lengths{};
  Vec3d place = path.placeAt(path.from);
  for (int i = 1; i <= kPieces; ++i) {
    const Vec3d next = path.placeAt(path.from + (path.until - path.from) * i / kPieces);
    lengths[static_cast<std::size_t>(i)] =
        lengths[static_cast<std::size_t>(i - 1)] + glm::length(next - place);
    place = next;
  }
  return lengths;
}

}  // namespace

Vec3d ParentPath::placeAt(double time) const {
  const double length = end - from;
  if (!(length > 0)) return Vec3d(endPosition);
  const double t = std::clamp((time - from) / length, 0.0, 1.0), u = 1 - t;
  return Vec3d(startPosition) * (u * u * (1 + 2 * t)) + Vec3d(startVelocity) * (length * t * u * u) +
         Vec3d(endPosition) * (t * t * (3 - 2 * t)) - Vec3d(endVelocity) * (length * t * t * u);
}

Vec3d ParentPath::velocityAt(double time) const {
  const double length = end - from;
  if (!(length > 0)) return Vec3d(endVelocity);
  const double t = std::clamp((time - from) / length, 0.0, 1.0), u = 1 - t;
  return (Vec3d(endPosition) - Vec3d(startPosition)) * (6 * t * u / length) +
         Vec3d(startVelocity) * (u * (1 - 3 * t)) + Vec3d(endVelocity) * (t * (3 * t - 2));
}

Ancestor ParentPath::at(double time) const {
  return {id, static_cast<float>(ageAt(time)), lifetime, static_cast<float>(glm::length(velocityAt(time)))};
}

double lengthUntil(const ParentPath& path, double time) {
  const double span = path.until - path.from;
  if (!(span > 0)) return 0;
  const auto lengths = lengthsOf(path);
  const double piece = std::clamp((time - path.from) / span, 0.0, 1.0) * kPieces;
  const auto whole = std::min(static_cast<std::size_t>(piece), static_cast<std::size_t>(kPieces - 1));
  return lengths[whole] + (lengths[whole + 1] - lengths[whole]) * (piece - static_cast<double>(whole));
}

double momentAfter(const ParentPath& path, double length) {
  const auto lengths = lengthsOf(path);
  for (std::size_t i = 1; i < lengths.size(); ++i) {
    const double piece = lengths[i] - lengths[i - 1];
    if (length > lengths[i] || !(piece > 0)) continue;
    const double fraction = std::clamp((length - lengths[i - 1]) / piece, 0.0, 1.0);
    return path.from + (path.until - path.from) * (static_cast<double>(i - 1) + fraction) / kPieces;
  }
  return path.until;
}

}  // namespace comet
