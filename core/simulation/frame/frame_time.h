// The moments of a step.
#pragma once

namespace comet {

// Between which a frame's step runs.
struct FrameTime {
  int frame = 0;      // the frame that the step leads to
  double start = 0;   // seconds since the scene's first frame
  double length = 0;  // seconds; zero for the first frame
  double period = 0;  // seconds after which everything repeats; zero for never

  // Where parameters are evaluated that stay the same during the step, as a frame number.
  double middleFrame() const { return length > 0 ? frame - 0.5 : frame; }
};

}  // namespace comet
