// The process's memory.
#pragma once

#include <cstddef>
#include <string>

namespace comet {

// Hands back to the system what the allocators keep for later: after much was given up that nothing like it
// will soon follow, such as the frames of a scene that was closed. May be called from any thread.
void releaseUnusedMemory();

// Memory for much data, aligned for any type, from an allocator that keeps large blocks for the next one. A
// large block lies in large pages, where there are any: it is then taken and given back many times as fast.
// Throws std::bad_alloc. May be called from any thread.
void* takeBlock(std::size_t bytes);
void giveBackBlock(void* block) noexcept;

// How many bytes the process can still take: what the machine has left, within the limits that are set for
// the process and for its group.
std::size_t availableMemory();

// Throws Error(Budget) if that is less than `bytes`: before long work, so that it is not for nothing, and
// before the machine is brought to a standstill.
void requireMemory(std::size_t bytes, const std::string& place, const std::string& remedy);

}  // namespace comet
