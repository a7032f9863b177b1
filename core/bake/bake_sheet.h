// Baking: simulates the frames that a flipbook needs, draws them, and puts them into sheets.
#pragma once

#include "bake/flipbook.h"
#include "base/picture.h"
#include "base/progress.h"
#include "cache/scene_run.h"
#include "io/texture.h"
#include "render/renderer.h"

#include <algorithm>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace comet {

// What one cell was measured to be.
struct CellFacts {
  std::size_t notNumbers = 0;  // pixels that were no finite numbers, and are nothing now
  double energy = 0;           // see energyOf
  double change = 0;           // to the next cell, see changeBetween; of the last one to the first
  std::optional<double> changeAlongMotion;  // what is left of it where the cell is moved along its vectors
  // Of one that fades: by how much the two pictures differ that are mixed.
  double faded = 0;
  double motion = 0;  // until the next cell: of what is seen, 95 of 100 parts move less, pixels
};

// A sheet that says something of each pixel. Its values are not multiplied with any weight, and go on beyond
// the edges of what is seen; w is how much is to be seen there, 0 to 1.
struct DataSheet {
  Picture values;
  double from = 0, to = 1;  // the least and the greatest value
};

// The sheet of colours as a graphics processor reads it from its texture.
struct TextureLook {
  BlockFormat format{};
  int levels = 1;   // with the whole sheet
  Picture picture;  // linear light, premultiplied
  std::vector<double>
      cells;       // how near each cell comes to what was compressed: decibels of peak signal to noise
  double all = 0;  // of all cells together

  std::size_t worst() const {
    return static_cast<std::size_t>(std::min_element(cells.begin(), cells.end()) - cells.begin());
  }
};

struct Flipbook {
  FlipbookLayout layout;
  Picture color;       // linear light, premultiplied
  Picture glow, fire;  // light to be added; empty unless it was asked for apart
  // What was asked for. Motion: x and y are pixels to the right and down until the next cell. Depth: x is
  // units from the viewer, along its axis. Age: x is the fraction of life. Normal: x to the right, y up, z to
  // the viewer. Lights: how bright it is by a light of 1 from the right, the top and behind, and from the
  // left, below and the front.
  std::map<DataLayer, DataSheet> data;
  std::vector<CellFacts> cells;
  std::optional<TextureLook> texture;  // if one is asked for
  Losses losses;                       // of the simulation, up to the last frame that is seen
  // Of an exact loop: whether the frame after the last was found to be the first one, particle for particle
  // and pixel for pixel; otherwise what differs.
  bool isExact = false;
  std::string loopProblem;

  // Null if it was not asked for.
  const DataSheet* find(DataLayer layer) const {
    const auto found = data.find(layer);
    return found == data.end() ? nullptr : &found->second;
  }
};

// The layout with the frames that it measures: dull ends trimmed, motion made even. Draws every frame of the
// range, small. Throws what SceneRun throws.
FlipbookLayout chooseFrames(SceneRun& run, const FlipbookLayout& layout, const Progress& progress);

// Frames are chosen and simulated as needed. Throws what SceneRun throws, and Error(Budget) for sheets that
// there is not enough memory for.
Flipbook bakeFlipbook(SceneRun& run, const FlipbookLayout& layout, const Progress& progress);

// One cell of a sheet, or what is there of another one that is laid out alike.
Picture cellOf(const Picture& sheet, const FlipbookLayout& layout, std::size_t cell);

// One cell as it is seen: with the fire that is on a sheet of its own.
Picture seenCell(const Flipbook& book, std::size_t cell);

// What a bake draws of a frame. What is drawn of the same frame one after the other is prepared once.
class BakeRenderer {
 public:
  // `supersampling` times as large each way, and averaged.
  BakeRenderer(SceneRun& run, ItemId bake, PictureSize size, int supersampling);

  // With its glow and its fire, unless they are wanted apart.
  Picture color(int frame, const Progress& progress);
  // A frame's particles, as if they were those of frame `shown`.
  Picture colorAs(int frame, int shown, const Progress& progress);
  // The glow alone, before any roll-off.
  Picture glow(int frame, const Progress& progress);
  // The light that gas gives off by itself alone, finished.
  Picture fire(int frame, const Progress& progress);
  // See Renderer::paint.
  Picture paint(const SpritePaint& paint, int frame, const Progress& progress);

  // As the bake has it unless another one is set.
  void setView(const Camera& camera, PictureSize size);
  void setGlow(bool glows) { glows_ = glows; }
  void setFire(FirePart fire) { fire_ = fire; }

  // How many shots were prepared.
  std::size_t prepared() const { return renderer_.prepared(); }

 private:
  void prepare(int frame, int shown, const Progress& progress);
  Finish finishAt(int shown) const;

  SceneRun& run_;
  Scene::ItemPtr bake_;
  Renderer renderer_;
  PictureSize size_;
  int supersampling_;
  std::optional<std::pair<int, int>> ready_;  // the frame that is prepared, and as which
  std::optional<Camera> view_;
  bool glows_ = true;
  FirePart fire_ = FirePart::Within;
};

}  // namespace comet
