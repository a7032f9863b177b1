// How times are shown and read where nothing else is typed.
#pragma once

namespace comet {

// Moments as frames and lengths in seconds or frames, as they are kept; or all alike.
enum class TimeDisplay { AsKept, Frames, Seconds };

}  // namespace comet
