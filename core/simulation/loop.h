// Exact loops: scenes that repeat with the number of their frames.
//
// What leads from frame to frame is the same in every round: births are counted anew, and keys, formulas,
// windows and noise are read at the round's own frames. The scene is simulated for whole rounds before its
// first frame, for as long as its longest lives take; from then on a particle that is born in a round ends as
// the one before it did. The frame after the last one is then the first one.
#pragma once

#include "scene/scene.h"
#include "simulation/influences/influence.h"

#include <string>
#include <vector>

namespace comet {

// Longer lives are not waited for.
constexpr int kMostWarmUpRounds = 1000;

bool loops(const Scene& scene);

// The moments of the step that leads to a frame: in a loop those of the round that all rounds repeat.
FrameTime stepTime(const Scene& scene, int frame);

// How many frames before the scene's first one its simulation begins. Whole rounds in a loop, at most
// kMostWarmUpRounds of them.
int warmUpFrames(const Scene& scene);

// The round that the step to a frame belongs to, counted from 1; 0 for the first simulated frame, to which no
// step leads.
std::uint64_t roundOf(const Scene& scene, int frame);
// Whether the step to a frame is the first of a round.
bool beginsRound(const Scene& scene, int frame);

// What keeps the scene from repeating exactly, in words with their remedies; empty if nothing does, or if it
// does not loop.
std::vector<std::string> loopProblems(const Scene& scene);

// The nearest rate at which something goes through whole rounds of its own in `period` seconds, at least one;
// `rate` itself for a period of 0, or if it stands still.
double wholeRounds(double rate, double period);

}  // namespace comet
