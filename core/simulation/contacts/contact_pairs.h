// Which particles may soon touch each other, in an order in which all threads can take the pairs.
#pragma once

#include "base/parallel.h"
#include "base/untouched.h"
#include "base/vec.h"

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace comet {

// Particles are sorted into slabs across the longer level axis, in them from below to above. Each pair
// belongs to the slab of its first one, and its second one lies there or in the next slab: what the pairs of
// a slab change is not touched by those of the next slab but one.
//
// Depends on the particles alone, not on the threads.
class ContactPairs {
 public:
  // Lists the pairs among particles, in units. Those of a radius of 0 take no part; the others' places are
  // numbers. Each pair that comes to touch before either has moved by more than `reserve` is listed.
  void list(std::span<const Vec3> places, std::span<const float> radii, float reserve);

  struct Slab {
    std::uint32_t first = 0, last = 0;  // entries
    BlockVector<std::uint32_t> starts;  // of each entry's in `others`, and the end of the last
    BlockVector<std::uint32_t> others;  // entries that may touch it, each pair once

    std::span<const std::uint32_t> of(std::uint32_t entry) const {
      const std::uint32_t own = entry - first;
      return {others.data() + starts[own], others.data() + starts[own + 1]};
    }
  };
  const std::vector<Slab>& slabs() const { return slabs_; }
  // Which particle an entry is.
  std::span<const std::uint32_t> order() const { return order_; }
  std::size_t size() const { return order_.size(); }

  // Calls body(slab) for each, on all threads, so that no two of them that share particles run at once, and
  // always in the same order of those.
  template <typename Body>
  void forSlabs(const Body& body) const {
    for (std::size_t odd = 0; odd < 2; ++odd)
      parallelFor((slabs_.size() + 1 - odd) / 2, [&](std::size_t i) { body(2 * i + odd); });
  }

 private:
  UntouchedVector<std::uint32_t> order_;
  std::vector<Slab> slabs_;
};

}  // namespace comet
