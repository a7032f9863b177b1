#include "cache/scene_run.h"

#include "base/error.h"
#include "simulation/step.h"

#include <fmt/format.h>

namespace comet {

std::size_t memoryBudget(const Scene& scene) {
  return static_cast<std::size_t>(scene.settings().number("frame_cache", 0)) << 20;
}

SceneRun::SceneRun(Scene scene, std::shared_ptr<FrameCache> cache)
    : scene_(std::move(scene)),
      cache_(std::move(cache)),
      store_(cache_->store()),
      plans_(cache_->plansOf(scene_)),
      last_(plans_->firstFrame()) {}

Digest SceneRun::key(int frame, const Progress& progress) {
  last_ = std::max(last_, frame);
  return plans_->key(frame, progress);
}

SceneFramePtr SceneRun::cached(int frame, const Progress& progress) {
  return cache_->find(key(frame, progress), frame);
}

bool SceneRun::isCached(int frame) { return cache_->contains(key(frame)); }

SceneFramePtr SceneRun::found(int frame, const Progress& progress) {
  if (SceneFramePtr here = cached(frame, progress)) return here;
  if (!store_) return nullptr;
  SceneFramePtr stored = store_->read(key(frame), frame);
  if (stored) cache_->insert(key(frame), stored);
  return stored;
}

std::string SceneRun::keepOnDisk() {
  if (!store_) return {};
  try {
    const int last = last_;
    for (int frame = plans_->firstFrame(); frame <= last; ++frame)
      if (const SceneFramePtr made = cached(frame); made && !store_->contains(key(frame)))
        store_->write(key(frame), *made);
    cleanUp(*store_, scene_);
    return {};
  } catch (const Error& error) {
    return error.what();
  }
}

Past SceneRun::past(int frame, int count, const Progress& progress) {
  Past past;
  // The oldest first: what has to be run again is then run once.
  for (int before = std::max(plans_->firstFrame(), frame - count); before < frame; ++before)
    past.insert(past.begin(), this->frame(before, progress)->particles);
  return past;
}

Losses SceneRun::lossesUntil(int frame) const {
  const auto after = losses_.upper_bound(frame);
  return after == losses_.begin() ? Losses() : std::prev(after)->second;
}

SceneFramePtr SceneRun::frame(int wanted, const Progress& progress) {
  SceneFramePtr frame = made(wanted, progress);
  losses_[wanted] = frame->report->stats.losses;
  return frame;
}

SceneFramePtr SceneRun::made(int wanted, const Progress& progress) {
  SceneFramePtr current = found(wanted, progress);
  if (current) return current;
  int at = wanted;
  while (!current && --at >= plans_->firstFrame()) current = found(at, progress);
  if (!current) {
    current = std::make_shared<const SceneFrame>();
    at = plans_->firstFrame() - 1;
  }
  while (at < wanted) {
    ++at;
    current = cache_->findOrMake(key(at, progress), at, progress,
                                 [&] { return stepFrame(*current, *plans_->plan(at, progress), progress); });
  }
  return current;
}

}  // namespace comet
