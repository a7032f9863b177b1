// Loops over chunks on all threads that soon stop when somebody wants them to.
#pragma once

#include "base/parallel.h"
#include "base/picture.h"
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

// As parallelForEqual, likewise.
template <typename Body>
void stoppableForEqual(std::size_t count, const Progress& progress, const Body& body) {
  parallelForEqual(count, [&](std::size_t i) {
    if (!progress.cancelled()) body(i);
  });
  progress.stopIfCancelled();
}

// Each row of `to` from that of `from`, which is as large and may be the same picture.
template <typename Change>
void changeRows(const Picture& from, Picture& to, const Progress& progress, const Change& change) {
  stoppableFor(static_cast<std::size_t>(from.height()), progress, [&](std::size_t y) {
    const Vec4* in = from.row(static_cast<int>(y));
    Vec4* out = to.row(static_cast<int>(y));
    for (int x = 0; x < from.width(); ++x) out[x] = change(in[x]);
  });
}

}  // namespace comet
