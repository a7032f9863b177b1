// The scenes that come with the program.
#pragma once

#include <string_view>
#include <vector>

namespace comet {

struct Demo {
  std::string_view name;       // as in `comet new --demo NAME`; underscores for spaces
  std::string_view sceneText;  // a scene file
};

// In alphabetical order.
const std::vector<Demo>& demos();

// Small scenes to take emitters from, likewise; see presets.h.
const std::vector<Demo>& presetScenes();

// A picture or mesh that demo scenes use.
struct DemoFile {
  std::string_view name;
  std::string_view bytes;
};

const std::vector<DemoFile>& demoFiles();

}  // namespace comet
