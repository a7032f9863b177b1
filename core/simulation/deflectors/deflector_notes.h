// What there is to say about a deflector as it is set up: how its mesh is met, and what is wrong with it.
#pragma once

#include "scene/scene.h"

#include <string>
#include <vector>

namespace comet {

// In words, each a line of its own; none for plain shapes. Builds what finds places on a mesh.
std::vector<std::string> notesOnDeflector(const Scene& scene, const Item& deflector, double frame);

}  // namespace comet
