#include "simulation/cards/card_solver.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

// Over all edges in a small step; after each, what one edge has put right is disturbed by others less. An
// edge that gives way does so in each of them.
constexpr int kSweeps = 2;

}  // namespace

CardLaneNumbers::CardLaneNumbers(std::size_t count)
    : durations(count, 0.0F),
      sizes(count, 1.0F),
      curls(count, 0.0F),
      moves_(count),
      slacks_(count),
      bends_(count),
      curlPushes_(count) {}

CardLanes CardLaneNumbers::lanes(const CardRule& rule) {
  const auto bending = static_cast<float>(rule.bendingStiffness() / rule.massByArea());
  const auto rows = static_cast<float>(rule.grid().along);
  for (std::size_t i = 0; i < durations.size(); ++i) {
    const float time = durations[i] * durations[i], area = sizes[i] * sizes[i];
    moves_[i] = time > 0 ? 1.0F : 0.0F;
    slacks_[i] = time > 0 ? area / time : 0.0F;
    bends_[i] = area > 0 ? time * bending / (area * area) : 0.0F;
    curlPushes_[i] = bends_[i] * sizes[i] * 2 * std::sin(0.5F * curls[i] / rows);
  }
  return {durations.size(), durations.data(), moves_.data(),     sizes.data(),
          slacks_.data(),   bends_.data(),    curlPushes_.data()};
}

CardSolver::CardSolver(const CardRule& rule, const std::vector<std::size_t>& clamped)
    : grid_(rule.grid()),
      width_(rule.width()),
      length_(rule.length()),
      isCurled_(rule.isCurled()),
      modes_(grid_, width_, length_, clamped),
      edges_(cardEdges(grid_, width_, length_,
                       {rule.stretchStiffness(), rule.shearStiffness(), rule.massByArea()})) {
  const auto isClamped = [&](std::size_t point) {
    return std::find(clamped.begin(), clamped.end(), point) != clamped.end();
  };
  for (CardEdge& edge : edges_) {
    if (isClamped(edge.a)) edge.weightA = 0;
    if (isClamped(edge.b)) edge.weightB = 0;
    edge.give *= kSweeps;
  }
  edges_.erase(std::remove_if(edges_.begin(), edges_.end(),
                              [](const CardEdge& edge) { return edge.weightA + edge.weightB == 0; }),
               edges_.end());
}

void CardSolver::solve(int number, const CardLanes& lanes, const CardVectors& positions) const {
  if (isCurled_) curlCards(grid_, width_, length_, lanes, positions);
  bendCards(modes_, lanes, positions);
  for (int sweep = 0; sweep < kSweeps; ++sweep)
    holdEdges(edges_, (number + sweep) % 2 != 0, lanes, positions);
}

}  // namespace comet
