#include "base/vector_unit.h"

#include <hwy/highway.h>

namespace comet {

void useBaselineVectorUnit() { hwy::SetSupportedTargetsForTest(HWY_SSSE3 | HWY_EMU128 | HWY_SCALAR); }

void useBestVectorUnit() { hwy::SetSupportedTargetsForTest(0); }

}  // namespace comet
