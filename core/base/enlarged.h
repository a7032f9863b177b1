// Pictures with more pixels than they were drawn with.
#pragma once

#include "base/picture.h"

namespace comet {

// The picture stretched to a larger size, smoothly: by the cubic filter of Mitchell and Netravali (1988),
// which shows neither blocks nor rings. What is the same all over stays so, up to the edges.
Picture enlarged(const Picture& picture, int width, int height);

}  // namespace comet
