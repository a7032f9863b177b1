// Moving pictures, for looking at and for sending around.
#pragma once

#include "base/picture.h"
#include "base/progress.h"

#include <filesystem>
#include <functional>
#include <string_view>

namespace comet {

enum class VideoFormat { WebM, AnimatedPng };

// With its dot.
std::string_view extensionOf(VideoFormat format);

struct Video {
  int width = 0, height = 0;
  double framesPerSecond = 24;
  int frames = 0;
  // The picture at an index: linear light, straight alpha.
  std::function<Picture(int)> frame;
};

// A WebM video (VP9) or an animated PNG, both with alpha; the latter repeats without end. Odd sizes of videos
// lose their last row or column, which the format cannot hold. Throws Error(Write), and what `frame` throws;
// no partial file is left.
void writeVideo(const std::filesystem::path& path, const Video& video, VideoFormat format,
                const Progress& progress);

}  // namespace comet
