#include "simulation/contacts/contact_pairs.h"

#include "base/cell_sort.h"
#include "base/grid.h"

#include <algorithm>
#include <array>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <limits>

namespace comet {
namespace {

// Cells as large as any two particles reach, in which slabs are planes.
class Cells {
 public:
  Cells(std::span<const Vec3> places, std::span<const float> radii, float reserve) {
    Vec3 min(std::numeric_limits<float>::max()), max(std::numeric_limits<float>::lowest());
    float largest = 0;
    std::size_t count = 0;
    for (std::size_t i = 0; i < places.size(); ++i) {
      if (!(radii[i] > 0)) continue;
      min = glm::min(min, places[i]);
      max = glm::max(max, places[i]);
      largest = std::max(largest, radii[i]);
      ++count;
    }
    if (count == 0) return;
    min_ = min;
    const Vec3d extent = Vec3d(max) - Vec3d(min);
    if (extent.x > extent.z) axes_ = {2, 1, 0};
    Vec3d cell(static_cast<double>(2 * largest + reserve));
    const std::array<std::size_t, 3> counts = cellsOver(extent, count, cell);
    for (std::size_t i = 0; i < 3; ++i) layout_.counts[i] = counts[static_cast<std::size_t>(axes_[i])];
    perUnit_ = 1 / cell.x;
  }

  const GridLayout& layout() const { return layout_; }
  std::uint32_t of(const Vec3& place) const {
    std::array<std::size_t, 3> at{};
    for (std::size_t i = 0; i < 3; ++i) {
      const double cell =
          (static_cast<double>(place[axes_[i]]) - static_cast<double>(min_[axes_[i]])) * perUnit_;
      at[i] = std::min(static_cast<std::size_t>(cell), layout_.counts[i] - 1);
    }
    return static_cast<std::uint32_t>(layout_.index(at[0], at[1], at[2]));
  }

 private:
  Vec3 min_{0.0F};
  double perUnit_ = 1;
  std::array<int, 3> axes_{0, 1, 2};  // of the scene: along rows, up, across slabs
  GridLayout layout_{{1, 1, 1}};
};

// What is looked through for partners, by entry.
struct Entries {
  UntouchedVector<Vec3> places;
  UntouchedVector<float> radii;
};

// A row of cells, from one before to one behind a cell of it: its entries.
struct Run {
  std::uint32_t first, last;
};

class PairFinder {
 public:
  PairFinder(const GridLayout& layout, const std::vector<std::uint32_t>& starts, const Entries& entries,
             float reserve)
      : layout_(layout), starts_(starts), entries_(entries), reserve_(reserve) {}

  void list(std::size_t plane, ContactPairs::Slab& slab) const {
    slab.first = starts_[plane * layout_.plane()];
    slab.last = starts_[(plane + 1) * layout_.plane()];
    constexpr std::size_t kUsualOthers = 8;
    slab.starts.clear();
    slab.starts.reserve(slab.last - slab.first + 1);
    slab.others.clear();
    slab.others.reserve(kUsualOthers * (slab.last - slab.first));
    for (std::size_t y = 0; y < layout_.counts[1]; ++y)
      for (std::size_t x = 0; x < layout_.counts[0]; ++x) {
        const std::size_t cell = layout_.index(x, y, plane);
        if (starts_[cell] < starts_[cell + 1]) listCell(x, y, plane, slab);
      }
    slab.starts.push_back(static_cast<std::uint32_t>(slab.others.size()));
  }

 private:
  Run rowAround(std::size_t x, std::size_t y, std::size_t plane) const {
    const std::size_t row = layout_.index(0, y, plane);
    return {starts_[row + (x > 0 ? x - 1 : 0)], starts_[row + std::min(x + 1, layout_.counts[0] - 1) + 1]};
  }

  void listCell(std::size_t x, std::size_t y, std::size_t plane, ContactPairs::Slab& slab) const {
    std::array<Run, 5> runs{};
    std::size_t count = 0;
    const Run own = rowAround(x, y, plane);
    if (y + 1 < layout_.counts[1]) runs[count++] = rowAround(x, y + 1, plane);
    if (plane + 1 < layout_.counts[2])
      for (std::size_t j = y > 0 ? y - 1 : 0; j <= std::min(y + 1, layout_.counts[1] - 1); ++j)
        runs[count++] = rowAround(x, j, plane + 1);
    const std::size_t cell = layout_.index(x, y, plane);
    for (std::uint32_t i = starts_[cell]; i < starts_[cell + 1]; ++i) {
      slab.starts.push_back(static_cast<std::uint32_t>(slab.others.size()));
      listRun(i, {i + 1, own.last}, slab);
      for (std::size_t run = 0; run < count; ++run) listRun(i, runs[run], slab);
    }
  }

  void listRun(std::uint32_t i, Run run, ContactPairs::Slab& slab) const {
    const Vec3 place = entries_.places[i];
    const float radius = entries_.radii[i] + reserve_;
    for (std::uint32_t j = run.first; j < run.last; ++j) {
      const Vec3 apart = entries_.places[j] - place;
      const float reach = radius + entries_.radii[j];
      if (glm::dot(apart, apart) < reach * reach) slab.others.push_back(j);
    }
  }

  const GridLayout& layout_;
  const std::vector<std::uint32_t>& starts_;
  const Entries& entries_;
  float reserve_;
};

}  // namespace

void ContactPairs::list(std::span<const Vec3> places, std::span<const float> radii, float reserve) {
  // Both of a pair may move.
  const float margin = 2 * reserve;
  const Cells cells(places, radii, margin);
  const GridLayout& layout = cells.layout();
  BlockVector<std::uint32_t> taking;
  taking.reserve(places.size());
  for (std::size_t i = 0; i < places.size(); ++i)
    if (radii[i] > 0) taking.push_back(static_cast<std::uint32_t>(i));
  UntouchedVector<std::uint32_t> cellOf(taking.size());
  for (std::size_t i = 0; i < taking.size(); ++i) cellOf[i] = cells.of(places[taking[i]]);
  CellSort sorted = sortedByCell(cellOf, layout.size());
  order_ = std::move(sorted.order);
  Entries entries;
  entries.places.resize(size());
  entries.radii.resize(size());
  for (std::size_t i = 0; i < size(); ++i) {
    order_[i] = taking[order_[i]];
    entries.places[i] = places[order_[i]];
    entries.radii[i] = radii[order_[i]];
  }
  slabs_.resize(layout.counts[2]);
  const PairFinder finder(layout, sorted.starts, entries, margin);
  parallelFor(slabs_.size(), [&](std::size_t plane) { finder.list(plane, slabs_[plane]); });
}

}  // namespace comet
