// The parameters of gases, and what follows from them alone.
#pragma once

#include "gas/gas_detail.h"
#include "gas/gas_grid.h"
#include "gas/gas_step.h"
#include "scene/scene.h"
#include "simulation/frame/frame_time.h"

namespace comet {

const KindSpec& gasKind();

// The voxels of its box.
GasGrid gasGridOf(const Item& gas);
// Whether it moves in a plane alone, that of its box across z.
bool isFlat(const Item& gas);
// Whether it carries fuel that burns.
bool burns(const Item& gas);

// How it moves by itself at a frame, without its time scale.
GasMotion gasMotionOf(const Item& gas, const FrameTime& time);

// Of what is seen of it in finer voxels.
DetailSwirls detailSwirlsOf(const Item& gas, const FrameTime& time);

// What it carries: colors if any of its sources gives one, ages if it is colored by them, fuel if it burns.
GasExtras gasExtrasOf(const Scene& scene, const Item& gas);

// What a gas of these voxels takes while it is simulated, in bytes.
std::size_t gasMemory(const GasGrid& grid, const GasExtras& extras = {});
// What a frame of it is kept in at most, in bytes: less where there is no gas.
std::size_t gasFrameMemory(const GasGrid& grid, const GasExtras& extras = {});

// The finest resolution of a gas that takes no more than so many bytes while it is simulated.
int largestResolution(const Item& gas, const GasExtras& extras, std::size_t bytes);

// The voxels of the viewport: the scene with each gas as coarse as its preview resolution says, and without
// detail.
Scene atPreviewResolution(const Scene& scene);

}  // namespace comet
