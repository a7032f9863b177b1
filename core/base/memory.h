// The process's memory.
#pragma once

namespace comet {

// Hands back to the system what the allocators keep for later: after much was given up that nothing like it
// will soon follow, such as the frames of a scene that was closed. May be called from any thread.
void releaseUnusedMemory();

}  // namespace comet
