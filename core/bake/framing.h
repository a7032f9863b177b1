// Fitting a bake's view to the effect.
#pragma once

#include "bake/bake_sheet.h"

#include <optional>

namespace comet {

// The bake's view, moved and scaled so that all that is seen in its frames, with trails and glow, lies inside
// the margin in every cell; its way of looking stays. Nothing if nothing is to be seen anywhere near. Draws
// up to kFittedFrames frames, small and several times, and then all frames about as large as their cells.
// Throws what SceneRun throws.
constexpr int kFittedFrames = 48;
std::optional<Camera> fittedView(SceneRun& run, const FlipbookLayout& layout, const Progress& progress);

// The scene with the bake seen by that view of its own.
Scene withFittedView(const Scene& scene, ItemId bake, const Camera& view);

// What of a picture is lit or covered by more than can be neglected, in fractions of its width and height.
struct SeenBox {
  double left = 1, top = 1, right = 0, bottom = 0;

  bool empty() const { return left >= right || top >= bottom; }
  bool touchesEdge() const { return left <= 0 || top <= 0 || right >= 1 || bottom >= 1; }
  void add(const SeenBox& other);
};
SeenBox seenBox(const Picture& picture);

}  // namespace comet
