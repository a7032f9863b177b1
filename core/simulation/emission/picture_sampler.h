// Points on a picture, more often where it is bright or opaque.
#pragma once

#include "base/picture.h"
#include "io/picture_content.h"

#include <memory>
#include <vector>

namespace comet {

enum class PictureWeight { Bright, Opaque };

class PictureSampler {
 public:
  // Nothing is chosen where the weight, 0 to 1, is below `threshold`.
  PictureSampler(std::shared_ptr<const Picture> picture, PictureWeight weight, double threshold);

  bool isEmpty() const { return cumulative_.empty(); }
  // Height divided by width.
  double aspect() const;

  struct Point {
    double x, y;  // fractions of the picture, from its top left corner
    Vec3d color;  // linear, not multiplied with alpha
  };
  // What is at a place, in fractions from the top left corner: mixed from the pixels around it. Nothing
  // beyond the picture.
  struct Spot {
    double amount = 0;  // the weight, 0 to 1
    Vec3d color{0.0};   // linear, not multiplied with alpha
  };
  Spot at(double x, double y) const;

  // The point for three numbers in [0, 1); the sampler must not be empty.
  Point pick(const Vec3d& numbers) const;

 private:
  // 0 below the threshold.
  double weightOf(const Vec4& pixel) const;

  std::shared_ptr<const Picture> picture_;
  PictureWeight weight_;
  double threshold_;
  std::vector<std::uint32_t> pixels_;
  std::vector<double> cumulative_;
};

// The sampler for a frame of the scene, kept and shared while the same is asked for.
std::shared_ptr<const PictureSampler> samplerOf(const PictureContent& content, int frame,
                                                PictureWeight weight, double threshold);

}  // namespace comet
