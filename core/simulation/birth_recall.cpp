#include "simulation/birth_recall.h"

#include "simulation/plan.h"

#include <algorithm>
#include <cmath>

namespace comet {

BirthRecall::BirthRecall(const Scene& scene, const Item& emitter, double frame)
    : scene_(scene),
      emitter_(emitter.id),
      frame_(frame),
      frameRate_(frameRate(scene)),
      clock_(scene),
      seed_(sceneSeed(scene)) {}

BirthRecall::BirthRecall(BirthRecall&& other) noexcept
    : scene_(std::move(other.scene_)),
      emitter_(other.emitter_),
      frame_(other.frame_),
      frameRate_(other.frameRate_),
      clock_(other.clock_),
      seed_(other.seed_),
      plans_(std::move(other.plans_)) {}

const EmissionPlan& BirthRecall::planOf(int frame) const {
  const std::lock_guard lock(mutex_);
  const auto found = plans_.find(frame);
  if (found != plans_.end()) return found->second;
  return plans_.emplace(frame, planEmission(*scene_.find(emitter_), seed_, frameRate_, clock_.step(frame)))
      .first->second;
}

Birth BirthRecall::of(ParticleId id, double age) const {
  const double born = frame_ - age * frameRate_;
  // Particles of a start state may be older than the scene.
  const int frame = std::max(clock_.firstFrame(), static_cast<int>(std::ceil(born - 1e-6)));
  const EmissionPlan& plan = planOf(frame);
  const double time = std::clamp((born - (frame - 1)) / frameRate_, 0.0, plan.length);
  return birthOf(plan, birthOfId(id), time);
}

}  // namespace comet
