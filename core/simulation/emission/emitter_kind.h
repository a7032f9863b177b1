// The parameters of emitters.
#pragma once

#include "params/schema.h"

namespace comet {

const KindSpec& emitterKind();

}  // namespace comet
