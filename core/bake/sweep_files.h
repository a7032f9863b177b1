// The pictures of a sweep as files: a PNG for each variant and frame, a sheet that shows all variants of one
// frame, and a JSON file that says which is which.
#pragma once

#include "base/progress.h"
#include "cache/scene_run.h"
#include "render/shot.h"
#include "scene/sweep.h"

#include <filesystem>
#include <string>
#include <vector>

namespace comet {

struct SweepFiles {
  std::filesystem::path folder;
  std::string name;  // that all files begin with
  FrameRange frames;
  PictureSize size;
};

// The files' paths; the last is the JSON file, which is written when all others are there. What variants have
// in common is simulated once, as far as the cache of `run` holds it. Throws Error(Write), and as
// SceneRun::frame does.
std::vector<std::filesystem::path> writeSweep(const Sweep& sweep, SceneRun& run, const SweepFiles& files,
                                              const Progress& progress = {});

}  // namespace comet
