// What every kind of influence provides: its table of parameters, and its kernel.
//
// An influence of a scene is evaluated once per frame into an action (keys and formulas are numbers by then),
// which is hashed into the frame's key and applied to each chunk. A new kind is one source file that defines
// an InfluenceKind, a line in influences.cpp, and a test.
#pragma once

#include "base/digest.h"
#include "scene/item.h"
#include "simulation/chunk.h"

#include <memory>

namespace comet {

// The moments between which a frame's step runs.
struct FrameTime {
  int frame = 0;      // the frame that the step leads to
  double start = 0;   // seconds since the scene's first frame
  double length = 0;  // seconds; zero for the first frame

  // Where parameters are evaluated that stay the same during the step, as a frame number.
  double middleFrame() const { return length > 0 ? frame - 0.5 : frame; }
};

class InfluenceAction {
 public:
  InfluenceAction() = default;
  virtual ~InfluenceAction() = default;
  InfluenceAction(const InfluenceAction&) = delete;
  InfluenceAction& operator=(const InfluenceAction&) = delete;

  // Adds everything that the action depends on; two actions that hash alike act alike.
  virtual void describe(Hasher& hasher) const = 0;

  // Whether addTo reads Chunk::middle.
  virtual bool readsPositions() const { return false; }

  // Adds the action on each particle, `response` times as strong (1 for 100 %). Called from many threads.
  virtual void addTo(Forces& forces, const Chunk& chunk, const Substep& substep, double response) const = 0;
};

struct InfluenceKind {
  const KindSpec& spec;
  std::unique_ptr<const InfluenceAction> (*plan)(const Item& item, const FrameTime& time);
};

}  // namespace comet
