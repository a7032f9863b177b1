// How an emitter's shape moves during a frame's step: by its keys, and by its wandering.
#pragma once

#include "base/digest.h"
#include "base/vec.h"
#include "scene/item.h"
#include "simulation/frame/frame_time.h"

#include <vector>

namespace comet {

struct ShapePath {
  struct Placement {
    Vec3d position{0.0};
    Mat3d rotation{1.0};
    Mat3d frame{
        1.0};  // rotation times scale: from the shape's own space to directions and lengths of the scene

    Vec3d toScene(const Vec3d& local) const { return position + frame * local; }
  };

  std::vector<Placement> poses;  // at equal times over a frame; one if the shape rests
  double frameSeconds = 0;

  // At a fraction of the frame, 0 to 1.
  Placement at(double fraction) const;
  // Of a point of the shape, units per second.
  Vec3d velocity(const Vec3d& local, double fraction) const;
  // A normal of the shape in the scene, of length one.
  static Vec3d normalInScene(const Placement& pose, const Vec3d& normal);

  void describe(Hasher& hasher) const;
};

// Over the frame that ends with the step. `wanderKey` selects the way that the shape wanders.
ShapePath shapePath(const Item& emitter, const FrameTime& time, double frameRate, std::uint64_t wanderKey);

// Where keys put the shape, without its wandering.
ShapePath::Placement keyedPose(const Item& emitter, double frame);

// Where the shape is at any moment, for drawing it. Its wandering repeats after `period` seconds; never for
// 0.
ShapePath::Placement poseAt(const Item& emitter, double frame, double frameRate, std::uint64_t wanderKey,
                            double period);

}  // namespace comet
