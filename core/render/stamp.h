// Stamps: what sprites that are no simple discs look like, as small pictures that the rasteriser samples.
//
// Immutable once made; read from any thread.
#pragma once

#include "base/cell_order.h"
#include "base/outline.h"
#include "base/picture.h"

#include <cstddef>
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

  // `samples` holds the planes one after the other, rows from top to bottom. With more than one level, each
  // further one averages two by two texels of the one before.
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
  int planes() const { return kind_ == Kind::Color ? 4 : kind_ == Kind::Grey ? 2 : 1; }
  int width() const { return levels_.front().width; }
  int height() const { return levels_.front().height; }

  struct Level {
    int width, height;
    const float* first;        // the first plane's top left texel
    int texelStep, rowStep;    // from a texel to the next, and from a row, in floats
    std::ptrdiff_t planeStep;  // from a plane to the next

    const float* plane(int number) const { return first + number * planeStep; }
    float at(int planeNumber, int x, int y) const {
      return plane(
          planeNumber)[static_cast<std::ptrdiff_t>(y) * rowStep + static_cast<std::ptrdiff_t>(x) * texelStep];
    }
  };
  const Level& finest() const { return levels_.front(); }
  // The level whose texels are about as large as pixels, if the stamp is drawn this many pixels wide and
  // high.
  const Level& levelFor(float pixelsWide, float pixelsHigh) const;

 private:
  // Makes those below the finest one, in `samples_` from `used` on.
  void addLevels(std::size_t used);

  Kind kind_;
  std::vector<Level> levels_;
  std::vector<float> samples_;              // of the levels that are not the picture's
  std::shared_ptr<const Picture> picture_;  // null if all levels are in the samples
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
