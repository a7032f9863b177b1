// The subcommands. Each throws Error for whatever goes wrong; main turns that into a message and an exit
// code.
#pragma once

#include "bake/flipbook.h"
#include "base/progress.h"
#include "options.h"

#include <optional>
#include <string>
#include <vector>

namespace comet::cli {

// As flipbookLayout; what is wrong is said with the bake's place in the scene's file.
FlipbookLayout layoutOf(const Scene& scene, const Item& bake);

struct BakeOptions {
  SceneOptions scene;
  std::string folder;
  std::string bakeName;  // empty for every bake of the scene
  bool fits = false;     // fits the view to the effect first; the scene's file stays as it is
  bool checks = false;   // lists what the bake check finds
  bool watches = false;  // bakes again whenever the scene's file is written, until it is cancelled
};
void bake(const BakeOptions& options, Progress& progress);

struct RenderOptions {
  SceneOptions scene;
  std::string folder;
  std::string frames;
  std::string size;
  bool exr = false;
};
void render(const RenderOptions& options, Progress& progress);

struct SweepOptions {
  SceneOptions scene;
  std::vector<std::string> axes;  // as axisFromText takes them
  std::string folder;
  std::string frames;
  std::string size;
};
void sweep(const SweepOptions& options, Progress& progress);

struct ExportOptions {
  SceneOptions scene;
  std::string folder;
  std::string what = "particles";
  std::string format = "csv";
  std::size_t points = 0;  // of each line; 0 for as many as it has
  std::string frames;
};
void exportData(const ExportOptions& options, Progress& progress);

struct StatsOptions {
  SceneOptions scene;
  std::string frames;
  bool json = false;
};
void stats(const StatsOptions& options, Progress& progress);

void validate(const SceneOptions& options, const Progress& progress);

struct NewOptions {
  std::string path;
  std::string demo;   // empty for the starting scene
  std::string sheet;  // the description of an exported flipbook, to begin with a scene that uses it
  std::vector<std::string> presets;  // names or files, to begin with a scene that has them
  FileReaderPtr files;
  bool force = false;  // also over a file that is there
};
void newScene(const NewOptions& options, Progress& progress);

enum class SchemaForm { Text, Json, Markdown, JsonSchema };
void schema(SchemaForm form);

}  // namespace comet::cli
