#include "particles/neighbour_grid.h"

#include "base/cell_sort.h"
#include "base/parallel.h"

#include <cmath>
#include <glm/common.hpp>
#include <utility>

namespace comet {
namespace {

// Cells are so much shorter along the rows in which their particles lie one after the other: what is looked
// through can then begin and end nearer to what is asked for.
constexpr double kFinerAlongRows = 0.25;

// Particles that one task takes.
constexpr std::size_t kPiece = 4096;

}  // namespace

NeighbourGrid::NeighbourGrid(const std::vector<const ParticleStore*>& stores, double radius, double ahead)
    : radius_(radius), ahead_(ahead) {
  std::vector<Source> sources;
  for (const ParticleStore* store : stores)
    for (std::size_t i = 0; i < store->size(); i += kPiece)
      sources.push_back({store, i, std::min(kPiece, store->size() - i), 0});
  std::size_t count = 0;
  for (Source& source : sources) source.target = std::exchange(count, count + source.count);
  if (count == 0) return;
  setCells(setMin(sources), count);
  UntouchedVector<std::uint32_t> cells(count);
  parallelFor(sources.size(), [&](std::size_t s) {
    const Source& source = sources[s];
    for (std::size_t i = 0; i < source.count; ++i)
      cells[source.target + i] = static_cast<std::uint32_t>(cellOf(placeOf(*source.store, source.first + i)));
  });
  CellSort sorted = sortedByCell(cells, layout_.size());
  starts_ = std::move(sorted.starts);
  gather(sources, sorted.order);
}

void NeighbourGrid::gather(const std::vector<Source>& sources, const UntouchedVector<std::uint32_t>& sorted) {
  const std::size_t count = sorted.size();
  for (auto* triple : {&arrays_.position, &arrays_.velocity})
    for (UntouchedVector<float>& values : *triple) values.resize(count);
  arrays_.ids.resize(count);
  arrays_.marks.resize(count);
  arrays_.indices.resize(count);
  parallelFor((count + kPiece - 1) / kPiece, [&](std::size_t piece) {
    for (std::size_t target = piece * kPiece; target < std::min(count, (piece + 1) * kPiece); ++target) {
      const auto after =
          std::upper_bound(sources.begin(), sources.end(), sorted[target],
                           [](std::size_t place, const Source& source) { return place < source.target; });
      const Source& source = *(after - 1);
      const std::size_t index = source.first + sorted[target] - source.target;
      const Vec3d place = placeOf(*source.store, index), velocity = source.store->velocity(index);
      for (int axis = 0; axis < 3; ++axis) {
        arrays_.position[static_cast<std::size_t>(axis)][target] = static_cast<float>(place[axis]);
        arrays_.velocity[static_cast<std::size_t>(axis)][target] = static_cast<float>(velocity[axis]);
      }
      arrays_.ids[target] = source.store->ids()[index];
      arrays_.marks[target] = markOf(arrays_.ids[target]);
      arrays_.indices[target] = static_cast<std::uint32_t>(index);
    }
  });
}

Vec3d NeighbourGrid::setMin(const std::vector<Source>& sources) {
  struct Box {
    Vec3d min, max;
  };
  std::vector<Box> boxes(sources.size());
  parallelFor(sources.size(), [&](std::size_t s) {
    const Source& source = sources[s];
    Box box{placeOf(*source.store, source.first), placeOf(*source.store, source.first)};
    for (std::size_t i = source.first; i < source.first + source.count; ++i) {
      const Vec3d place = placeOf(*source.store, i);
      box = {glm::min(box.min, place), glm::max(box.max, place)};
    }
    boxes[s] = box;
  });
  Vec3d max = boxes.front().max;
  min_ = boxes.front().min;
  for (const Box& box : boxes) {
    min_ = glm::min(min_, box.min);
    max = glm::max(max, box.max);
  }
  return max - min_;
}

void NeighbourGrid::setCells(const Vec3d& extent, std::size_t count) {
  Vec3d cell(radius_ * kFinerAlongRows, radius_, radius_);
  layout_.counts = cellsOver(extent, count, cell);
  perUnit_ = 1.0 / cell;
}

std::size_t NeighbourGrid::countOf(std::uint32_t emitter) const {
  return static_cast<std::size_t>(
      std::count_if(arrays_.ids.begin(), arrays_.ids.end(),
                    [emitter](ParticleId id) { return emitterOfId(id) == emitter; }));
}

}  // namespace comet
