// Stamps: what sprites that are no simple discs look like, as small pictures that the rasteriser samples.
//
// Immutable once made; read from any thread.
#pragma once

#include "base/cell_order.h"
#include "base/outline.h"
#include "base/picture.h"
#include "base/vec.h"

#include <cstdint>
#include <memory>
#include <vector>

namespace comet {

class Stamp {
 public:
  enum class Kind : std::uint8_t {
    Coverage,  // one plane: how much of each texel is covered
    Grey,      // two planes: light, the same in all colours and multiplied with coverage; coverage
    Color,     // four planes: premultiplied linear light and alpha
  };

  // Without colour. `samples` holds the planes one after the other, rows from top to bottom, 0 to 1. With
  // more than one level, each further one averages two by two texels of the one before.
  Stamp(Kind kind, int width, int height, std::vector<float> samples);
  // A part of a picture, as colour. The picture itself is the finest level, so that it need not be there
  // twice.
  Stamp(std::shared_ptr<const Picture> picture, int left, int top, int width, int height);
  // Levels point into what it holds.
  Stamp(const Stamp&) = delete;
  Stamp& operator=(const Stamp&) = delete;
  Stamp(Stamp&&) noexcept = default;
  Stamp& operator=(Stamp&&) = delete;

  Kind kind() const { return kind_; }
  int width() const { return levels_.front().width; }
  int height() const { return levels_.front().height; }
  // Of a texel of the finest level.
  float coverage(int x, int y) const;

  // A reach beyond the corners, where 1 is the middle of an edge.
  static constexpr float kWholeReach = 2;

  static constexpr float kPackedOne = 65535;
  struct Level {
    int width, height;
    const Vec4* colors = nullptr;  // of the top left texel; null without colour
    int rowStep = 0;               // from a texel to the one below
    // Without colour, packed so that one load brings what lies around a position: for each texel and plane it
    // and its right neighbour in the upper half, 16 bits each (kPackedOne for 1), and then the same pair a
    // row below. The last ones are neighbours of themselves.
    const std::uint32_t* pairs = nullptr;
    float reach = kWholeReach;  // nothing is covered farther from the centre
  };
  // The level whose texels are about as large as pixels, if the stamp is drawn this many pixels wide and
  // high.
  const Level& levelFor(float pixelsWide, float pixelsHigh) const;

 private:
  int planes() const { return kind_ == Kind::Grey ? 2 : 1; }
  // Adds the samples as a level.
  void pack(int width, int height, const std::vector<float>& samples);

  Kind kind_;
  std::vector<Level> levels_;
  std::vector<std::uint32_t> pairs_;        // of all levels
  std::vector<Vec4> colors_;                // of the levels below the picture
  std::shared_ptr<const Picture> picture_;  // null without colour
};

// Stamps of equal kind and size, of which each particle shows one: variants, or the cells of a flipbook.
using StampSet = std::vector<Stamp>;

// Their coverage alone.
StampSet coverageOf(const StampSet& stamps);

// A line that thins out at both ends, upright.
StampSet streakStamps();
// Lumps of smoke; `detail` 0 to 1.
StampSet puffStamps(int variants, double detail);

// Shares of a picture that are left out at its edges, 0 to 1.
struct Crop {
  double left = 0, right = 0, top = 0, bottom = 0;
};

// A picture cropped to whole pixels (at least one), with what lies outside the outline taken away.
StampSet pictureStamps(const std::shared_ptr<const Picture>& picture, const Crop& crop,
                       const OutlinePoints& mask);
// The cells of a sheet.
struct SheetCells {
  int columns = 1, rows = 1;
  int variants = 1;  // one after the other, with as many cells each
  int used = 0;      // the first so many of each; all for 0
  int padding = 0;   // pixels on each side of a cell that are not shown
  CellOrder order = CellOrder::RowsFromTop;
};
StampSet flipbookStamps(const std::shared_ptr<const Picture>& picture, const SheetCells& cells);

}  // namespace comet
