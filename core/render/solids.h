// The deflectors of a scene as they are drawn.
#pragma once

#include "render/solid_layer.h"
#include "scene/scene.h"

#include <vector>

namespace comet {

// For whom a picture is drawn: in the viewport, deflectors may be shaded that a bake leaves out.
enum class RenderPurpose { Bake, Viewport };

// Of the deflectors that are on, those that hide or show anything.
std::vector<Solid> solidsOf(const Scene& scene, double frame, RenderPurpose purpose);

}  // namespace comet
