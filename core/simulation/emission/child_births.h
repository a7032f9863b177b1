// Births of a child emitter: when and where another emitter's particles give birth to its own.
#pragma once

#include "base/digest.h"
#include "particles/lineage.h"
#include "scene/item.h"
#include "simulation/emission/parent_path.h"
#include "simulation/emission/varied.h"
#include "simulation/frame/frame_time.h"
#include "simulation/frame/scene_frame.h"

#include <cstdint>
#include <vector>

namespace comet {

// How a child emitter's births follow from particles of its source, at one frame.
struct ChildRule {
  enum class Come { Alone, Births, Lives, Ways, Deaths, Hits, Rules };
  enum class Stands { Scene, Motion, Surface };

  ChildRule() = default;
  ChildRule(const Item& emitter, std::uint64_t randomKey, double frame);

  // Whether its births come from other emitters' particles.
  bool isChild() const { return come != Come::Alone; }
  void describe(Hasher& hasher) const;

  Come come = Come::Alone;
  ItemId source = 0;
  std::uint64_t randomKey = 0;
  Varied each;                   // births at an event
  double density = 0;            // births per second or per unit
  double chance = 1;             // fraction of parents that give any
  double inheritedVelocity = 0;  // fraction of the parent's velocity
  Stands stands = Stands::Scene;
};

// Where, when and of whom one child is born.
struct Origin {
  double time = 0;  // seconds since the step's start
  Vec3d position{0.0}, velocity{0.0};
  Vec3d up{0, 1, 0};  // of length one: what the shape's y becomes
  Lineage lineage;
  bool goesOn = false;  // is the parent itself, handed over: where and as fast as that was
  double age = 0;       // that it begins with, seconds
};

struct ChildBirths {
  std::vector<Origin> origins;
  std::uint64_t wanted = 0;  // may be more than there are origins
};

// Lists at most `max` births that fall between two moments of the step, in the order of the parents.
// `ways` and `hits` are those of the source in this step; ways by their identities.
ChildBirths childBirths(const ChildRule& rule, const FrameTime& time, double from, double until,
                        const std::vector<ParentPath>& paths, const std::vector<SurfaceHit>& hits,
                        std::size_t max);

}  // namespace comet
