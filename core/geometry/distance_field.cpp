#include "geometry/distance_field.h"

#include "base/stoppable.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr int kMargin = 2;  // cells around the mesh's box

struct FieldLayout {
  FieldLayout(const Mesh& mesh, int cells) : bounds(mesh.bounds()) {
    const Vec3d extent = bounds.extent();
    spacing = std::max({extent.x, extent.y, extent.z, 1e-9}) / cells;
    for (std::size_t axis = 0; axis < 3; ++axis)
      grid.counts[axis] =
          static_cast<std::size_t>(std::ceil(extent[static_cast<int>(axis)] / spacing)) + 1 + 2 * kMargin;
    min = bounds.min - Vec3d(kMargin * spacing);
  }

  Box bounds;
  double spacing;
  Vec3d min;
  GridLayout grid;
};

}  // namespace

std::size_t DistanceField::bytesFor(const Mesh& mesh, int cells) {
  const FieldLayout layout(mesh, cells);
  return layout.grid.size() * sizeof(float);
}

DistanceField::DistanceField(const Mesh& mesh, const SurfaceTree& tree, const VerticalLines* inside,
                             int cells, const Progress& progress) {
  const FieldLayout layout(mesh, cells);
  bounds_ = layout.bounds;
  spacing_ = layout.spacing;
  min_ = layout.min;
  layout_ = layout.grid;
  perUnit_ = 1 / spacing_;
  const auto& [countX, countY, countZ] = layout_.counts;
  lastAt_ =
      Vec3d(static_cast<double>(countX), static_cast<double>(countY), static_cast<double>(countZ)) - 1.0;
  rough_.spacing = static_cast<float>(spacing_);
  rough_.perUnit = static_cast<float>(perUnit_);
  constexpr double kRounding = 2e-6;
  rough_.slack = static_cast<float>(
      kRounding * (spacing_ + glm::length(glm::max(glm::abs(bounds_.min), glm::abs(bounds_.max)))));
  for (int axis = 0; axis < 3; ++axis) {
    rough_.min[axis] = static_cast<float>(bounds_.min[axis]);
    rough_.max[axis] = static_cast<float>(bounds_.max[axis]);
    rough_.first[axis] = static_cast<float>(min_[axis]);
    rough_.last[axis] = static_cast<float>(layout_.counts[static_cast<std::size_t>(axis)] - 1);
  }
  values_.resize(layout_.size());
  stoppableFor(countZ * countY, progress, [&](std::size_t row) {
    // A neighbour's distance tells how far the next one may be.
    double within = std::numeric_limits<double>::infinity();
    const std::size_t y = row % layout_.counts[1], z = row / layout_.counts[1];
    for (std::size_t x = 0; x < layout_.counts[0]; ++x) {
      const Vec3d node(static_cast<double>(x), static_cast<double>(y), static_cast<double>(z));
      const Vec3d place = min_ + node * spacing_;
      const auto nearest = tree.nearest(place, within);
      const double distance = nearest ? glm::length(nearest->at - place) : 0;
      within = (distance + spacing_) * (1 + 1e-6);
      values_[layout_.index(x, y, z)] =
          static_cast<float>(inside && inside->isInside(place) ? -distance : distance);
    }
  });
}

void DistanceField::about(const Places& places, Whereabouts* whereabouts) const {
  // All indices, then all values, so that many of these are on their way from memory at once.
  constexpr std::size_t kBlock = 256;
  std::array<std::uint32_t, kBlock> indices;
  std::array<float, kBlock> values;
  for (std::size_t first = 0; first < places.count; first += kBlock) {
    const std::size_t count = std::min(kBlock, places.count - first);
    for (std::size_t i = 0; i < count; ++i) indices[i] = indexNear(places[first + i]);
    for (std::size_t i = 0; i < count; ++i) values[i] = values_[indices[i]];
    for (std::size_t i = 0; i < count; ++i) whereabouts[first + i] = judged(places[first + i], values[i]);
  }
}

DistanceField::Spot DistanceField::spotOf(const Vec3d& place) const {
  const Vec3d at = (place - min_) * perUnit_;
  if (!(at.x >= 0 && at.y >= 0 && at.z >= 0 && at.x < lastAt_.x && at.y < lastAt_.y && at.z < lastAt_.z))
    return {};
  const auto x = static_cast<std::size_t>(at.x), y = static_cast<std::size_t>(at.y),
             z = static_cast<std::size_t>(at.z);
  return {values_.data() + layout_.index(x, y, z),
          at - Vec3d(static_cast<double>(x), static_cast<double>(y), static_cast<double>(z))};
}

DistanceField::Reading DistanceField::beyond(const Vec3d& place) const {
  const Vec3d away = place - glm::clamp(place, bounds_.min, bounds_.max);
  const double distance = glm::length(away);
  return {distance, unitOr(away, Vec3d(0, 1, 0))};
}

double DistanceField::distanceAt(const Vec3d& place) const {
  const auto [corner, t] = spotOf(place);
  if (!corner) return beyond(place).distance;
  const float* const first = corner;  // what a structured binding names cannot be captured
  const auto node = [this, first](int which) {
    const auto bit = [which](int axis) { return static_cast<std::size_t>(which >> axis & 1); };
    return static_cast<double>(first[bit(0) + bit(1) * layout_.row() + bit(2) * layout_.plane()]);
  };
  return trilinear(node, t);
}

DistanceField::Reading DistanceField::at(const Vec3d& place) const {
  const auto [corner, t] = spotOf(place);
  if (!corner) return beyond(place);
  const std::size_t up = layout_.row(), deep = layout_.plane();
  // Along x on the four edges, and how it changes there.
  std::array<double, 4> value, slope;
  constexpr std::size_t kEdges = 4;
  for (std::size_t edge = 0; edge < kEdges; ++edge) {
    const float* from = corner + (edge & 1) * up + (edge >> 1) * deep;
    slope[edge] = static_cast<double>(from[1]) - from[0];
    value[edge] = from[0] + t.x * slope[edge];
  }
  const auto mix = [](double a, double b, double fraction) { return a + (b - a) * fraction; };
  const double low = mix(value[0], value[1], t.y), high = mix(value[2], value[3], t.y);
  const Vec3d gradient(mix(mix(slope[0], slope[1], t.y), mix(slope[2], slope[3], t.y), t.z),
                       mix(value[1] - value[0], value[3] - value[2], t.z), high - low);
  return {mix(low, high, t.z), unitOr(gradient, Vec3d(0, 1, 0))};
}

}  // namespace comet
