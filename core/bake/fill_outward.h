// Colours beyond the edge of what is covered. All throw Error(Cancelled).
#pragma once

#include "base/picture.h"
#include "base/progress.h"

namespace comet {

// `values` with those of pixels that weigh nothing taken from the nearest ones that do, smoothly; pixels that
// weigh 1 or more stay as they are. Values are not multiplied with their weights; w is the weight. Where the
// whole picture weighs nothing, it is returned as it is.
// Method: Gortler, Grzeszczuk, Szeliski & Cohen, "The Lumigraph", 1996 (pull and push).
Picture filledOutward(Picture values, const Progress& progress = {});

// As filledOutward, but pixels count fully as soon as they weigh `min`, and keep their weights in w.
constexpr float kMinWeight = 1e-4F;
Picture filledBeyondSeen(Picture values, float min = kMinWeight, const Progress& progress = {});

// The colour and alpha of each pixel apart, and colours going on beyond the edges, for filters that mix
// neighbouring pixels. Colour times alpha is what it was.
Picture withStraightAlpha(Picture premultiplied, const Progress& progress = {});

// Puts the pixels at the edge of a rectangle into the frame of `padding` pixels around it.
void bleedEdge(Picture& sheet, int x, int y, int width, int height, int padding);

}  // namespace comet
