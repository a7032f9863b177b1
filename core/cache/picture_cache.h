// Pictures as a screen shows them, found by what they were drawn of.
//
// A key is the digest of everything that a picture shows, so stale ones cannot be found. All functions may be
// called from any thread.
#pragma once

#include "base/digest.h"

#include <cstddef>
#include <cstdint>
#include <memory>
#include <mutex>
#include <unordered_map>
#include <vector>

namespace comet {

// Pixels are sRGB, 0xFFRRGGBB, in rows without gaps.
struct ScreenPicture {
  int width = 0, height = 0;
  std::vector<std::uint32_t> pixels;
  std::size_t leftOut = 0;  // particles that it lacks because their meshes have too many triangles in all

  std::size_t bytes() const { return pixels.size() * sizeof(std::uint32_t); }
};

using ScreenPicturePtr = std::shared_ptr<const ScreenPicture>;

class PictureCache {
 public:
  // `budget` in bytes.
  explicit PictureCache(std::size_t budget) : budget_(budget) {}

  // Null if it is not here.
  ScreenPicturePtr find(const Digest& key);
  bool contains(const Digest& key) const;

  // What becomes of other pictures when there is no room for one more.
  enum class Others {
    Stay,  // it is not kept
    Go     // those that were unused for longest
  };
  // One that is larger than the budget is never kept.
  void insert(const Digest& key, const ScreenPicturePtr& picture, Others others);

  // How many bytes the pictures of these keys take that are here. They count as used now.
  std::size_t use(const std::vector<Digest>& keys);

  void clear();
  std::size_t bytes() const;
  std::size_t budget() const;
  void setBudget(std::size_t budget);

 private:
  struct Entry {
    ScreenPicturePtr picture;
    std::uint64_t lastUse;
  };

  // With the mutex held.
  void dropUntil(std::size_t allowed);

  mutable std::mutex mutex_;
  std::unordered_map<Digest, Entry> entries_;
  std::size_t budget_;
  std::size_t bytes_ = 0;
  std::uint64_t uses_ = 0;
};

}  // namespace comet
