// The kind of the items that light a scene beside the light of its settings.
#pragma once

#include "params/schema.h"

namespace comet {

const KindSpec& lightKind();

}  // namespace comet
