// Vectors for large amounts of data.
#pragma once

#include "base/memory.h"

#include <new>
#include <utility>
#include <vector>

namespace comet {

// Takes blocks that stay with the process for the next vector when they are given back: pages that are new to
// it would have to be cleared by the system each time.
template <typename Element>
class BlockAllocator {
 public:
  using value_type = Element;

  BlockAllocator() = default;
  template <typename Other>
  BlockAllocator(const BlockAllocator<Other>&) noexcept {}

  Element* allocate(std::size_t count) { return static_cast<Element*>(takeBlock(count * sizeof(Element))); }
  void deallocate(Element* block, std::size_t) noexcept { giveBackBlock(block); }

  friend bool operator==(const BlockAllocator&, const BlockAllocator&) { return true; }
};

template <typename Element>
using BlockVector = std::vector<Element, BlockAllocator<Element>>;

// Leaves the elements of a new vector untouched, so that they can be set by all threads.
template <typename Element>
class UntouchedAllocator : public BlockAllocator<Element> {
 public:
  UntouchedAllocator() = default;
  template <typename Other>
  UntouchedAllocator(const UntouchedAllocator<Other>&) noexcept {}

  template <typename Other>
  void construct(Other*) noexcept {}
  template <typename Other, typename... Arguments>
  void construct(Other* place, Arguments&&... arguments) {
    ::new (static_cast<void*>(place)) Other(std::forward<Arguments>(arguments)...);
  }
};

template <typename Element>
using UntouchedVector = std::vector<Element, UntouchedAllocator<Element>>;

}  // namespace comet
