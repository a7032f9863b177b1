// What finished frames show, found by what produced them, and the plans of the scene that was asked for last.
//
// A key is the digest of everything that led to a frame's states, so stale ones cannot be found. All
// functions may be called from any thread.
#pragma once

#include "base/digest.h"
#include "cache/frame_store.h"
#include "cache/scene_plans.h"
#include "simulation/frame/scene_frame.h"

#include <condition_variable>
#include <cstddef>
#include <functional>
#include <mutex>
#include <unordered_map>
#include <unordered_set>

namespace comet {

class FrameCache {
 public:
  // `budget` in bytes. With a store, runs also look for frames there, and can keep them there.
  explicit FrameCache(std::size_t budget, std::shared_ptr<const FrameStore> store = nullptr)
      : store_(std::move(store)), budget_(budget) {}

  // The states as those of the frame of this number; null if they are not here.
  SceneFramePtr find(const Digest& key, int number);
  bool contains(const Digest& key) const;

  // Keeps what the frame shows; drops others if it would be more than the budget: those between checkpoints
  // first, the longest unused first. Throws Error(Budget) if the frame alone is larger than the budget.
  void insert(const Digest& key, const SceneFramePtr& frame);

  // Finds it, or makes it and keeps it. Of several who want the same, one makes it and the others wait.
  // Throws what `make` throws, and Error(Cancelled).
  SceneFramePtr findOrMake(const Digest& key, int number, const Progress& progress,
                           const std::function<SceneFramePtr()>& make);

  // The plans of a scene: those that were asked for last, if both simulate alike.
  std::shared_ptr<ScenePlans> plansOf(const Scene& scene);

  // Forgets everything; frames that are in use live on until nobody holds them.
  void clear();

  std::size_t bytes() const;
  std::size_t budget() const;
  void setBudget(std::size_t budget);
  // Null for none. Runs take the one that is there when they are made.
  std::shared_ptr<const FrameStore> store() const;
  void setStore(std::shared_ptr<const FrameStore> store);

  // Every so many frames one is a checkpoint, from which a run can be resumed.
  static constexpr int kCheckpointInterval = 16;

 private:
  struct Entry {
    SceneFramePtr frame;  // as it was made
    std::size_t bytes;
    std::uint64_t lastUse;
  };

  // With the mutex held.
  SceneFramePtr found(const Digest& key, int number);
  void dropUntil(std::size_t allowed);

  mutable std::mutex mutex_;
  std::condition_variable isMade_;  // or given up
  std::unordered_map<Digest, Entry> entries_;
  std::unordered_set<Digest> beingMade_;
  std::shared_ptr<ScenePlans> plans_;
  std::shared_ptr<const FrameStore> store_;
  std::size_t budget_;
  std::size_t bytes_ = 0;
  std::uint64_t uses_ = 0;
};

}  // namespace comet
