// What values say, for the keys of what is made of them.
#pragma once

#include "base/digest.h"
#include "params/value.h"

namespace comet {

// Equal values are described alike, and different ones apart.
void describe(const Value& value, Hasher& hasher);
void describe(const Curve& curve, Hasher& hasher);

}  // namespace comet
