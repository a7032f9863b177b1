#include "cache/frame_cache.h"

#include "base/error.h"

#include <algorithm>
#include <chrono>
#include <fmt/format.h>
#include <tuple>

namespace comet {

SceneFramePtr FrameCache::found(const Digest& key, int number) {
  const auto found = entries_.find(key);
  if (found == entries_.end()) return nullptr;
  found->second.lastUse = ++uses_;
  const SceneFramePtr& frame = found->second.frame;
  if (frame->number == number) return frame;
  return std::make_shared<const SceneFrame>(
      SceneFrame{number, frame->particles, frame->report, frame->gases});
}

SceneFramePtr FrameCache::find(const Digest& key, int number) {
  const std::lock_guard lock(mutex_);
  return found(key, number);
}

bool FrameCache::contains(const Digest& key) const {
  const std::lock_guard lock(mutex_);
  return entries_.count(key) != 0;
}

void FrameCache::insert(const Digest& key, const SceneFramePtr& frame) {
  const std::lock_guard lock(mutex_);
  const std::size_t size = frame->bytes();
  if (size > budget_)
    throw Error(
        ErrorKind::Budget, fmt::format("frame {}", frame->number),
        fmt::format("needs {} MB, more than the {} MB allowed for frames", (size >> 20) + 1, budget_ >> 20),
        "Raise \"Frame cache\" in the scene, or lower the rate or the lifetime");
  if (entries_.count(key) != 0) return;
  dropUntil(budget_ - size);
  entries_.emplace(key, Entry{frame, size, ++uses_});
  bytes_ += size;
}

SceneFramePtr FrameCache::findOrMake(const Digest& key, int number, const Progress& progress,
                                     const std::function<SceneFramePtr()>& make) {
  constexpr std::chrono::milliseconds kBetweenLooks{20};
  {
    std::unique_lock lock(mutex_);
    while (true) {
      progress.stopIfCancelled();
      if (SceneFramePtr here = found(key, number)) return here;
      if (beingMade_.insert(key).second) break;
      isMade_.wait_for(lock, kBetweenLooks);
    }
  }
  const auto stopMaking = [&] {
    const std::lock_guard lock(mutex_);
    beingMade_.erase(key);
    isMade_.notify_all();
  };
  try {
    SceneFramePtr frame = make();
    insert(key, frame);
    stopMaking();
    return frame;
  } catch (...) {
    stopMaking();
    throw;
  }
}

std::shared_ptr<ScenePlans> FrameCache::plansOf(const Scene& scene) {
  const std::lock_guard lock(mutex_);
  if (!plans_ || !simulateAlike(plans_->scene(), scene)) plans_ = std::make_shared<ScenePlans>(scene);
  return plans_;
}

void FrameCache::dropUntil(std::size_t allowed) {
  const auto rank = [](const Entry& entry) {
    return std::make_tuple(entry.frame->number % kCheckpointInterval == 0, entry.lastUse);
  };
  while (bytes_ > allowed) {
    const auto victim = std::min_element(entries_.begin(), entries_.end(), [&](const auto& a, const auto& b) {
      return rank(a.second) < rank(b.second);
    });
    bytes_ -= victim->second.bytes;
    entries_.erase(victim);
  }
}

void FrameCache::clear() {
  const std::lock_guard lock(mutex_);
  entries_.clear();
  plans_.reset();
  bytes_ = 0;
}

std::size_t FrameCache::bytes() const {
  const std::lock_guard lock(mutex_);
  return bytes_;
}

std::size_t FrameCache::budget() const {
  const std::lock_guard lock(mutex_);
  return budget_;
}

void FrameCache::setBudget(std::size_t budget) {
  const std::lock_guard lock(mutex_);
  budget_ = budget;
  dropUntil(budget);
}

std::shared_ptr<const FrameStore> FrameCache::store() const {
  const std::lock_guard lock(mutex_);
  return store_;
}

void FrameCache::setStore(std::shared_ptr<const FrameStore> store) {
  const std::lock_guard lock(mutex_);
  store_ = std::move(store);
}

}  // namespace comet
