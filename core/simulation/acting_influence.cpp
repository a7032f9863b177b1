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

Weights ActingInfluence::weights(const Samples& samples, const Substep& substep, ChunkArray& room) const {
  const double activity = planned_->activity[substep.index], all = response_ * activity;
  if (!readsPositions() && !readsAges()) return {all, nullptr};
  std::fill_n(room.begin(), samples.count, static_cast<float>(all));
  if (formula_)
    for (std::size_t i = 0; i < samples.count; ++i)
      room[i] = static_cast<float>(formula_->of(samples.moment(i), response_ * 100) / 100 * activity);
  if (!planned_->reach.isEverywhere())
    for (std::size_t i = 0; i < samples.count; ++i) room[i] *= planned_->reach.at(samples.position(i));
  if (!samples.areParticles()) return {0, room.data()};
  if (!planned_->ages.isOpen())
    for (std::size_t i = 0; i < samples.count; ++i)
      room[i] *= planned_->ages.at(samples.ids[i], samples.ages[i]);
  if (overAge_)
    for (std::size_t i = 0; i < samples.count; ++i)
      room[i] *= overAge_->at(samples.ages[i] / samples.lifetimes[i]);
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
