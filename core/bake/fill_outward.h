// Colours beyond the edge of what is covered.
#pragma once

#include "base/picture.h"

namespace comet {

// `values` with those of pixels that weigh nothing taken from the nearest ones that do, smoothly; pixels that
// weigh 1 or more stay as they are. Values are not multiplied with their weights; w is the weight. Where the
// whole picture weighs nothing, it is returned as it is.
// Method: Gortler, Grzeszczuk, Szeliski & Cohen, "The Lumigraph", 1996 (pull and push).
Picture filledOutward(const Picture& values);

// As filledOutward, but pixels count fully as soon as they weigh `least`, and keep their weights in w.
constexpr float kLeastWeight = 1e-4F;
Picture filledBeyondSeen(const Picture& values, float least = kLeastWeight);

// The colour and alpha of each pixel apart, and colours going on beyond the edges, for filters that mix
// neighbouring pixels. Colour times alpha is what it was.
Picture withStraightAlpha(const Picture& premultiplied);

// Puts the pixels at the edge of a rectangle into the frame of `padding` pixels around it.
void bleedEdge(Picture& sheet, int x, int y, int width, int height, int padding);

}  // namespace comet
