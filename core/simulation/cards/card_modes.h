// How a card bends, as modes of which each bends by itself.
#pragma once

#include "simulation/cards/card_grid.h"

#include <vector>

namespace comet {

// Of a sheet whose longer side, mass by area and bending stiffness are all one. Where it is bent, its energy
// is half the square of the curvature along it, across it, and twice that of its twist, by area; taken from
// differences between neighbouring points, which do not change as the card turns. A mode swings by itself,
// at a rate whose square is `stiffness`; those that take no energy, motion and rotation, are left out.
class CardModes {
 public:
  // `width` and `length` are of a card whose longer side is one. Points in `clamped` do not move.
  CardModes(const CardGrid& grid, double width, double length, const std::vector<std::size_t>& clamped = {});

  std::size_t points() const { return points_; }
  std::size_t count() const { return stiffness_.size(); }
  // By mode. For a card of another size s, mass by area m and stiffness b: times b / (m s⁴).
  const std::vector<float>& stiffness() const { return stiffness_; }
  // Of each mode, one after the other, what every point contributes to how far it is out, and how far it
  // takes every point.
  const std::vector<float>& reads() const { return reads_; }
  const std::vector<float>& moves() const { return moves_; }

 private:
  std::size_t points_;
  std::vector<float> stiffness_, reads_, moves_;
};

}  // namespace comet
