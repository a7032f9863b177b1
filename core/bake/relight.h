// What a game needs to light a flipbook itself: where what is seen faces, and how light from six sides falls
// on it.
#pragma once

#include "base/picture.h"

namespace comet {

// From MiddlePaint and CurvaturePaint, painted in a picture `factor` times as large: each sprite counts as a
// ball, in the fractions in which sprites are seen. x to the right, y up, z to the viewer, of length one; w
// is how much is seen. Goes on beyond what is seen.
Picture normalsOf(const Picture& middles, const Picture& curvatures, int factor);

// How bright each pixel is by lights of 1, 0 to 1: a fraction for facing the light, times what of it comes
// through. The effect counts as about as deep as it is wide, so that what is seen of its cover says how dense
// it is.
struct SixLights {
  Picture rightTopBack;  // x, y, z; w is how much is seen
  Picture leftBottomFront;
};
SixLights sixLights(const Picture& cell, const Picture& normals);

}  // namespace comet
