// Vectors for large amounts of data whose elements are all about to be set.
#pragma once

#include <new>
#include <tbb/scalable_allocator.h>
#include <utility>
#include <vector>

namespace comet {

// Keeps large blocks for the next vector instead of returning them to the system, and leaves the elements of
// a new vector untouched, so that they can be set by all threads.
template <typename Element>
class UntouchedAllocator : public tbb::scalable_allocator<Element> {
 public:
  template <typename Other>
  struct rebind {
    using other = UntouchedAllocator<Other>;
  };

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
