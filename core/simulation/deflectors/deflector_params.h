// The parameters of deflectors: shape, place, surface, and how they are drawn.
#pragma once

#include "params/schema.h"

#include <vector>

namespace comet {

std::vector<ParamSpec> deflectorParams();

}  // namespace comet
