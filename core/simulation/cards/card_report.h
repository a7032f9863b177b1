// What is to be known of an emitter's cards: what they cost before anything is simulated, what is wrong with
// them, and how they are.
#pragma once

#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <string>
#include <vector>

namespace comet {

struct CardOutlook {
  double cards = 0;         // alive at most, on average; 0 if that cannot be foreseen
  std::size_t points = 0;   // of each
  double milliseconds = 0;  // about what a frame takes with that many, on two cores
  double bytes = 0;         // of all frames of the range, without what else particles take

  // Why they do not hold together, or are too many, with the remedy; empty if all is well.
  std::string problem;
};

// `memory` is what frames may take, bytes.
CardOutlook cardOutlook(const Scene& scene, const Item& emitter, double frame, std::size_t memory);

// The cards of an emitter in a frame.
struct CardCount {
  ItemId emitter = 0;
  std::size_t cards = 0, points = 0;  // in all
  double largestStretch = 0;          // of an edge, as a fraction of its length
};

// Of all emitters that show any, in the scene's order.
std::vector<CardCount> countCards(const Scene& scene, const SceneFrame& frame);

}  // namespace comet
