#include "cache/frame_cache.h"

#include "base/error.h"

#include <algorithm>
#include <fmt/format.h>
#include <tuple>

namespace comet {

ParticleFramePtr FrameCache::find(const Digest& key) {
  const std::lock_guard lock(mutex_);
  const auto found = entries_.find(key);
  if (found == entries_.end()) return nullptr;
  found->second.lastUse = ++uses_;
  return found->second.frame;
}

bool FrameCache::contains(const Digest& key) const {
  const std::lock_guard lock(mutex_);
  return entries_.count(key) != 0;
}

void FrameCache::insert(const Digest& key, const ParticleFramePtr& frame) {
  const std::lock_guard lock(mutex_);
  const std::size_t size = frame->bytes();
  if (size > budget_)
    throw Error(
        ErrorKind::Budget, fmt::format("frame {}", frame->frame),
        fmt::format("needs {} MB, more than the {} MB allowed for frames", (size >> 20) + 1, budget_ >> 20),
        "Raise \"Frame memory\" in the scene, or lower rate or lifetime");
  if (entries_.count(key) != 0) return;
  dropUntil(budget_ - size);
  entries_.emplace(key, Entry{frame, size, ++uses_});
  bytes_ += size;
}

void FrameCache::dropUntil(std::size_t allowed) {
  const auto rank = [](const Entry& entry) {
    return std::make_tuple(entry.frame->frame % kCheckpointInterval == 0, entry.lastUse);
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

}  // namespace comet
