// Edits of scenes at random, for what has to be true after any of them.
#pragma once

#include "scene/scene.h"

#include <random>

namespace comet::test {

// Another value of a parameter: its constant, sometimes keys within so many frames, or a formula. Of some
// types there is none, which are left as they are.
ParamValue anotherValue(const ParamSpec& spec, ParamValue value, int lastFrame, std::mt19937& random);

// Changes one parameter of one item, a response, or whether an influence acts. The range of frames stays.
Scene edited(const Scene& scene, int lastFrame, std::mt19937& random);

}  // namespace comet::test
