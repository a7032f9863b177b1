// The parameters of a bake.
#pragma once

#include "params/schema.h"

namespace comet {

const KindSpec& bakeKind();

}  // namespace comet
