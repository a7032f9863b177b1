// Trails and links as data.
#pragma once

#include "io/curve_file.h"
#include "io/point_file.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

namespace comet {

enum class LineKind { Trails, Links };

// The lines of all emitters that have any. `points` is how many each gets, evenly along it; 0 for those that
// it has.
CurveFrame linesOf(const Scene& scene, const SceneFrame& frame, const Past& past, LineKind kind,
                   std::size_t points);

// A row for each point: line, place, width, colour, opacity. Lines are numbered from 0.
PointTable lineTable(const CurveFrame& frame);

}  // namespace comet
