// The frames of one scene: planned, taken from the cache or simulated.
//
//   SceneRun run(scene, cache);
//   ParticleFramePtr frame = run.frame(48);
#pragma once

#include "base/progress.h"
#include "cache/frame_cache.h"
#include "scene/scene.h"

#include <memory>
#include <vector>

namespace comet {

// The memory that a scene allows for its frames, in bytes.
std::size_t memoryBudget(const Scene& scene);

// Belongs to one thread at a time; the cache may be shared.
class SceneRun {
 public:
  SceneRun(Scene scene, std::shared_ptr<FrameCache> cache);

  const Scene& scene() const { return scene_; }

  // The frame, simulated from the nearest earlier one in the cache. Frames on the way are kept. Throws
  // Error(Cancelled), Error(Budget), or Error(Input) for a frame before the first.
  ParticleFramePtr frame(int frame, const Progress* progress = nullptr);

  // The frame if it is at hand, otherwise null.
  ParticleFramePtr cached(int frame);
  bool isCached(int frame);

  // What the frame is stored under: K(f) = digest of K(f - 1) and the plan of f.
  Digest key(int frame);

 private:
  Scene scene_;
  std::shared_ptr<FrameCache> cache_;
  int first_;
  std::vector<Digest> keys_;  // of the frames from `first_` on, as far as they were asked for
};

}  // namespace comet
