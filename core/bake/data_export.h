// Particles, hits, trails, links, surfaces, gases and cards as files: one for each frame, or one for all.
#pragma once

#include "base/progress.h"
#include "cache/scene_run.h"
#include "scene/scene.h"

#include <array>
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace comet {

enum class DataKind { Particles, Hits, Trails, Links, Surfaces, Gases, Cards };

// As on the command line, in the order of DataKind.
constexpr std::array<std::string_view, 7> kDataKinds{"particles", "hits", "trails", "links",
                                                     "surface",   "gas",  "cards"};

// The formats that a kind of data can be written in, as the files' extensions.
std::vector<std::string> formatsOf(DataKind kind);

struct DataExport {
  DataKind kind = DataKind::Particles;
  std::string format = "csv";
  FrameRange frames;
  std::size_t points = 0;  // of each trail or link, evenly along it; 0 for those that it has
  std::filesystem::path folder;
  std::string stem;  // what the files' names begin with
};

// Returns what was written: all of it at once, once all is there. Throws Error(Usage) for a format that is
// not of the kind, Error(Budget) for a surface that needs too much memory, Error(Write), or Error(Cancelled).
std::vector<std::filesystem::path> exportData(SceneRun& run, const DataExport& wanted,
                                              const Progress& progress);

}  // namespace comet
