// Exact loops: scenes that repeat with the number of their frames.
//
// What leads from frame to frame is the same in every round: births are counted anew, and keys, formulas,
// windows and noise are read at the round's own frames. The scene is simulated for whole rounds before its
// first frame, for as long as its longest lives take; from then on a particle that is born in a round ends as
// the one before it did. The frame after the last one is then the first one.
#pragma once

#include "scene/scene.h"
#include "simulation/frame/cycles.h"
#include "simulation/frame/frame_time.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace comet {

// Longer lives are not waited for.
constexpr int kMaxWarmUpCycles = 1000;

// How many frames before the scene's first one its simulation begins. Whole rounds in a loop, at most
// kMaxWarmUpRounds of them.
int warmUpFrames(const Scene& scene);

// The moments of a scene's steps. What they depend on is worked out once: in a loop that means asking for
// every emitter's longest life.
class StepClock {
 public:
  explicit StepClock(const Scene& scene);

  // The first frame that is simulated, to which no step leads.
  int firstFrame() const { return first_; }
  // The step that leads to a frame: in a loop that of the round that all rounds repeat.
  FrameTime step(int frame) const;
  // The round that begins with that step, counted from 1; nothing if none does.
  std::optional<std::uint64_t> cycleThatBegins(int frame) const;

 private:
  // The place of a step in its round, from 0.
  int inCycle(int frame) const;

  double rate_;
  int first_, sceneFirst_;
  int frames_;  // of a round; 0 if the scene does not loop
};

// What keeps the scene from repeating exactly, in words with their remedies; empty if nothing does, or if it
// does not loop.
std::vector<std::string> loopProblems(const Scene& scene);

}  // namespace comet
