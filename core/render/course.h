// A parameter's value for a particle: its constant, its own variation, and its course over age, speed or
// chance.
#pragma once

#include "base/random.h"
#include "base/unit_table.h"
#include "particles/lineage.h"
#include "scene/item.h"

#include <algorithm>
#include <array>

namespace comet {

// What values of a particle depend on.
struct ParticleFacts {
  ParticleId id = 0;
  double fraction = 0;           // of its life that is over, 0 to 1
  double speed = 0;              // units per second
  double age = 0, lifetime = 1;  // seconds
  Vec3d position{0.0};
  Lineage lineage{};   // of a child; see lineage.h
  double arrival = 0;  // of its way to a point of its own, how much is behind it, 0 to 1
  std::uint32_t arrivalBy = 0, arrivalPoint = 0;  // the influence that gave it the point, and which one

  // As formulas know it.
  ParticleMoment moment() const {
    return {age,        lifetime,   fraction,  speed, static_cast<double>(birthOfId(withoutCycle(id))),
            position.x, position.y, position.z};
  }
};

// Where on its axis a particle reads a curve or gradient.
class CourseInput {
 public:
  CourseInput(const ParamValue& value, Draw draw)
      : input_(value.input), fastest_(value.fastest), draw_(draw) {}

  double of(const ParticleFacts& state, const RandomSource& random) const {
    switch (input_) {
      case CurveInput::Age:
        return state.fraction;
      case CurveInput::Speed:
        return std::min(1.0, state.speed / fastest_);
      case CurveInput::Random:
        return random.unit(state.id, draw_);
      case CurveInput::Arrival:
        return state.arrival;
    }
    return 0;
  }
  bool isAge() const { return input_ == CurveInput::Age; }

 private:
  CurveInput input_;
  double fastest_;
  Draw draw_;
};

class Course {
 public:
  // `unit` multiplies the parameter, for percent and degrees.
  Course(const Item& item, const char* param, double frame, Draw variation, Draw follows, double unit = 1);

  // The value times its course, or what a formula makes of it.
  double of(const ParticleFacts& state, const RandomSource& random) const {
    return computed(state, own(state.id, random) * course(state, random));
  }
  double computed(const ParticleFacts& state, double value) const {
    return formula_ ? formula_->of(state.moment(), value / unit_) * unit_ : value;
  }
  // The value without its course.
  double own(ParticleId id, const RandomSource& random) const {
    return variation_ > 0 ? value_ + variation_ * random.signedUnit(id, draw_) : value_;
  }
  double course(const ParticleFacts& state, const RandomSource& random) const {
    return isFlat_ ? flat_ : table_.at(input_.of(state, random));
  }
  // The mean of the course from birth to a fraction of life; only where it is read by age.
  double meanUntil(double fraction) const;
  bool isByAge() const { return input_.isAge(); }
  // Whether it is the same for all particles at all times.
  bool isConstant() const { return isFlat_ && variation_ == 0 && !formula_; }
  double constant() const { return value_ * flat_; }

 private:
  double unit_;
  double value_, variation_;
  std::shared_ptr<const ParticleFormula> formula_;
  Draw draw_;
  CourseInput input_;
  bool isFlat_;
  double flat_ = 1;
  UnitTable<float> table_;
  UnitTable<float> areaBelow_;  // of the table, from 0
};

}  // namespace comet
