// What motion vectors are for: bringing a cell nearer to the next one.
#pragma once

#include "base/picture.h"

namespace comet {

// `from` moved along its motion by `fraction` of the way to the next cell: each pixel is what lies so far
// behind it. `motion` holds pixels to the right and down.
Picture warped(const Picture& from, const Picture& motion, double fraction);

}  // namespace comet
