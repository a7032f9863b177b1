// Vectors for large amounts of data whose elements are all about to be set.
#pragma once

#include "base/memory.h"

#include <new>
#include <utility>
#include <vector>

namespace comet {

// Leaves the elements of a new vector untouched, so that they can be set by all threads.
template <typename Element>
class UntouchedAllocator {
 public:
  using value_type = Element;

  UntouchedAllocator() = default;
  template <typename Other>
  UntouchedAllocator(const UntouchedAllocator<Other>&) noexcept {}

  Element* allocate(std::size_t count) { return static_cast<Element*>(takeBlock(count * sizeof(Element))); }
  void deallocate(Element* block, std::size_t) noexcept { giveBackBlock(block); }

  template <typename Other>
  void construct(Other*) noexcept {}
  template <typename Other, typename... Arguments>
  void construct(Other* place, Arguments&&... arguments) {
    ::new (static_cast<void*>(place)) Other(std::forward<Arguments>(arguments)...);
  }

  friend bool operator==(const UntouchedAllocator&, const UntouchedAllocator&) { return true; }
};

template <typename Element>
using UntouchedVector = std::vector<Element, UntouchedAllocator<Element>>;

}  // namespace comet
