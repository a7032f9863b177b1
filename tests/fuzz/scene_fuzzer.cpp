// Any bytes as a scene file: an Error or a scene that can be written and read again.
#include "base/error.h"
#include "catalog.h"
#include "scene/scene_file.h"

#include <cstdlib>
#include <string_view>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
  try {
    const comet::Scene scene =
        comet::sceneFromText({reinterpret_cast<const char*>(data), size}, comet::catalog());
    if (comet::sceneFromText(comet::textFromScene(scene), comet::catalog()) != scene) std::abort();
  } catch (const comet::Error&) {
    // What a reader owes to broken input.
  }
  return 0;
}
