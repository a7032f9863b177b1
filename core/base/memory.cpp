#include "base/memory.h"

#include <malloc.h>
#include <tbb/scalable_allocator.h>

namespace comet {

void releaseUnusedMemory() {
  // It fails only where there was nothing to hand back.
  static_cast<void>(scalable_allocation_command(TBBMALLOC_CLEAN_ALL_BUFFERS, nullptr));
  ::malloc_trim(0);
}

}  // namespace comet
