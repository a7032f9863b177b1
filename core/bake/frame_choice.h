// Which frames get a cell, by what they show.
#pragma once

#include "bake/flipbook.h"
#include "base/picture.h"

#include <functional>
#include <vector>

namespace comet {

// How much there is to see: the sum over all pixels of light or cover, whichever is more.
double energyOf(const Picture& picture);
// By how much two pictures of one size differ: the mean over all pixels of the difference in light and cover.
double changeBetween(const PictureView& a, const PictureView& b);
inline double changeBetween(const Picture& a, const Picture& b) {
  return changeBetween(viewOf(a), viewOf(b));
}

// The first and the last index whose energy is at least `fraction` of the greatest; all if there is none.
FrameRange livelyPart(const std::vector<double>& energies, double fraction);

// The stretch of `shortest` to `longest` of so many indices that makes the best loop: the ones right before
// it are most like those before its end, on average over as many of them as overlap(length) says. All of them
// are among the `count`. `unlike(a, b)` says how different two are. Of alike ones, the longest and first.
struct LoopStretch {
  FrameRange range;
  double unlike = 0;  // on average
};
LoopStretch bestLoop(int count, int shortest, int longest, const std::function<int(int length)>& overlap,
                     const std::function<double(int a, int b)>& unlike);

// So many indices, the first and the last among them, between which the sum of the changes is as nearly the
// same as whole frames let it be. `changes[i]` is that from index i to i + 1. For a loop it has one more,
// from the last to the first, and the last need not be among them. No index twice.
std::vector<int> evenInMotion(const std::vector<double>& changes, int count, bool isLoop);

}  // namespace comet
