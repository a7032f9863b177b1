// What was at a particle's birth and is not stored with it, derived again: its launch, and the colour of the
// birth picture.
#pragma once

#include "scene/scene.h"
#include "simulation/emission/emission.h"
#include "simulation/loop.h"

#include <map>
#include <mutex>

namespace comet {

// Of one emitter, seen from one frame. Plans of the frames in which particles were born are made when they
// are asked for, and kept. From any thread.
class BirthRecall {
 public:
  BirthRecall(const Scene& scene, const Item& emitter, double frame);
  BirthRecall(BirthRecall&& other) noexcept;

  // Of the particle with this identity, which is `age` seconds old now.
  Birth of(ParticleId id, double age) const;

 private:
  const EmissionPlan& planOf(int frame) const;

  Scene scene_;
  ItemId emitter_;
  double frame_, frameRate_;
  StepClock clock_;
  std::uint64_t seed_;
  mutable std::mutex mutex_;
  mutable std::map<int, EmissionPlan> plans_;
};

}  // namespace comet
