// A way through the scene, and what flows along it.
#pragma once

#include "base/strokes.h"
#include "scene/item.h"

#include <vector>

namespace comet {

// Lines through the scene, smoothed, and how air flows about them.
class PathFlow {
 public:
  PathFlow(const Item& path, double frame);

  // 1 long on the path, along it; zero where there is no path.
  Vec3d at(const Vec3d& position) const;
  void describe(Hasher& hasher) const;

 private:
  // Of the pieces of all lines, as pairs of neighbours.
  struct Piece {
    StrokeSpot from, to;
  };
  struct Spot {
    Vec3d direction{0.0};  // of the path
    Vec3d outward{0.0};    // from the path, units
  };
  Spot nearest(const Vec3d& position) const;

  Vec3d place_{0.0};
  std::vector<Piece> pieces_;
  double width_, inward_, around_;
};

}  // namespace comet
