#include "simulation/acting_influence.h"

#include <algorithm>

namespace comet {

ActingInfluence::ActingInfluence(std::shared_ptr<const PlannedInfluence> planned, const Response& response,
                                 double frame, double seconds)
    : planned_(std::move(planned)), response_(response.percent.value_or(0) / 100) {
  if (!response.formula.empty())
    formula_ = std::make_shared<const ParticleFormula>(response.formula, frame, seconds, -kLargestResponse,
                                                       kLargestResponse);
  const std::optional<Curve>& overAge = response.overAge;
  if (!overAge) return;
  overAge_.emplace();
  overAge_->fill([&overAge](double x) { return static_cast<float>(std::max(0.0, overAge->at(x))); });
}

ActingInfluence ActingInfluence::seeing(const Surroundings& around, Seen& seen) const {
  ActingInfluence bound = *this;
  std::shared_ptr<const PlannedInfluence>& known = seen[planned_.get()];
  if (!known) {
    known = planned_;
    if (auto action = planned_->action->seeing(around)) {
      PlannedInfluence after = *planned_;
      after.action = std::move(action);
      known = std::make_shared<const PlannedInfluence>(std::move(after));
    }
  }
  bound.planned_ = known;
  return bound;
}

Weights ActingInfluence::weights(const Chunk& chunk, const Substep& substep, ChunkArray& room) const {
  const double activity = planned_->activity[substep.index], all = response_ * activity;
  if (!readsPositions() && !readsAges()) return {all, nullptr};
  std::fill_n(room.begin(), chunk.count, static_cast<float>(all));
  if (formula_)
    for (std::size_t i = 0; i < chunk.count; ++i)
      room[i] = static_cast<float>(formula_->of(chunk.middleMoment(i), response_ * 100) / 100 * activity);
  if (!planned_->reach.isEverywhere())
    for (std::size_t i = 0; i < chunk.count; ++i) room[i] *= planned_->reach.at(chunk.middlePosition(i));
  if (!planned_->ages.isOpen())
    for (std::size_t i = 0; i < chunk.count; ++i)
      room[i] *= planned_->ages.at(chunk.ids[i], chunk.middleAge[i]);
  if (overAge_)
    for (std::size_t i = 0; i < chunk.count; ++i)
      room[i] *= overAge_->at(chunk.middleAge[i] / chunk.field(ParticleStore::Lifetime)[i]);
  return {0, room.data()};
}

void ActingInfluence::describe(Hasher& hasher) const {
  hasher << planned_->kind->id() << response_;
  for (const double activity : planned_->activity) hasher << activity;
  hasher << (formula_ != nullptr);
  if (formula_) formula_->describe(hasher);
  planned_->reach.describe(hasher);
  planned_->ages.describe(hasher);
  hasher << overAge_.has_value();
  if (overAge_) hasher.bytes(&*overAge_, sizeof *overAge_);
  planned_->action->describe(hasher);
}

}  // namespace comet
