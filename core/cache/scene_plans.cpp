#include "cache/scene_plans.h"

#include "scene/scene_change.h"
#include "simulation/step.h"

namespace comet {
namespace {

// Plans of later frames are made again when they are needed: a few kilobytes each.
constexpr std::size_t kMaxKept = 4096;

}  // namespace

const std::shared_ptr<const FramePlan>& ScenePlans::planned(int frame, const Progress& progress) {
  const auto index = static_cast<std::size_t>(frame - clock_.firstFrame());
  if (index >= plans_.size()) plans_.resize(index + 1);
  std::shared_ptr<const FramePlan>& plan = plans_[index];
  if (!plan) {
    plan = std::make_shared<const FramePlan>(planFrame(scene_, clock_, frame, progress));
    ++made_;
  }
  return plan;
}

std::shared_ptr<const FramePlan> ScenePlans::plan(int frame, const Progress& progress) {
  const std::lock_guard lock(mutex_);
  // planFrame refuses frames before the first; asking it also for them keeps that check in one place.
  if (frame < clock_.firstFrame())
    return std::make_shared<const FramePlan>(planFrame(scene_, clock_, frame, progress));
  return planned(frame, progress);
}

Digest ScenePlans::key(int frame, const Progress& progress) {
  const std::lock_guard lock(mutex_);
  const int first = clock_.firstFrame();
  if (frame < first) return planFrame(scene_, clock_, frame, progress).digest;
  while (static_cast<int>(keys_.size()) <= frame - first) {
    const std::shared_ptr<const FramePlan>& plan = planned(first + static_cast<int>(keys_.size()), progress);
    Hasher hasher;
    if (keys_.empty())
      hasher << kSimulationVersion;
    else
      hasher << keys_.back();
    hasher << plan->digest;
    keys_.push_back(hasher.digest());
    if (keys_.size() > kMaxKept) plans_[keys_.size() - 1] = nullptr;
  }
  return keys_[static_cast<std::size_t>(frame - first)];
}

std::size_t ScenePlans::made() const {
  const std::lock_guard lock(mutex_);
  return made_;
}

bool simulateAlike(const Scene& a, const Scene& b) { return !changeBetween(a, b).simulation; }

}  // namespace comet
