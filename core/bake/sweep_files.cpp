#include "bake/sweep_files.h"

#include "bake/flipbook_file.h"
#include "base/file.h"
#include "io/picture_file.h"
#include "render/camera_picture.h"
#include "render/finish.h"
#include "scene/scene_file.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

using nlohmann::ordered_json;

// The sheet's widest side is about so many pixels.
constexpr int kSheetSide = 4096;

// The frame that the sheet shows.
int sheetFrame(const SweepFiles& files) { return (files.frames.first + files.frames.last) / 2; }

// How the variants lie in the sheet: those of one parameter about as many across as down.
struct SheetGrid {
  explicit SheetGrid(const Sweep& sweep)
      : columns(static_cast<int>(sweep.rows() > 1
                                     ? sweep.columns()
                                     : std::lround(std::ceil(std::sqrt(static_cast<double>(sweep.size())))))),
        rows((static_cast<int>(sweep.size()) + columns - 1) / columns) {}

  int columns, rows;
};

// How many times smaller pictures are in the sheet.
int sheetReduction(const SheetGrid& grid, PictureSize size) {
  const int widest = std::max(grid.columns * size.width, grid.rows * size.height);
  return std::clamp((widest + kSheetSide - 1) / kSheetSide, 1, std::min(size.width, size.height));
}

std::string pictureName(const SweepFiles& files, std::size_t variant, int frame) {
  return fmt::format("{}.{:02}.{:04}.png", files.name, variant, frame);
}

ordered_json describe(const Sweep& sweep, const Scene& scene, const SweepFiles& files) {
  const SheetGrid grid(sweep);
  ordered_json root = {{"frames", {{"first", files.frames.first}, {"last", files.frames.last}}},
                       {"size", {files.size.width, files.size.height}},
                       {"parameters", ordered_json::array()},
                       {"variants", ordered_json::array()},
                       {"sheet",
                        {{"image", files.name + ".sheet.png"},
                         {"frame", sheetFrame(files)},
                         {"columns", grid.columns},
                         {"rows", grid.rows}}}};
  for (const SweepAxis& axis : sweep.axes())
    root["parameters"].push_back({{"item", scene.find(axis.item)->name}, {"parameter", axis.param}});
  for (std::size_t i = 0; i < sweep.size(); ++i) {
    ordered_json values = ordered_json::array();
    for (std::size_t a = 0; a < sweep.axes().size(); ++a) {
      const SweepAxis& axis = sweep.axes()[a];
      const KindSpec& kind = *scene.find(axis.item)->kind;
      values.push_back(ordered_json(
          jsonFromParam(kind.params()[kind.indexOf(axis.param)], axis.values[sweep.indexOn(a, i)])));
    }
    ordered_json images = ordered_json::array();
    for (int frame = files.frames.first; frame <= files.frames.last; ++frame)
      images.push_back(pictureName(files, i, frame));
    root["variants"].push_back({{"label", sweep.label(i)}, {"values", values}, {"images", images}});
  }
  return root;
}

// PNG readers expect straight alpha.
void write(const std::filesystem::path& path, Picture picture, const Progress& progress) {
  picture = withAlphaKind(std::move(picture), AlphaKind::Straight, progress);
  writePicture(path, rowsOf(picture), PictureFormat::Png8, PictureChannels::Rgba, PictureEncoding::Srgb,
               Progress(progress, {}));
}

}  // namespace

std::vector<std::filesystem::path> writeSweep(const Sweep& sweep, SceneRun& run, const SweepFiles& files,
                                              const Progress& progress) {
  std::vector<std::filesystem::path> written;
  const SheetGrid grid(sweep);
  const int factor = sheetReduction(grid, files.size);
  const int width = files.size.width / factor, height = files.size.height / factor;
  Picture sheet(grid.columns * width, grid.rows * height);
  Renderer renderer;
  const int total = static_cast<int>(sweep.size()) * files.frames.count();
  for (std::size_t i = 0; i < sweep.size(); ++i) {
    SceneRun variant = run.of(sweep.scene(i));
    for (int frame = files.frames.first; frame <= files.frames.last; ++frame) {
      progress.step(static_cast<int>(written.size()), total);
      Picture picture = cameraPicture(renderer, variant, frame, files.size, progress);
      if (frame == sheetFrame(files))
        sheet.pasteReduced(picture, factor, static_cast<int>(i) % grid.columns * width,
                           static_cast<int>(i) / grid.columns * height);
      written.push_back(files.folder / pictureName(files, i, frame));
      write(written.back(), std::move(picture), progress);
    }
  }
  progress.step(total, total);
  written.push_back(files.folder / (files.name + ".sheet.png"));
  write(written.back(), std::move(sheet), progress);
  written.push_back(files.folder / (files.name + ".sweep.json"));
  writeFileAtomically(written.back(), describe(sweep, run.scene(), files).dump(2) + "\n");
  return written;
}

}  // namespace comet
