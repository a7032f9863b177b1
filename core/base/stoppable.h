// Loops over chunks on all threads that soon stop when somebody wants them to.
#pragma once

#include "base/parallel.h"
#include "base/progress.h"

namespace comet {

// As parallelFor; once it is cancelled, what has not begun is left out. Throws Error(Cancelled) then.
template <typename Body>
void stoppableFor(std::size_t count, const Progress& progress, const Body& body) {
  parallelFor(count, [&](std::size_t i) {
    if (!progress.cancelled()) body(i);
  });
  progress.stopIfCancelled();
}

}  // namespace comet
