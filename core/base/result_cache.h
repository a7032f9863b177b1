// The last few results that were made from something and are asked for again and again, such as tables.
#pragma once

#include "base/digest.h"

#include <functional>
#include <memory>
#include <mutex>
#include <utility>
#include <vector>

namespace comet {

// Safe to use from any thread; what is being made is waited for.
class ResultCache {
 public:
  // Enough for all that a scene makes of one thing at a time.
  static constexpr std::size_t kMax = 16;

  // `key` is equal for equal results only; two kinds of results never share one. At most `max` results are
  // left; fewer where each takes much memory.
  template <typename Result>
  std::shared_ptr<const Result> get(const Digest& key,
                                    const std::function<std::shared_ptr<const Result>()>& make,
                                    std::size_t max = kMax) const {
    return std::static_pointer_cast<const Result>(keptOrMade(
        key, [&make] { return std::shared_ptr<const void>(make()); }, max));
  }

 private:
  std::shared_ptr<const void> keptOrMade(const Digest& key,
                                         const std::function<std::shared_ptr<const void>()>& make,
                                         std::size_t max) const;

  mutable std::mutex mutex_;
  mutable std::vector<std::pair<Digest, std::shared_ptr<const void>>> kept_;
};

}  // namespace comet
