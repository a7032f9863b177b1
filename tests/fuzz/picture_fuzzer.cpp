// Any bytes as a PNG file: an Error or a picture of finite numbers.
#include "base/error.h"
#include "io/picture_file.h"

#include <cmath>
#include <cstdlib>
#include <string_view>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
  try {
    const comet::Picture picture =
        comet::pictureFromBytes({reinterpret_cast<const char*>(data), size}, "a.png");
    for (const comet::Vec4& pixel : picture.pixels())
      if (!std::isfinite(pixel.x) || !std::isfinite(pixel.w)) std::abort();
  } catch (const comet::Error&) {
    // What a reader owes to broken input.
  }
  return 0;
}
