// All that a picture is drawn from, gathered in one place for viewport, bakes, command line and notes.
#pragma once

#include "render/camera.h"
#include "render/solids.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <vector>

namespace comet {

struct PictureSize {
  int width = 0;
  int height = 0;

  bool operator==(const PictureSize&) const = default;
};

struct Shot {
  Scene scene;
  SceneFrame frame;
  Past past;  // as far back as trails look; see pastNeeded
  Camera camera;
  PictureSize size;
  int supersampling = 1;  // so many times as large each way, averaged before the picture is finished
  RenderPurpose purpose = RenderPurpose::Bake;
  std::vector<ItemId> leftOut{};  // emitters that are not drawn
};

}  // namespace comet
