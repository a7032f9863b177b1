// What a source gives in a step: where, how much, in which colour, and how fast that moves.
#pragma once

#include "base/strokes.h"
#include "scene/scene.h"
#include "simulation/emission/shape.h"
#include "simulation/emission/shape_path.h"
#include "simulation/frame/frame_time.h"

#include <cstdint>
#include <string>

namespace comet {

// Everything that a source does in one step, already evaluated.
struct SourcePlan {
  ItemId source = 0;
  // The emitter on whose particles it sits; 0 for one with a shape.
  ItemId particlesOf = 0;
  double particleRadius = 0;
  // The lines on which it sits, in the space of the shape; none for one with a shape.
  StrokeList strokes;
  Shape shape;
  ShapePath path;
  double thickness = 0, softness = 0;  // units

  bool isHeld = false;                  // else amounts are added, per second
  double density = 0, temperature = 0;  // temperature in kelvin above the air's
  double fuel = 0;
  double expansion = 0;  // per second
  struct {
    double amount = 0;  // 0 to 1
    double size = 1;    // units
    double drift = 0;   // units upwards, so far
    std::uint64_t pattern = 0;
  } noise;
  struct {
    bool isSet = false;
    Vec3d own{0.0};        // units/s, turned with the shape
    double outwards = 0;   // units/s
    double inherited = 0;  // fraction of that of the shape, or of the particles
  } velocity;
  Vec3d color{1.0};           // linear; white if it gives none
  bool givesPicture = false;  // its colours instead, where the shape is a picture
  double activity = 0;        // the part of the step in which it gives, 0 to 1

  void describe(Hasher& hasher) const;
};

SourcePlan planSource(const Item& source, std::uint64_t sceneSeed, double frameRate, const FrameTime& time);

// Why a source gives nothing although it is asked to; empty if it does.
std::string problemWithSource(const Scene& scene, const Item& source, double frame);

}  // namespace comet
