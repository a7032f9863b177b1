// Presets: small scenes to take emitters from, each with the influences that make it what it is.
//
// A preset is a scene file with a field "preset" that holds its category and further words by which it is
// found. Those that come with the program lie in presets/; an artist's own are files like them.
#pragma once

#include "readers/file_reader.h"
#include "scene/scene_merge.h"

#include <filesystem>
#include <string>
#include <vector>

namespace comet {

struct Preset {
  std::string name;
  std::string category;  // empty for an artist's own
  std::string words;     // with spaces between
  Scene scene;           // its camera shows the effect
};

// Those that come with the program, with their files read: category by category, in each by name.
const std::vector<Preset>& builtInPresets();
// Null if there is none of this name.
const Preset* findBuiltInPreset(const std::string& name);

// A preset's file, named as it is; see openScene.
Preset openPreset(const std::filesystem::path& path, const FileReaderPtr& files,
                  const Progress& progress = {});
// Throws Error(Write).
void writePreset(const std::filesystem::path& path, const Preset& preset);

// An emitter with all emitters that are born of it, and the influences that act on them, seen by the scene's
// camera.
Preset presetOf(const Scene& scene, ItemId emitter);

// A scene with all that a preset holds, moved by an offset.
Merged withPreset(const Scene& scene, const Preset& preset, const Vec3d& offset = Vec3d(0.0));
// The same, where an item with a mesh is: emitters that give births on their own do so on its surface.
Merged withPresetOn(const Scene& scene, const Preset& preset, ItemId meshItem);

}  // namespace comet
