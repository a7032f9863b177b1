// Which of the machine's vector instructions the kernels may use.
#pragma once

namespace comet {

// Limits every kernel to the oldest 128-bit instructions it is built for, to show that results do not depend
// on the machine. Call it before other threads run kernels.
void useBaselineVectorUnit();

// Lifts the limit again.
void useBestVectorUnit();

}  // namespace comet
