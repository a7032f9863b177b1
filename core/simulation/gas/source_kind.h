// The parameters of sources of gas.
#pragma once

#include "params/schema.h"

namespace comet {

const KindSpec& sourceKind();

}  // namespace comet
