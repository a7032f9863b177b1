#include "bake/cell_balance.h"

#include "bake/seen.h"
#include "base/parallel.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

// Moments of what is seen about the cell's middle.
struct Moments {
  double weight = 0, x = 0, y = 0, xx = 0, xy = 0, yy = 0;

  void operator+=(const Moments& other) {
    weight += other.weight;
    x += other.x, y += other.y;
    xx += other.xx, xy += other.xy, yy += other.yy;
  }
};

Moments momentsOf(const Picture& cell) {
  Moments moments;
  for (int y = 0; y < cell.height(); ++y)
    for (int x = 0; x < cell.width(); ++x) {
      const double seen = seenOf(cell.at(x, y));
      const double u = x + 0.5 - 0.5 * cell.width(), v = y + 0.5 - 0.5 * cell.height();
      moments += {seen, seen * u, seen * v, seen * u * u, seen * u * v, seen * v * v};
    }
  return moments;
}

}  // namespace

CellBalance balanceOf(const Flipbook& book) {
  std::vector<Moments> each(book.layout.cells.size());
  parallelFor(each.size(), [&](std::size_t cell) { each[cell] = momentsOf(seenCell(book, cell)); });
  Moments all;
  for (const Moments& moments : each) all += moments;
  if (!(all.weight > 0)) return {};
  const Vec2d middle = Vec2d(all.x, all.y) / all.weight;
  const double xx = all.xx / all.weight - middle.x * middle.x, xy = all.xy / all.weight - middle.x * middle.y,
               yy = all.yy / all.weight - middle.y * middle.y;
  const double half = 0.5 * (xx + yy), spread = std::hypot(0.5 * (xx - yy), xy);
  return {std::hypot(middle.x, middle.y) / std::min(book.layout.cellWidth, book.layout.cellHeight),
          std::sqrt((half + spread) / std::max(1e-9, half - spread))};
}

}  // namespace comet
