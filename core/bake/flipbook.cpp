#include "bake/flipbook.h"

#include "base/error.h"
#include "base/file.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

// The largest texture that graphics cards in use can hold.
constexpr int kLargestSheet = 16384;

constexpr std::array<std::string_view, 3> kAlphaNames{"premultiplied", "straight", "on_black"};
constexpr std::array<std::string_view, 3> kFormatNames{"png8", "png16", "exr"};

void checkLayout(const FlipbookLayout& layout, const Scene& scene) {
  const std::string place = fmt::format("flipbook \"{}\"", layout.name);
  const auto refuse = [&](const std::string& problem, const std::string& remedy) {
    throw Error(ErrorKind::Input, place, problem, remedy);
  };
  const std::size_t cells = static_cast<std::size_t>(layout.columns) * layout.rows;
  if (layout.frames.empty())
    refuse(fmt::format("the last frame, {}, lies before the first, {}", layout.lastFrame, layout.firstFrame),
           "Choose a later last frame");
  if (layout.frames.size() > cells)
    refuse(fmt::format("{} frames do not fit {} cells", layout.frames.size(), cells),
           "Add columns or rows, or raise the step");
  if (layout.width() > kLargestSheet || layout.height() > kLargestSheet)
    refuse(fmt::format("the sheet would be {} × {} pixels, more than {} a side", layout.width(),
                       layout.height(), kLargestSheet),
           "Make the cells smaller or fewer");
  if (layout.frames.front() < frameRange(scene).first)
    refuse(fmt::format("frame {} lies before the scene's first frame, {}", layout.frames.front(),
                       frameRange(scene).first),
           "Choose a later first frame");
}

}  // namespace

FlipbookLayout flipbookLayout(const Scene& scene, const Item& bake) {
  const auto whole = [&bake](const char* param) { return bake.integer(param, 0); };
  FlipbookLayout layout;
  layout.name = bake.name;
  layout.firstFrame = whole("first");
  layout.lastFrame = whole("last");
  layout.step = whole("step");
  layout.columns = whole("columns");
  layout.rows = whole("rows");
  layout.cellWidth = whole("cell_width");
  layout.cellHeight = whole("cell_height");
  layout.padding = whole("padding");
  layout.supersampling = whole("supersampling");
  layout.alpha = bake.choiceAs<AlphaKind>("alpha", kAlphaNames);
  layout.format = bake.choiceAs<PictureFormat>("format", kFormatNames);
  if (bake.chooses("finish", "own")) layout.ownFinish = bake.id;
  layout.framesPerSecond = frameRate(scene) / layout.step;
  for (int frame = layout.firstFrame; frame <= layout.lastFrame; frame += layout.step)
    layout.frames.push_back(frame);
  checkLayout(layout, scene);
  return layout;
}

Picture bakeSheet(SceneRun& run, const FlipbookLayout& layout, const Progress& progress) {
  Renderer renderer;
  Picture sheet(layout.width(), layout.height());
  const int total = static_cast<int>(layout.frames.size());
  for (int cell = 0; cell < total; ++cell) {
    progress.step(cell, total);
    const auto index = static_cast<std::size_t>(cell);
    const int frame = layout.frames[index];
    const Past past = run.past(frame, pastNeeded(run.scene(), frame), &progress);
    const ParticleFramePtr particles = run.frame(frame, &progress);
    const Item& finish = layout.ownFinish ? *run.scene().find(*layout.ownFinish) : run.scene().camera();
    const Picture picture = renderer.drawSupersampled(
        run.scene(), *particles, cameraOf(run.scene(), frame), {layout.cellWidth, layout.cellHeight},
        layout.supersampling, finishOf(finish, frame), Beholder::Bake, past);
    sheet.pasteReduced(picture, 1, layout.cellX(index), layout.cellY(index));
  }
  progress.step(total, total);
  return sheet;
}

Picture withAlphaKind(const Picture& sheet, AlphaKind alpha) {
  if (alpha == AlphaKind::Premultiplied) return sheet;
  Picture result = sheet;
  for (int y = 0; y < result.height(); ++y) {
    for (int x = 0; x < result.width(); ++x) {
      Vec4& pixel = result.at(x, y);
      if (alpha == AlphaKind::OnBlack) {
        pixel.w = 1;
        continue;
      }
      const float brightest = std::max({pixel.x, pixel.y, pixel.z});
      pixel.w = std::max(pixel.w, std::min(1.0F, brightest));
      if (pixel.w > 0) pixel = Vec4(Vec3(pixel) / pixel.w, pixel.w);
    }
  }
  return result;
}

std::string describeFlipbook(const FlipbookLayout& layout, const std::string& pictureFile) {
  using nlohmann::ordered_json;
  const bool linear = layout.format == PictureFormat::ExrHalf;
  ordered_json root = {
      {"format", "tawny-comet-flipbook"},
      {"version", 1},
      {"name", layout.name},
      {"image", pictureFile},
      {"width", layout.width()},
      {"height", layout.height()},
      {"columns", layout.columns},
      {"rows", layout.rows},
      {"cell", {{"width", layout.cellWidth}, {"height", layout.cellHeight}, {"padding", layout.padding}}},
      {"order", "rows_from_top_left"},
      {"frames_per_second", layout.framesPerSecond},
      {"frame_range", {{"first", layout.firstFrame}, {"last", layout.lastFrame}, {"step", layout.step}}},
      {"alpha", kAlphaNames[static_cast<std::size_t>(layout.alpha)]},
      {"color_space", linear ? "linear" : "srgb"},
      {"sample_type", linear                                  ? "half"
                      : layout.format == PictureFormat::Png16 ? "uint16"
                                                              : "uint8"}};
  root["cells"] = ordered_json::array();
  for (std::size_t cell = 0; cell < layout.frames.size(); ++cell)
    root["cells"].push_back(
        {{"x", layout.cellX(cell)}, {"y", layout.cellY(cell)}, {"frame", layout.frames[cell]}});
  return root.dump(2) + "\n";
}

std::vector<std::filesystem::path> writeFlipbook(const Picture& sheet, const FlipbookLayout& layout,
                                                 const std::filesystem::path& folder) {
  makeFolder(folder);
  const std::string pictureFile = layout.name + std::string(extensionOf(layout.format));
  const std::filesystem::path picture = folder / pictureFile;
  const std::filesystem::path description = folder / (layout.name + ".json");
  writePicture(picture, withAlphaKind(sheet, layout.alpha), layout.format, layout.channels());
  writeFileAtomically(description, describeFlipbook(layout, pictureFile));
  return {picture, description};
}

}  // namespace comet
