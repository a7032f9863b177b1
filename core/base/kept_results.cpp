#include "base/kept_results.h"

#include <algorithm>

namespace comet {
namespace {

// Enough for all that a scene makes of one thing at a time.
constexpr std::size_t kMostKept = 16;

}  // namespace

std::shared_ptr<const void> KeptResults::keptOrMade(
    const Digest& key, const std::function<std::shared_ptr<const void>()>& make) const {
  const std::lock_guard lock(mutex_);
  const auto found =
      std::find_if(kept_.begin(), kept_.end(), [&key](const auto& entry) { return entry.first == key; });
  if (found != kept_.end()) {
    std::rotate(found, found + 1, kept_.end());
    return kept_.back().second;
  }
  std::shared_ptr<const void> made = make();
  if (kept_.size() == kMostKept) kept_.erase(kept_.begin());
  kept_.emplace_back(key, made);
  return made;
}

}  // namespace comet
