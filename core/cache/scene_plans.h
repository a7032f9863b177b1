// The plans of a scene's frames and the keys of what comes of them, each made once.
//
// All functions may be called from any thread; those that simulate the same scene share one of these.
#pragma once

#include "base/progress.h"
#include "scene/scene.h"
#include "simulation/loop.h"
#include "simulation/plan.h"

#include <memory>
#include <mutex>
#include <vector>

namespace comet {

class ScenePlans {
 public:
  explicit ScenePlans(Scene scene) : scene_(std::move(scene)), clock_(scene_) {}

  const Scene& scene() const { return scene_; }
  int firstFrame() const { return clock_.firstFrame(); }

  // Throws as planFrame.
  std::shared_ptr<const FramePlan> plan(int frame, const Progress& progress = {});
  // What the frame's states are stored under: K(f) = digest of K(f - 1) and the plan of f. Throws as
  // planFrame.
  Digest key(int frame, const Progress& progress = {});

  // How many plans were made so far.
  std::size_t made() const;

 private:
  // With the mutex held.
  const std::shared_ptr<const FramePlan>& planned(int frame, const Progress& progress);

  const Scene scene_;
  const StepClock clock_;
  mutable std::mutex mutex_;  // guards what follows
  std::vector<std::shared_ptr<const FramePlan>>
      plans_;                 // from the first frame on, as far as they were asked for
  std::vector<Digest> keys_;  // likewise
  std::size_t made_ = 0;
};

// Whether two scenes have the same plans.
bool simulateAlike(const Scene& a, const Scene& b);

}  // namespace comet
