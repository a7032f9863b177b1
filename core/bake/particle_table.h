// The particles of a frame as a table, with what is derived from them, for export.
#pragma once

#include "io/point_file.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

namespace comet {

// Columns: id, emitter, x, y, z, vx, vy, vz (scene units, units per second), age, lifetime (seconds), size
// (diameter, scene units), red, green, blue (linear, brightness included), opacity (0 to 1), parent (the id
// of the particle that a child comes from, or 0).
PointTable particleTable(const Scene& scene, const SceneFrame& frame);

// The hits on deflectors in the step that led to the frame. Columns: time (seconds since the first frame),
// id, emitter, deflector, x, y, z, nx, ny, nz (the surface's normal), speed (against the surface, units per
// second).
PointTable hitTable(const Scene& scene, const SceneFrame& frame);

}  // namespace comet
