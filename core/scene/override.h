// Changes to a scene given as text, as on a command line: ITEM.PARAM=VALUE.
#pragma once

#include "scene/scene.h"

#include <string>

namespace comet {

// VALUE is a number (`120`), a number with variation (`4±1.5` or `4+-1.5`), a vector (`0,1,0`), a choice
// (`box`), `true` or `false`, or the value as it would stand in a scene file. Throws Error(Usage) naming what
// is wrong. An ITEM.PARAM that sets a number keeps the course over age and drops keys.
Scene withOverride(const Scene& scene, const std::string& assignment);

// The value that a text gives to a parameter that now has the value `current`.
ParamValue paramFromText(const ParamSpec& spec, const ParamValue& current, const std::string& text);

}  // namespace comet
