// Trails: the ways that particles have come, as lines with a width and a colour.
//
// Nothing of a trail is stored: it is read from the frames before the one that is shown. Between two frames
// it follows the cubic that begins and ends with the particle's places and velocities, which is exact as long
// as its acceleration stays the same, and it begins where and when the particle was born. Or a trail leads
// through many particles of one frame, from the youngest to the oldest.
#pragma once

#include "base/cell_sort.h"
#include "render/lines.h"
#include "render/look.h"
#include "scene/scene.h"
#include "simulation/birth_recall.h"
#include "simulation/frame/scene_frame.h"

#include <optional>
#include <vector>

namespace comet {

// How many frames before `frame` its picture needs. With fewer, trails that reach back further are shorter.
int pastNeeded(const Scene& scene, int frame);

// The trails of one emitter's particles at one frame; no longer than what it was made from.
class Trails : public Lines {
 public:
  Trails(const Scene& scene, const Item& emitter, const SceneFrame& now, const Past& past, const Look& look);

  static bool hasAny(const Item& emitter) { return !emitter.chooses("trail", "none"); }

  std::size_t count() const override { return heads_.size(); }
  // The particle that a trail is of, or the youngest that it leads through.
  ParticleId particle(std::size_t index) const;
  // When it was seen last.
  double age(std::size_t index) const override;

 private:
  // The last that was seen of a particle: in which frame, counted back from now, and where among the others.
  struct Head {
    std::size_t frame = 0, index = 0;
  };
  // What is known of a way.
  struct Knot {
    Vec3d place{0.0}, velocity{0.0};
    double before = 0;  // seconds before the head
    double age = 0;
    double pixelsPerUnit = 0;  // where it is seen; 0 if that does not matter
  };
  using Knots = std::vector<Knot>;

  double find(std::size_t index, std::vector<LinePoint>& points, const Projector* seenBy) const override;
  void findHeads();
  // Lines through the particles of each birth point, or through all.
  void findThreads(const BirthPoints& birthPoints);
  bool leadThroughMany() const { return !threads_.starts.empty(); }
  // Where a particle of one frame is so many frames before; nothing if it is not.
  std::optional<std::size_t> inOlder(std::size_t frame, std::size_t index, std::size_t frames = 1) const;
  // What is known of a particle in a frame, and how many frames before that may be left out as nothing
  // between is to be seen: up to a power of two of them.
  struct Sight {
    Head head;
    Knot knot;
    std::size_t maxFrames = 1;
  };
  Sight sightOf(const Head& head, const Projector* seenBy) const;
  // Of the same particle in an older frame, if it is in any.
  std::optional<Sight> olderThan(const Sight& sight, const Projector* seenBy) const;
  void addKnots(const Head& head, double seconds, double units, const Projector* seenBy, Knots& knots) const;
  void addBirth(const Head& head, Knots& knots) const;
  // At the death of a particle that is not alive any more; returns how long ago that was, in seconds.
  double addDeath(const Head& head, Knots& knots) const;
  void smooth(Knots& knots) const;
  void refine(const Knots& knots, double seconds, double units, std::vector<LinePoint>& points) const;
  // What a particle gives to the points of its trail.
  struct Brush {
    ParticleFacts state;
    double width;
    Vec3d color;
    double opacity;
  };
  Brush brushOf(const ParticleFacts& state, double fade) const;
  // Where `fraction` is known.
  void paint(const Brush& brush, LinePoint& point) const;
  double throughMany(std::size_t index, std::vector<LinePoint>& points, const Projector* seenBy) const;
  // Puts knots evenly along the line, as far apart as set.
  void spread(Knots& knots) const;

  const Look& look_;
  std::vector<const ParticleStore*> stores_;  // of the frames, from now backwards, without gaps
  std::vector<Head> heads_;
  // Where trails lead through many: the particles of each birth point, the oldest first; and which of these
  // each trail is.
  CellSort threads_;
  std::vector<std::size_t> threadOfTrail_;
  std::optional<BirthRecall> births_;  // of an emitter that gives births on its own
  RandomSource random_;
  int frame_;  // that is shown
  double frameSeconds_;
  bool byTime_, stays_;
  double length_, lengthVariation_, fade_, smoothness_;
  double spacing_;  // of lines through many particles, units; 0 for the particles themselves
  int smoothing_;
  Course width_;
  UnitTable<float> taper_, fadesAlong_;
  enum class ColorFrom { Particle, Way, Own } colorFrom_;
  UnitTable<Vec3> ownColor_;
  double opacity_;
};

}  // namespace comet
