// How cards of one kind hold together.
#pragma once

#include "simulation/cards/card_kernel.h"
#include "simulation/cards/card_rule.h"

#include <array>
#include <vector>

namespace comet {

// Of each card in a small step; see CardLanes, which refers to it.
class CardLaneNumbers {
 public:
  explicit CardLaneNumbers(std::size_t count);

  // One for each card, in a multiple of kCardLanes.
  std::vector<float> durations, sizes, curls;  // seconds, units, radians

  // To be called after any of them has changed.
  CardLanes lanes(const CardRule& rule);

 private:
  std::vector<float> moves_, slacks_, bends_, curlPushes_;
};

class CardSolver {
 public:
  // Points in `clamped` do not move.
  explicit CardSolver(const CardRule& rule, const std::vector<std::size_t>& clamped = {});

  // Takes points from where they would fly to where the card lets them: bent by as much as it bends, and with
  // its edges as long as they are. `number` counts the small steps.
  void solve(int number, const CardLanes& lanes, const CardVectors& positions) const;

  const CardGrid& grid() const { return grid_; }

 private:
  CardGrid grid_;
  double width_, length_;
  bool isCurled_;
  CardModes modes_;
  std::vector<CardEdge> edges_;
};

}  // namespace comet
