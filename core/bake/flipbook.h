// Flipbooks: frames of an effect, drawn into the cells of a sheet. What they hold and where it goes.
#pragma once

#include "bake/packing.h"
#include "base/cell_order.h"
#include "io/picture_file.h"
#include "io/video_file.h"
#include "render/camera.h"
#include "render/finish.h"
#include "scene/scene.h"

#include <algorithm>
#include <array>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace comet {

enum class AlphaKind { Premultiplied, Straight, OnBlack, Opacity };
enum class FramesBy { Step, Time, Motion };
enum class LoopKind { None, Exact, CrossFade, PingPong };
enum class MotionBits { None, Eight, Sixteen };
// How sheets are compressed for graphics processors.
enum class TextureCompression { Bc, Astc4, Astc6 };
// Sheets that say something of each pixel, beside its colour.
enum class DataLayer { Motion, Depth, Age, Density, Temperature, Normal, LightA, LightB };

// As in scene files and descriptions, in the order of the enumerations.
constexpr std::array<std::string_view, 4> kAlphaNames{"premultiplied", "straight", "on_black", "opacity"};
constexpr std::array<std::string_view, 4> kLoopNames{"none", "exact", "cross_fade", "ping_pong"};
constexpr std::array<std::string_view, 3> kTextureNames{"bc", "astc_4x4", "astc_6x6"};
constexpr std::array<std::string_view, 8> kLayerNames{"motion",      "depth",  "age",     "density",
                                                      "temperature", "normal", "light_a", "light_b"};

// What one cell shows.
struct CellPlan {
  int frame = 0;
  int next = 0;              // the frame that its motion leads to
  int fadesTo = 0;           // another frame that is mixed in
  double fadedFraction = 0;  // how much of that there is, 0 to 1
  double fadeStep = 0;       // by how much more of it there is in the next cell
  std::size_t variant = 0;
};

struct FlipbookLayout {
  std::string name;
  ItemId bake = 0;
  FramesBy framesBy = FramesBy::Step;
  LoopKind loop = LoopKind::None;
  std::optional<double> trimBelow;  // fraction of the fullest frame's energy
  // What each variant is, for people; the only one needs no words. All have as many cells, one after the
  // other, and lie in the sheet as their cells follow each other.
  std::vector<std::string> variants{""};
  std::vector<CellPlan> cells;
  int columns = 1, rows = 1;  // that each variant takes
  CellOrder order = CellOrder::RowsFromTop;
  int cellWidth = 1, cellHeight = 1;
  int padding = 0;
  int largestSheet = 16384;  // pixels a side
  bool edgeBleed = false;
  int supersampling = 1;
  AlphaKind alpha = AlphaKind::Premultiplied;
  PictureFormat format = PictureFormat::Png8;
  PictureEncoding encoding = PictureEncoding::Srgb;
  MotionBits motion = MotionBits::None;
  bool glowApart = false, fireApart = false;
  std::set<DataLayer> layers;      // that are baked
  std::set<DataLayer> ownSheets;   // of these, those that are written as sheets of their own
  std::optional<Packing> packing;  // where the packed sheet's channels come from
  std::optional<VideoFormat> video;
  std::optional<TextureCompression> texture;
  bool asSequence = false, withPlayer = false;
  double framesPerSecond = 24;  // of cells
  int firstFrame = 1, lastFrame = 1, step = 1;
  int overlap = 0;         // cells
  bool findsLoop = false;  // the frames between the first and the last that make the best loop

