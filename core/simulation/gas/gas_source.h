// What a source gives in a step: where, how much, in which colour, and how fast that moves.
#pragma once

#include "base/strokes.h"
#include "base/unit_table.h"
#include "scene/scene.h"
#include "simulation/emission/shape.h"
#include "simulation/emission/shape_path.h"
#include "simulation/emission/size.h"
#include "simulation/frame/frame_time.h"

#include <cstdint>
#include <optional>
#include <string>

namespace comet {

// Everything that a source does in one step, already evaluated.
struct SourcePlan {
  ItemId source = 0;
  // The emitter on whose particles it sits, and how it sits there; 0 for one with a shape.
  ItemId particlesOf = 0;
  struct Puff {
    double radius = 0;              // units, or if there is a size the fraction of half of it
    std::optional<BirthSize> size;  // of the particles
    // How much of it there is over a particle's life; none: all.
    std::optional<UnitTable<float>> overLife;

    double radiusOf(ParticleId id) const { return size ? 0.5 * size->diameter(id) * radius : radius; }
    double amountAt(double age, double lifetime) const {
      return overLife ? overLife->at(static_cast<float>(age / lifetime)) : 1;
    }
  } puff;
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

SourcePlan planSource(const Scene& scene, const Item& source, const FrameTime& time);

// Why a source gives nothing although it is asked to; empty if it does.
std::string problemWithSource(const Scene& scene, const Item& source, double frame);

}  // namespace comet
