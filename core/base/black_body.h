// The light of what glows because it is hot.
#pragma once

#include "base/vec.h"

namespace comet {

// The CIE 1931 tristimulus values of a black body at a temperature in kelvin, above 0: Planck's law over the
// visible wavelengths. In units of its own; they grow with the temperature as what is seen does.
Vec3d blackBodyXyz(double kelvin);

// The same as scene-linear RGB (Rec. 709 primaries); colours beyond what these can show are brought back to
// them, so that no component is below 0.
Vec3d blackBodyColor(double kelvin);

}  // namespace comet
