// The settings that belong to a scene as a whole.
#pragma once

#include "params/schema.h"

namespace comet {

const KindSpec& settingsKind();

}  // namespace comet
