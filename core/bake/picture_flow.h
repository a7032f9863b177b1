// How what one picture shows has to move to become what another one shows.
#pragma once

#include "base/picture.h"

namespace comet {

// For each pixel of `from`, x and y are how far it lies from its like in `to`, pixels to the right and down;
// z and w are 0. By what is seen of them (Horn and Schunck 1981), from coarse to fine, each time about the
// place found so far. Both have one size. The flow is smooth, and goes on where there is nothing to see; it
// is 0 all over where it would not bring the two clearly nearer to each other, as where they have little in
// common.
Picture flowBetween(const Picture& from, const Picture& to);

// Both pictures mixed, `fraction` of it `to`, after each was moved along the flow to where they meet: what
// they have in common is seen once, not twice.
Picture morphed(const Picture& from, const Picture& to, const Picture& flow, double fraction);

}  // namespace comet
