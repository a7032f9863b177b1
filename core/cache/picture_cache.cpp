#include "cache/picture_cache.h"

#include <algorithm>

namespace comet {

ScreenPicturePtr PictureCache::find(const Digest& key) {
  const std::lock_guard lock(mutex_);
  const auto found = entries_.find(key);
  if (found == entries_.end()) return nullptr;
  found->second.lastUse = ++uses_;
  return found->second.picture;
}

bool PictureCache::contains(const Digest& key) const {
  const std::lock_guard lock(mutex_);
  return entries_.count(key) > 0;
}

void PictureCache::insert(const Digest& key, const ScreenPicturePtr& picture, Others others) {
  const std::lock_guard lock(mutex_);
  if (entries_.count(key) > 0) return;
  const std::size_t size = picture->bytes();
  if (size > budget_ || (others == Others::Stay && bytes_ + size > budget_)) return;
  dropUntil(budget_ - size);
  entries_.emplace(key, Entry{picture, ++uses_});
  bytes_ += size;
}

std::size_t PictureCache::use(const std::vector<Digest>& keys) {
  const std::lock_guard lock(mutex_);
  std::size_t bytes = 0;
  for (const Digest& key : keys) {
    const auto found = entries_.find(key);
    if (found == entries_.end()) continue;
    found->second.lastUse = ++uses_;
    bytes += found->second.picture->bytes();
  }
  return bytes;
}

void PictureCache::dropUntil(std::size_t allowed) {
  while (bytes_ > allowed) {
    const auto longest = std::min_element(entries_.begin(), entries_.end(), [](const auto& a, const auto& b) {
      return a.second.lastUse < b.second.lastUse;
    });
    bytes_ -= longest->second.picture->bytes();
    entries_.erase(longest);
  }
}

void PictureCache::clear() {
  const std::lock_guard lock(mutex_);
  entries_.clear();
  bytes_ = 0;
}

std::size_t PictureCache::bytes() const {
  const std::lock_guard lock(mutex_);
  return bytes_;
}

std::size_t PictureCache::budget() const {
  const std::lock_guard lock(mutex_);
  return budget_;
}

void PictureCache::setBudget(std::size_t budget) {
  const std::lock_guard lock(mutex_);
  budget_ = budget;
  dropUntil(budget);
}

}  // namespace comet
