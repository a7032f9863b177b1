// Finished frames, found by what produced them.
//
// A frame's key is the digest of everything that led to it, so a stale frame cannot be found. All functions
// may be called from any thread.
#pragma once

#include "base/digest.h"
#include "particles/particle_frame.h"

#include <cstddef>
#include <mutex>
#include <unordered_map>

namespace comet {

class FrameCache {
 public:
  // `budget` in bytes.
  explicit FrameCache(std::size_t budget) : budget_(budget) {}

  // Null if the frame is not here.
  ParticleFramePtr find(const Digest& key);
  bool contains(const Digest& key) const;

  // Keeps the frame; drops others if it would be more than the budget: those between checkpoints first, the
  // longest unused first. Throws Error(Budget) if the frame alone is larger than the budget.
  void insert(const Digest& key, const ParticleFramePtr& frame);

  // Forgets all frames; those that are in use live on until nobody holds them.
  void clear();

  std::size_t bytes() const;
  std::size_t budget() const;
  void setBudget(std::size_t budget);

  // Every so many frames one is a checkpoint, from which a run can be resumed.
  static constexpr int kCheckpointInterval = 16;

 private:
  struct Entry {
    ParticleFramePtr frame;
    std::size_t bytes;
    std::uint64_t lastUse;
  };

  void dropUntil(std::size_t allowed);

  mutable std::mutex mutex_;
  std::unordered_map<Digest, Entry> entries_;
  std::size_t budget_;
  std::size_t bytes_ = 0;
  std::uint64_t uses_ = 0;
};

}  // namespace comet
