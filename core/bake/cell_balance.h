// Whether cells look the same whichever way they are rotated.
#pragma once

#include "bake/bake_sheet.h"

namespace comet {

// Of all that is seen in the cells, laid over each other.
struct CellBalance {
  double offCentre = 0;  // how far its middle lies from the cell's, as a fraction of the cell's smaller side
  double longer = 1;     // how many times as long as wide it is

  static constexpr double kOffCentre = 0.12, kLonger = 1.6;
  bool isLong() const { return longer > kLonger; }
  // Whether nothing is lost if a game rotates it at random.
  bool canRotate() const { return offCentre <= kOffCentre && !isLong(); }
};

// That of a flipbook that shows nothing is perfect.
CellBalance balanceOf(const Flipbook& book);

}  // namespace comet