  int width() const { return columns * (cellWidth + 2 * padding); }
  int height() const { return allRows() * rowHeight(); }
  int allRows() const { return rows * static_cast<int>(variants.size()); }
  int room() const { return columns * rows; }  // for the cells of one variant
  std::size_t cellsEach() const { return cells.size() / variants.size(); }
  // The cell that a game shows after this one, round and round within its variant.
  std::size_t following(std::size_t cell) const {
    const std::size_t first = cell - cell % cellsEach();
    return first + (cell + 1 - first) % cellsEach();
  }
  bool isLastOfVariant(std::size_t cell) const { return following(cell) <= cell; }
  // One picture holds all rows; files hold so many each, and there are so many of them.
  int rowsPerSheet() const { return std::clamp(largestSheet / rowHeight(), 1, allRows()); }
  int sheets() const { return (allRows() + rowsPerSheet() - 1) / rowsPerSheet(); }
  int rowHeight() const { return cellHeight + 2 * padding; }
  int sheetHeight() const { return rowsPerSheet() * rowHeight(); }
  int columnOf(std::size_t cell) const { return place(cell).column; }
  int rowOf(std::size_t cell) const { return place(cell).row; }
  CellPlace place(std::size_t cell) const {
    const auto variant = static_cast<int>(cell / cellsEach()), within = static_cast<int>(cell % cellsEach());
    return cellPlace(variant * room() + within, columns, allRows(), order);
  }
  // Top left pixel of a cell's picture, inside its padding; also of a place that no cell fills.
  int xOfColumn(int column) const { return column * (cellWidth + 2 * padding) + padding; }
  int yOfRow(int row) const { return row * rowHeight() + padding; }
  int cellX(std::size_t cell) const { return xOfColumn(columnOf(cell)); }
  int cellY(std::size_t cell) const { return yOfRow(rowOf(cell)); }
  PictureChannels channels() const;
  // How light is stored; and the sheet of colours, which may be opacity alone.
  PictureEncoding lightEncoding() const;
  PictureEncoding colorEncoding() const;
  bool has(DataLayer layer) const { return layers.count(layer) > 0; }
  // Whether which frames get a cell depends on what they show; see chooseFrames. It does not where there is
  // one for each.
  bool isMeasured() const {
    const bool isChoice = lastFrame - firstFrame >= wantedFrames();
    return (framesBy == FramesBy::Motion && isChoice) || trimBelow.has_value() || findsLoop;
  }
  // Whether the first frame follows the last one.
  bool leadsCycle() const { return loop == LoopKind::Exact || loop == LoopKind::CrossFade; }
  // How many frames have to be picked for the cells to be full.
  int wantedFrames() const;
  // How many frames the cells last that fade, of a loop of so many frames.
  int framesOfOverlap(int length) const;
  // How many frames a loop that is to be found may have.
  FrameRange loopLengths() const;
  // How long the cells of a variant take to play, seconds.
  double seconds() const { return static_cast<double>(cellsEach()) / framesPerSecond; }
};

// Throws Error(Input) if the frames do not fit the cells, the sheet is too large, a frame lies before the
// first one that is simulated, or an exact loop is asked for of a scene that has none. Where the frames have
// to be measured first, those of even time stand for them.
FlipbookLayout flipbookLayout(const Scene& scene, const Item& bake);

// The layout with the cells that these frames make, in the order of time, for each variant. At least one.
FlipbookLayout withFrames(const Scene& scene, const Item& bake, FlipbookLayout layout,
                          const std::vector<int>& frames);

// Every frame of the layout's range.
std::vector<int> framesOf(const FrameRange& range, int step = 1);
// So many of the frames, evenly spread, the first and the last among them if more than one is wanted. For a
// loop the last is left out, since the first follows it.
std::vector<int> evenlySpread(const FrameRange& range, int count, bool isLoop);

// How many of a cell's pixels lie across a scene unit, at the distance of what the view aims at.
double pixelDensity(const Scene& scene, const Item& bake, double frame);

// What a bake sees, and what is done to its picture.
Camera bakeView(const Scene& scene, const Item& bake, double frame);
Finish bakeFinish(const Scene& scene, const Item& bake, double frame);

// The emitters that are not drawn in a bake: those whose response to it is none. They are simulated all the
// same, since others may come from them.
std::vector<ItemId> leftOutOf(const Scene& scene, ItemId bake);

// Video memory of a sheet with its mip levels, bytes: as it is, and with block compression, which takes a
// byte a pixel, or half of one without alpha.
struct VideoMemory {
  double plain = 0, compressed = 0;
};
VideoMemory videoMemory(const FlipbookLayout& layout);

}  // namespace comet
