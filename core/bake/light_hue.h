// The colour of the light that a sheet gives.
#pragma once

#include "base/picture.h"

#include <optional>

namespace comet {

// The mean colour of a picture, with its largest component at 1; nothing if it is black.
std::optional<Vec3d> hueOf(const Picture& picture);

}  // namespace comet
