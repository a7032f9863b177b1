// Meshes made from pictures: a relief of its brightness, and its opaque part cut out.
//
// About their own middle, in units. All functions are pure and may be called from any thread.
#pragma once

#include "base/picture.h"
#include "geometry/mesh.h"

namespace comet {

// How a picture becomes a grid of places: so many cells along its longer side, and so wide in all.
struct PictureGrid {
  int cells = 64;
  double width = 1;
};

// A sheet without thickness that lies flat, the picture's upper edge at the far side (-z). Black lies at 0,
// white at `height`; light counts as it is, without its alpha.
Mesh reliefOf(const Picture& picture, const PictureGrid& grid, double height);

// What is at least as opaque as `threshold` (more than 0, up to 1), upright, facing z, and so thick. Closed,
// unless nothing is: then it is empty. Contours by marching squares (after Lorensen and Cline, "Marching
// Cubes", 1987, in the plane).
Mesh cutOutOf(const Picture& picture, const PictureGrid& grid, double threshold, double thickness);

}  // namespace comet
