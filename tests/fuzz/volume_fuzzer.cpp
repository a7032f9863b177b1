// Any bytes as a volume file: an Error or grids whose vectors are numbers.
#include "base/error.h"
#include "io/volume_file.h"

#include <cmath>
#include <cstdlib>
#include <string_view>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
  try {
    for (const comet::VectorVolume& volume :
         comet::vectorVolumesFromBytes({reinterpret_cast<const char*>(data), size}, "a.vdb")) {
      if (!std::isfinite(volume.grid.longest())) std::abort();
      (void)volume.grid.sample({0.3, 0.6, 0.9}, comet::Beyond::Edge);
    }
  } catch (const comet::Error&) {
    // What a reader owes to broken input.
  }
  return 0;
}
