// A flipbook that was exported, in use: a scene as a game would have it, whose emitters play the sheet.
#pragma once

#include "readers/file_reader.h"
#include "scene/scene.h"

#include <filesystem>

namespace comet {

// `description` is the JSON file that was exported beside the sheet. Sprites play all cells over their lives,
// rise in a cone, are slowed down by drag and grow; they are rotated at random where the description says
// that nothing is lost by it. What shines (light of its own, fire, a glow) is played by an emitter of its
// own, added, and lights a ground and the rest with a light that flickers.
// A file that cannot be used leaves its reason in the scene, as in openScene. Throws Error(Input), with the
// file as the place, for a description that is none, and for flipbooks of more than one picture; and
// Error(Cancelled).
Scene sceneOfSheet(const std::filesystem::path& description, const FileReaderPtr& reader,
                   const Progress& progress = {});

}  // namespace comet
