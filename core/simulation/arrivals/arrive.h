// An influence that gives each particle a point of its own, brings it there in a set time, and holds it.
#pragma once

#include "simulation/arrivals/shape_points.h"
#include "simulation/arrivals/travel.h"
#include "simulation/influences/influence.h"

#include <optional>
#include <unordered_map>
#include <vector>

namespace comet {

// What it does in a frame, evaluated.
struct ArrivalRules {
  ArrivalRules(const Item& influence, const FrameTime& time, const Progress& progress);

  enum class Hold { Forever, Time, Speed };

  ItemId self = 0;
  FrameTime time;
  std::optional<ShapePoints> shape;  // else the points are the particles of an emitter
  ItemId targets = 0;                // that emitter; 0 for none
  Travel travel;
  int tag = 0;  // that a particle has to have; 0 for any
  bool facesSurface = false;
  Hold hold = Hold::Forever;
  Varied holdSeconds;
  double holdSpeed = 0;  // of the point, units/s
  double released = 0;   // how many are let go, as a fraction
  RandomSource random;

  void describe(Hasher& hasher) const;
};

// A point while it can be arrived at.
struct OpenPoint {
  std::uint32_t number = 0;
  Vec3d at{0.0};
};

class Arrive : public InfluenceAction {
 public:
  explicit Arrive(std::shared_ptr<const ArrivalRules> rules) : rules_(std::move(rules)) {}

  // Every point there is at a fraction of the step, by number. Those that are particles lie as these do.
  static std::vector<OpenPoint> pointsOf(const ArrivalRules& rules, const ParticleState& particles,
                                         double fraction);

  void describe(Hasher& hasher) const override { rules_->describe(hasher); }
  std::shared_ptr<const InfluenceAction> seeing(const Surroundings& around) const override;
  FieldSet remembers() const override;
  bool corrects() const override { return true; }
  void correct(Chunk& chunk, const Substep& substep, const Durations& durations, const Masses& masses,
               const Weights& weights) const override;

 private:
  struct Target {
    Vec3d at{0.0}, velocity{0.0};
  };
  struct Seen {
    std::unordered_map<ParticleId, std::uint32_t> points;  // of those that waited
    std::unordered_map<std::uint32_t, Target> targets;     // by their numbers, where points are particles
  };

  Arrive(std::shared_ptr<const ArrivalRules> rules, Seen seen)
      : rules_(std::move(rules)), seen_(std::move(seen)) {}

  // A moment of the step, and how points lie then.
  struct Moment {
    double since = 0;  // seconds since the step began
    std::optional<ShapePoints::Moment> shape;
  };
  Moment momentAt(double seconds) const;  // of the scene
  // What a particle has gone through in a substep, up to its end.
  struct Way {
    const Moment &begin, &end;
    double duration = 0;  // seconds
    double weight = 0;
    bool isFirst = false;  // of the step
  };

  bool isAsked(const Chunk& chunk, std::size_t i) const;
  // Nothing if there is no such point any more.
  std::optional<Vec3d> pointAt(std::uint32_t number, const Moment& moment) const;
  bool mayRelease(const Arrival& arrival, ParticleId id, const Vec3d& pointVelocity) const;
  // What becomes of a particle's arrival.
  void follow(Chunk& chunk, std::size_t i, const Way& way, Arrival& arrival) const;
  void wait(const Chunk& chunk, std::size_t i, const Way& way, Arrival& arrival) const;
  void lead(Chunk& chunk, std::size_t i, const Way& way, Arrival& arrival) const;
  void letGo(ParticleId id, double duration, ArrivalStage stage, Arrival& arrival) const;
  void turn(Chunk& chunk, std::size_t i, const Vec3d& normal, double before, double after) const;

  std::shared_ptr<const ArrivalRules> rules_;
  Seen seen_;
};

}  // namespace comet
