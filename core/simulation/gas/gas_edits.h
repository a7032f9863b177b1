// Edits of a scene that concern a gas and its sources together.
#pragma once

#include "scene/scene.h"

namespace comet {

// A gas, and a source at its bottom. Wind, fields and deflectors act on it; forces and gravity do not at
// first, since its buoyancy stands for that of the air. The gas is the last item but one, the source the
// last.
Scene withNewGas(const Scene& scene);

// The same with a gas whose source gives fuel that burns.
Scene withNewFire(const Scene& scene);

// The same with flat gas, fine and fast.
Scene withNewFlatGas(const Scene& scene);

// Flat gas that a picture becomes, in its colours, once its source has the picture. The gas is the last item
// but one, the source the last.
Scene withGasOfPicture(const Scene& scene);

// Another source of a gas, in the middle of its bottom; the last item.
Scene withNewSource(const Scene& scene, const Item& gas);

// A copy of a gas with copies of its sources, which give to the copy. The gas is the first of the new items.
Scene withDuplicatedGas(const Scene& scene, const Item& gas);

// Without a gas and its sources.
Scene withoutGas(const Scene& scene, ItemId gas);

// With its box a quarter larger towards some walls (bits of GasGrid::wallBit), and voxels as large as before.
Scene withEnlargedGas(const Scene& scene, const Item& gas, unsigned walls);

// Its sources, in the scene's order.
std::vector<Scene::ItemPtr> sourcesOfGas(const Scene& scene, ItemId gas);

}  // namespace comet
