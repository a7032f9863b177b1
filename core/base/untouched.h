// Vectors for large amounts of data whose elements are all about to be set.
#pragma once

#include "base/memory.h"

#include <new>
#include <tbb/scalable_allocator.h>
#include <utility>
#include <vector>

namespace comet {

// Keeps large blocks for the next vector instead of returning them to the system, and leaves the elements of
// a new vector untouched, so that they can be set by all threads. Large blocks lie in large pages, where
// there are any: they are then taken and given back many times as fast.
template <typename Element>
class UntouchedAllocator : public tbb::scalable_allocator<Element> {
 public:
  template <typename Other>
  struct rebind {
    using other = UntouchedAllocator<Other>;
  };

  Element* allocate(std::size_t count) {
    Element* block = tbb::scalable_allocator<Element>::allocate(count);
    adviseLargePages(block, count * sizeof(Element));
    return block;
  }

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
