// The scenes that come with the program.
#pragma once

#include <array>
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

// Of these, meshes to begin with, which no demo need use.
constexpr std::array<std::string_view, 7> kBasicShapes{"ball.obj", "box.obj",     "cone.obj", "cylinder.obj",
                                                       "ring.obj", "crystal.obj", "leaf.obj"};

}  // namespace comet
