// What influences contribute to the motion at samples in a substep.
//
// The motion of a particle of mass m follows
//
//   dv/dt = acceleration + (force + spring + k (air - v)) / m + turn × v,   k = drag + dragBySpeed |air - v|
//
// All contributions add up, so the order of influences does not matter.
#pragma once

#include "simulation/motion/samples.h"

namespace comet {

// One number per sample; untouched, and worth nothing, until an influence uses it.
class OwnNumber {
 public:
  bool isUsed() const { return isUsed_; }
  float* use() {
    if (!isUsed_) numbers_.fill(0.0F);
    isUsed_ = true;
    return numbers_.data();
  }
  void clear() { isUsed_ = false; }
  const float* data() const { return numbers_.data(); }
  double of(std::size_t i) const { return isUsed_ ? static_cast<double>(numbers_[i]) : 0.0; }

 private:
  bool isUsed_ = false;
  alignas(64) ChunkArray numbers_;
};

struct OwnVector {
  std::array<OwnNumber, 3> axes;

  bool isUsed() const { return axes[0].isUsed() || axes[1].isUsed() || axes[2].isUsed(); }
  void clear() {
    for (OwnNumber& axis : axes) axis.clear();
  }
  Vec3d of(std::size_t i) const { return {axes[0].of(i), axes[1].of(i), axes[2].of(i)}; }
};

// The same for all samples, and what is added to each of its own.
struct Contribution {
  Vec3d all{0.0};
  OwnVector own;

  void clear() {
    all = Vec3d(0.0);
    own.clear();
  }
  void add(const Vec3d& amount, const Weights& weights, std::size_t count);
  // To each sample what `amountOf(i)` gives, by its weight.
  template <typename Amount>
  void addEach(const Weights& weights, std::size_t count, const Amount& amountOf) {
    float* sums[3] = {own.axes[0].use(), own.axes[1].use(), own.axes[2].use()};
    for (std::size_t i = 0; i < count; ++i) {
      const Vec3d amount = amountOf(i) * weights.of(i);
      for (int axis = 0; axis < 3; ++axis) sums[axis][i] += static_cast<float>(amount[axis]);
    }
  }
  Vec3d of(std::size_t i) const { return all + own.of(i); }
};

// The same of a plain number.
struct NumberContribution {
  double all = 0;
  OwnNumber own;

  void clear() {
    all = 0;
    own.clear();
  }
  void add(double amount, const Weights& weights, std::size_t count);
  double of(std::size_t i) const { return all + own.of(i); }
  bool isUsed() const { return all != 0 || own.isUsed(); }
};

struct Forces {
  Contribution acceleration;       // units/s²
  Contribution force;              // units/s² at a mass of 1
  Contribution spring;             // a force that grows with the distance from where it leads, in all by
  NumberContribution stiffness;    // so much a unit, 1/s² at a mass of 1
  Contribution air;                // velocity, units/s
  Contribution drag;               // along each axis, 1/s
  NumberContribution dragBySpeed;  // 1/units
  Contribution turn;               // rad/s about each axis
  // Whether air that moves holds on to particles by drag; else they know themselves how it does.
  bool airHolds = true;

  // Starts a substep: nothing acts yet.
  void clear();

  // Air that moves at `velocity` and that particles hold on to: `airDrag`, 1/s, is drag, if `airHolds`.
  void addWind(const Vec3d& velocity, double airDrag, const Weights& weights, std::size_t count);

  // For particles that keep their depth: nothing pushes along z or turns out of the plane of x and y.
  void flatten();

  // Whether anything but `force` differs between particles, or is not the same along all axes.
  bool areSimple() const;

  // What acts on a particle at this velocity.
  Vec3d accelerationOn(std::size_t i, const Vec3d& velocity, double mass) const;
};

}  // namespace comet
