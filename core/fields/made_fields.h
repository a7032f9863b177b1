// Fields that are made instead of read: swirls, vortices, strokes drawn by hand, the slopes of a picture.
//
// All depend on their arguments alone, and may be made from any thread.
#pragma once

#include "base/picture.h"
#include "base/strokes.h"
#include "fields/vector_grid.h"

#include <cstdint>

namespace comet {

// The box that a field fills: its size in scene units, and its cells.
struct FieldBox {
  Vec3d size{1.0};
  VectorGrid::Counts counts{1, 1, 1};

  // With cubes for cells, `along` of them along the longest side.
  static FieldBox withCells(const Vec3d& size, int along);

  Vec3d cell() const;
  // From the box's centre to the middle of a cell, units.
  Vec3d middleOf(int x, int y, int z) const;
};

// Curl of gradient noise, so that particles mix without piling up: its divergence by central differences is
// zero. Repeats at the box's sides. The vectors' root mean square is 1. `scale` is the size of the largest
// swirls in units, brought to a whole fraction of each side; each further octave has half the size and
// strength. Method: Bridson, Hourihan & Nordenstam, "Curl-Noise for Procedural Fluid Flow", 2007.
VectorGrid curlNoiseField(const FieldBox& box, double scale, int octaves, std::uint64_t seed);

struct Vortices {
  int count = 12;
  double radius = 1;    // of the ring on which each is fastest, units
  Vec3d axis{0, 1, 0};  // of length one
  double spread = 0;    // by how much their axes differ from it, radians, 0 to pi
  bool bothWays = true;
  std::uint64_t seed = 1;
};

// Round vortices at random places, whose speed falls off as a Gaussian; each is at most 1 long. Repeats at
// the box's sides.
VectorGrid vortexField(const FieldBox& box, const Vortices& vortices);

// Along strokes: 1 long on them, nothing beyond `width` units from them; where several are near, they mix by
// nearness (after Shepard, "A Two-Dimensional Interpolation Function for Irregularly-Spaced Data", 1968). The
// strokes' points are units from the box's centre.
VectorGrid strokeField(const FieldBox& box, const StrokeList& strokes, double width);

enum class SlopeDirection {
  Down,
  Along
};  // from bright to dark, or around what is bright, counter-clockwise

// The slopes of a picture's brightness, one cell deep, its left bottom corner at that of the box. Blurred by
// `blur` cells first; the longest vector is 1 long. Transparent parts count as dark.
VectorGrid slopeField(const FieldBox& box, const Picture& picture, SlopeDirection direction, double blur);

}  // namespace comet
