// The frames of one scene: planned, taken from the cache or simulated.
//
//   SceneRun run(scene, cache);
//   SceneFramePtr frame = run.frame(48);
#pragma once

#include "base/progress.h"
#include "cache/frame_cache.h"
#include "scene/scene.h"

#include <map>
#include <memory>
#include <string>
#include <vector>

namespace comet {

// The memory that a scene allows for its frames, in bytes.
std::size_t memoryBudget(const Scene& scene);

// Belongs to one thread at a time. The cache may be shared; runs of the same scene then share their plans
// too, and none simulates a frame that another one has at work.
class SceneRun {
 public:
  // Frames are also looked for in the cache's store, and kept there by keepOnDisk.
  SceneRun(Scene scene, std::shared_ptr<FrameCache> cache);

  const Scene& scene() const { return scene_; }
  // A run of another scene, with the same cache.
  SceneRun of(Scene scene) const { return {std::move(scene), cache_}; }

  // The frame, simulated from the nearest earlier one in the cache. Frames on the way are kept. Throws
  // Error(Cancelled), Error(Budget), or Error(Input) for a frame before the first.
  SceneFramePtr frame(int frame, const Progress& progress = {});

  // So many frames before one, or as many as are simulated at all.
  Past past(int frame, int count, const Progress& progress = {});

  // Writes the frames that were asked for and are still at hand to the store, and cleans it up. Apart from
  // making them, since a run that the next edit overtakes is not worth a disk's time. Says why that could not
  // be done; empty if all is well, or there is no store.
  std::string keepOnDisk();

  // The frame if it is at hand, otherwise null.
  SceneFramePtr cached(int frame, const Progress& progress = {});
  bool isCached(int frame);

  // What the frames that were handed out, up to this one, have lost on the way.
  Losses lossesUntil(int frame) const;

  // What the frame's states are stored under; see ScenePlans.
  Digest key(int frame, const Progress& progress = {});

 private:
  SceneFramePtr made(int frame, const Progress& progress);
  // From memory or from the store.
  SceneFramePtr found(int frame, const Progress& progress);

  Scene scene_;
  std::shared_ptr<FrameCache> cache_;
  std::shared_ptr<const FrameStore> store_;
  std::shared_ptr<ScenePlans> plans_;
  std::map<int, Losses> losses_;  // of the frames that were handed out
  int last_;                      // that was asked for
};

}  // namespace comet
