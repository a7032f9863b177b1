// An influence on the particles of one emitter, in one frame.
#pragma once

#include "base/unit_table.h"
#include "scene/scene.h"
#include "simulation/influences/influence.h"
#include "simulation/influences/reach.h"
#include "simulation/influences/window.h"

#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace comet {

// An influence of the scene, evaluated for a frame. Shared by the emitters that answer to it.
struct PlannedInfluence {
  ItemId id = 0;
  const KindSpec* kind = nullptr;
  std::shared_ptr<const InfluenceAction> action;
  std::vector<double> activity;  // in each substep, by its window in the scene's time
  Reach reach;
  AgeWindow ages;
};

class ActingInfluence {
 public:
  // The response must have a percent, which may differ between particles by a formula, computed at a moment
  // of the scene.
  ActingInfluence(std::shared_ptr<const PlannedInfluence> planned, const Response& response, double frame,
                  double seconds);

  // The same after seeing a frame; `seen` has what has been made of each influence before.
  using Seen = std::map<const PlannedInfluence*, std::shared_ptr<const PlannedInfluence>>;
  ActingInfluence seeing(const Surroundings& around, Seen& seen) const;

  ItemId influence() const { return planned_->id; }
  const InfluenceAction& action() const { return *planned_->action; }
  const std::shared_ptr<const InfluenceAction>& sharedAction() const { return planned_->action; }
  // The emitter's, 1 for 100 %, without its formula, reach and windows.
  double response() const { return response_; }

  // Whether weights() reads the positions of samples, or their ages.
  bool readsPositions() const { return !planned_->reach.isEverywhere() || formula_; }
  bool readsAges() const { return !planned_->ages.isOpen() || overAge_.has_value() || formula_; }

  // How strongly it acts on each sample in a substep. `room` is written if they differ. What is no particle
  // has no age, and is acted on whatever ages the influence is for.
  Weights weights(const Samples& samples, const Substep& substep, ChunkArray& room) const;

  void describe(Hasher& hasher) const;

 private:
  std::shared_ptr<const PlannedInfluence> planned_;
  double response_;
  std::shared_ptr<const ParticleFormula> formula_;
  std::optional<UnitTable<float>> overAge_;
};

}  // namespace comet
