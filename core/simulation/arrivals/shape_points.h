// The points of a shape at which particles arrive, on their way through a frame's step.
#pragma once

#include "base/progress.h"
#include "simulation/emission/shape.h"
#include "simulation/emission/shape_path.h"

#include <algorithm>
#include <glm/common.hpp>
#include <memory>
#include <vector>

namespace comet {

class ShapePoints {
 public:
  // Of an influence that has a shape. Throws Error(Cancelled).
  ShapePoints(const Item& influence, const FrameTime& time, const Progress& progress);

  std::size_t size() const { return std::min(first_.points->size(), last_.points->size()); }
  // How they lie at a fraction of the step, 0 to 1.
  struct Moment {
    double fraction;
    ShapePath::Placement pose;
  };
  Moment moment(double fraction) const { return {fraction, path_.at(fraction)}; }

  Vec3d at(std::size_t i, const Moment& moment) const {
    return moment.pose.toScene(glm::mix(first_.at(i), last_.at(i), moment.fraction));
  }
  // Of length one.
  Vec3d normal(std::size_t i, const Moment& moment) const {
    return ShapePath::normalInScene(moment.pose, (*last_.points)[i].normal);
  }

  // Of a picture there, linear; else white, as for a point that is not there any more.
  Vec3d color(std::size_t i) const {
    return i < last_.points->size() ? (*last_.points)[i].color : Vec3d(1.0);
  }

  void describe(Hasher& hasher) const;

 private:
  using Points = std::vector<ShapePoint>;

  struct Scaled {
    std::shared_ptr<const Points> points;
    Vec3d scale{1.0};

    Vec3d at(std::size_t i) const { return (*points)[i].at * scale; }
  };

  Scaled first_, last_;  // in the shape's own space, as the step begins and ends
  Digest key_;           // of what they are made from
  ShapePath path_;
};

}  // namespace comet
