// What is wrong with how a contact is set up: particles that their hold has no room for.
#pragma once

#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <string>
#include <vector>

namespace comet {

// In words, each a line of its own; none if all is well. A hold is a closed deflector that is inside out, and
// is asked to take all particles that answer to it and to the contact, as they are in the frame.
std::vector<std::string> notesOnContact(const Scene& scene, const Item& contact, const SceneFrame& frame);

}  // namespace comet
