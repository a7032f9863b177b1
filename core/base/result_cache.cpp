#include "base/result_cache.h"

#include <algorithm>
#include <tbb/task_arena.h>

namespace comet {

std::shared_ptr<const void> ResultCache::keptOrMade(const Digest& key,
                                                    const std::function<std::shared_ptr<const void>()>& make,
                                                    std::size_t max) const {
  const std::lock_guard lock(mutex_);
  const auto found =
      std::find_if(kept_.begin(), kept_.end(), [&key](const auto& entry) { return entry.first == key; });
  if (found != kept_.end()) {
    std::rotate(found, found + 1, kept_.end());
    return kept_.back().second;
  }
  // A thread that waits for others in there must not take up a task that waits for this lock.
  std::shared_ptr<const void> made;
  tbb::this_task_arena::isolate([&] { made = make(); });
  kept_.emplace_back(key, made);
  if (kept_.size() > max) kept_.erase(kept_.begin(), kept_.end() - static_cast<std::ptrdiff_t>(max));
  return made;
}

}  // namespace comet
