// What becomes of the particles that an influence brings to points of their own: how many have arrived, what
// is wrong, and lines that show who goes where.
#pragma once

#include "base/progress.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <string>
#include <vector>

namespace comet {

struct ArrivalCount {
  ItemId influence = 0;
  std::size_t points = 0;
  std::size_t arrived = 0, travelling = 0, waiting = 0;  // particles

  // Points that no particle has.
  std::size_t free() const { return points > arrived + travelling ? points - arrived - travelling : 0; }
};

// All here throw Error(Cancelled).
ArrivalCount countArrivals(const Item& influence, const SceneFrame& frame, const Progress& progress = {});
// Of each influence of the kind that is on, in the scene's order.
std::vector<ArrivalCount> countArrivals(const Scene& scene, const SceneFrame& frame,
                                        const Progress& progress = {});

// What is wrong with how one is set up, in words; each a line of its own, none if all is well.
std::vector<std::string> notesOnArrivals(const Scene& scene, const Item& influence, const SceneFrame& frame,
                                         const Progress& progress = {});

struct ArrivalLine {
  Vec3d from{0.0}, to{0.0};  // a particle, and its point
};

// Who goes where, and every point.
struct ArrivalMap {
  std::vector<ArrivalLine> travelling;
  std::vector<Vec3d> points;
};
ArrivalMap mapArrivals(const Item& influence, const SceneFrame& frame, const Progress& progress = {});

}  // namespace comet
