// Items moved in space and time as a whole, and meshes brought to size.
#pragma once

#include "scene/scene.h"

namespace comet {

// All that is keyed or happens at a frame comes so many frames later; an emitter that always emits begins so
// much after the range's first frame.
Item shiftedInTime(const Item& item, double frames, const FrameRange& range);

// Where it is and its keys; of an emitter also the bounds at which particles end, of an influence its reach.
Item shiftedInSpace(const Item& item, const Vec3d& offset);

// The emitter with its mesh scaled so that its longest side has this length, its middle at `centre`. Keys of
// place and scale go. Without a mesh nothing changes.
Item withMeshFitted(const Item& emitter, double longestSide, const Vec3d& centre);

// The emitter moved up or down so that its mesh stands on the plane y = 0.
Item withMeshOnGround(const Item& emitter);

// Lengths of the mesh's box in the scene, as it is scaled and turned; zero without a mesh.
Vec3d meshExtent(const Item& emitter, double frame);

}  // namespace comet
