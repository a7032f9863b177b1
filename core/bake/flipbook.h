// Flipbooks: frames of an effect, drawn into the cells of a sheet.
#pragma once

#include "base/picture.h"
#include "base/progress.h"
#include "cache/scene_run.h"
#include "io/picture_file.h"
#include "render/renderer.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace comet {

enum class AlphaKind { Premultiplied, Straight, OnBlack };

// Where everything goes. Cells are filled row by row from the top left.
struct FlipbookLayout {
  std::string name;
  std::vector<int> frames;  // one a cell
  int columns = 1, rows = 1;
  int cellWidth = 1, cellHeight = 1;
  int padding = 0;
  int supersampling = 1;
  AlphaKind alpha = AlphaKind::Premultiplied;
  PictureFormat format = PictureFormat::Png8;
  std::optional<ItemId> ownFinish;  // the bake whose finish it is; none for the camera's
  double framesPerSecond = 24;      // of cells, when played as fast as the scene
  int firstFrame = 1, lastFrame = 1, step = 1;

  int width() const { return columns * (cellWidth + 2 * padding); }
  int height() const { return rows * (cellHeight + 2 * padding); }
  // Top left pixel of a cell's picture, inside its padding.
  int cellX(std::size_t cell) const {
    return static_cast<int>(cell) % columns * (cellWidth + 2 * padding) + padding;
  }
  int cellY(std::size_t cell) const {
    return static_cast<int>(cell) / columns * (cellHeight + 2 * padding) + padding;
  }
  PictureChannels channels() const {
    return alpha == AlphaKind::OnBlack ? PictureChannels::Rgb : PictureChannels::Rgba;
  }
};

// Throws Error(Input) if the frames do not fit the cells, the sheet is too large, or a frame lies before the
// scene's first one.
FlipbookLayout flipbookLayout(const Scene& scene, const Item& bake);

// The sheet in linear light with premultiplied alpha. Frames are simulated as needed. Throws what SceneRun
// throws.
Picture bakeSheet(SceneRun& run, const FlipbookLayout& layout, const Progress& progress);

// The values to store: the sheet with its alpha as the layout asks for. With straight alpha, light that
// covers nothing (additive sprites) becomes coverage, since straight alpha cannot hold it.
Picture withAlphaKind(const Picture& sheet, AlphaKind alpha);

// The text of the file that describes the sheet to a game; docs/flipbook.schema.json is its schema.
std::string describeFlipbook(const FlipbookLayout& layout, const std::string& pictureFile);

// Writes NAME.png or NAME.exr, and NAME.json, into a folder that is made if need be. Returns both paths.
// Throws Error(Write); the description is written last, so that it never names a picture that is not there.
std::vector<std::filesystem::path> writeFlipbook(const Picture& sheet, const FlipbookLayout& layout,
                                                 const std::filesystem::path& folder);

}  // namespace comet
