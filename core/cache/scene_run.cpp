#include "cache/scene_run.h"

#include "base/error.h"
#include "simulation/step.h"

#include <fmt/format.h>

namespace comet {

std::size_t memoryBudget(const Scene& scene) {
  return static_cast<std::size_t>(scene.settings().number("memory_budget", 0)) << 20;
}

SceneRun::SceneRun(Scene scene, std::shared_ptr<FrameCache> cache, std::shared_ptr<const FrameStore> store)
    : scene_(std::move(scene)), cache_(std::move(cache)), store_(std::move(store)), clock_(scene_) {}

Digest SceneRun::key(int frame) {
  const int first = clock_.firstFrame();
  // planFrame refuses frames before the first; asking it also for them keeps that check in one place.
  if (frame < first) return planFrame(scene_, clock_, frame).digest;
  while (static_cast<int>(keys_.size()) <= frame - first) {
    Hasher hasher;
    // A frame knows its number, which with another first frame would be another one.
    if (keys_.empty())
      hasher << kSimulationVersion << first;
    else
      hasher << keys_.back();
    hasher << planFrame(scene_, clock_, first + static_cast<int>(keys_.size())).digest;
    keys_.push_back(hasher.digest());
  }
  return keys_[static_cast<std::size_t>(frame - first)];
}

ParticleFramePtr SceneRun::cached(int frame) { return cache_->find(key(frame)); }

bool SceneRun::isCached(int frame) { return cache_->contains(key(frame)); }

ParticleFramePtr SceneRun::found(int frame) {
  if (ParticleFramePtr here = cached(frame)) return here;
  if (!store_) return nullptr;
  ParticleFramePtr stored = store_->read(key(frame));
  if (stored) cache_->insert(key(frame), stored);
  return stored;
}

std::string SceneRun::keepOnDisk() {
  if (!store_) return {};
  try {
    for (const Digest& key : keys_)
      if (const ParticleFramePtr made = cache_->find(key); made && !store_->contains(key))
        store_->write(key, *made);
    cleanUp(*store_, scene_);
    return {};
  } catch (const Error& error) {
    return error.what();
  }
}

Past SceneRun::past(int frame, int count, const Progress* progress) {
  Past past;
  // The oldest first: what has to be run again is then run once.
  for (int before = std::max(clock_.firstFrame(), frame - count); before < frame; ++before)
    past.insert(past.begin(), this->frame(before, progress));
  return past;
}

Losses SceneRun::lossesUntil(int frame) const {
  const auto after = losses_.upper_bound(frame);
  return after == losses_.begin() ? Losses() : std::prev(after)->second;
}

ParticleFramePtr SceneRun::frame(int wanted, const Progress* progress) {
  ParticleFramePtr frame = made(wanted, progress);
  losses_[wanted] = frame->stats.losses;
  return frame;
}

ParticleFramePtr SceneRun::made(int wanted, const Progress* progress) {
  ParticleFramePtr current = found(wanted);
  if (current) return current;
  int at = wanted;
  while (!current && --at >= clock_.firstFrame()) current = found(at);
  if (!current) {
    current = std::make_shared<const ParticleFrame>();
    at = clock_.firstFrame() - 1;
  }
  while (at < wanted) {
    if (progress) progress->stopIfCancelled();
    ++at;
    current = stepFrame(*current, planFrame(scene_, clock_, at));
    cache_->insert(key(at), current);
  }
  return current;
}

}  // namespace comet
