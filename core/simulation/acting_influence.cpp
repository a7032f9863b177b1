#include "simulation/acting_influence.h"

#include <algorithm>

namespace comet {

ActingInfluence::ActingInfluence(std::shared_ptr<const PlannedInfluence> planned, double response,
                                 const std::optional<Curve>& overAge)
    : planned_(std::move(planned)), response_(response) {
  if (!overAge) return;
  overAge_.emplace();
  overAge_->fill([&overAge](double x) { return static_cast<float>(std::max(0.0, overAge->at(x))); });
}

Weights ActingInfluence::weights(const Chunk& chunk, ChunkArray& room) const {
  const double all = response_ * planned_->activity;
  if (!readsPositions() && !readsAges()) return {all, nullptr};
  std::fill_n(room.begin(), chunk.count, static_cast<float>(all));
  if (readsPositions())
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
  hasher << planned_->kind->id() << response_ << planned_->activity;
  planned_->reach.describe(hasher);
  planned_->ages.describe(hasher);
  hasher << overAge_.has_value();
  if (overAge_) hasher.bytes(&*overAge_, sizeof *overAge_);
  planned_->action->describe(hasher);
}

}  // namespace comet
