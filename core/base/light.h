// A light, as surfaces and gas are lit by it: one from far away, or one with a place.
#pragma once

#include "base/vec.h"

#include <optional>

namespace comet {

// How a light fades with the distance from its place.
enum class Falloff { InverseSquare, Linear, None };

// A light with a place. Up to the distance `full` it is as bright as it can be.
struct PointLight {
  Vec3d place{0.0};
  Falloff falloff = Falloff::InverseSquare;
  double full = 1;   // units, more than 0
  double range = 1;  // units; where it fades linearly, that at which nothing is left

  // The fraction of the light that is left at a distance, 0 to 1.
  double at(double distance) const;
};

struct Light {
  Vec3d towards{0, 1, 0};             // where one from far away comes from, of length one
  Vec3 color{1.0F};                   // linear, at its brightest
  std::optional<PointLight> point{};  // nothing for one from far away
  bool isShadowed = true;             // whether gas keeps it from the gas behind

  // What arrives at a place of the scene with nothing in between, and where it comes from, of length one.
  struct Arriving {
    Vec3d towards;
    double fraction;
  };
  Arriving arriving(const Vec3d& at) const;
};

}  // namespace comet
