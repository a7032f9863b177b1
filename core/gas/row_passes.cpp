#include "gas/row_passes.h"

#include "base/parallel.h"

#include <algorithm>

namespace comet {
namespace {

// The rows of a level in layers along its longer axis across them.
class Layers {
 public:
  explicit Layers(const PressureLevel& level)
      : isAlongZ_(level.counts[2] >= level.counts[1]),
        count_(level.counts[isAlongZ_ ? 2 : 1]),
        rows_(level.counts[isAlongZ_ ? 1 : 2]) {}

  std::size_t count() const { return count_; }
  std::size_t rows() const { return rows_; }
  template <typename Act>
  void row(std::size_t layer, std::size_t row, const Act& act) const {
    if (isAlongZ_)
      act(row + 1, layer + 1);
    else
      act(layer + 1, row + 1);
  }
  template <typename Act>
  void each(std::size_t layer, const Act& act) const {
    for (std::size_t i = 0; i < rows_; ++i) row(layer, i, act);
  }

 private:
  bool isAlongZ_;
  std::size_t count_, rows_;
};

class Passes {
 public:
  Passes(const Layers& layers, std::size_t passes, std::size_t numbers, const RowPass& act)
      : layers_(layers), passes_(passes), numbers_(numbers), act_(act) {}

  // All passes over a slab, of which each is a layer narrower where the slab has a neighbour: there it cannot
  // know what the pass before does beyond.
  void overSlab(std::size_t begin, std::size_t end) const {
    std::vector<float> room(numbers_, 0.0F);
    const bool isFirst = begin == 0, isLast = end == layers_.count();
    for (std::size_t front = begin; front < end + passes_; ++front)
      for (std::size_t pass = 0; pass < passes_ && pass <= front; ++pass) {
        const std::size_t layer = front - pass;
        const bool isInside = layer >= begin + (isFirst ? 0 : pass) && layer + (isLast ? 0 : pass) < end;
        if (isInside) overRows(pass, layer, room.data());
      }
  }

  // What slabs left undone between them.
  void betweenSlabs(std::size_t border) const {
    for (std::size_t pass = 1; pass < passes_; ++pass)
      runRanges(2 * pass * layers_.rows(), Shares::Equal, [&](std::size_t begin, std::size_t end) {
        std::vector<float> room(numbers_, 0.0F);
        for (std::size_t i = begin; i < end; ++i)
          layers_.row(border - pass + i / layers_.rows(), i % layers_.rows(),
                      [&](std::size_t y, std::size_t z) { act_(pass, y, z, room.data()); });
      });
  }

 private:
  void overRows(std::size_t pass, std::size_t layer, float* room) const {
    layers_.each(layer, [&](std::size_t y, std::size_t z) { act_(pass, y, z, room); });
  }

  const Layers& layers_;
  std::size_t passes_, numbers_;
  const RowPass& act_;
};

}  // namespace

void runRowPasses(const PressureLevel& level, std::size_t passes, std::size_t numbers, const RowPass& act) {
  const Layers layers(level);
  const Passes all(layers, passes, numbers, act);
  const std::size_t max = level.layout.size() < kSerialVoxels ? 1 : layers.count() / (2 * passes);
  const std::size_t slabs = std::clamp<std::size_t>(max, 1, threadCount());
  const auto border = [&](std::size_t slab) { return slab * layers.count() / slabs; };
  if (slabs == 1) return all.overSlab(0, layers.count());
  parallelForEqual(slabs, [&](std::size_t slab) { all.overSlab(border(slab), border(slab + 1)); });
  for (std::size_t slab = 1; slab < slabs; ++slab) all.betweenSlabs(border(slab));
}

}  // namespace comet
