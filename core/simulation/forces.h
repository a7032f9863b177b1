// What influences contribute to the motion of a chunk's particles in a substep.
//
// The motion of a particle of mass m follows
//
//   dv/dt = acceleration + (force + k (air - v)) / m + turn × v,   k = drag + dragBySpeed |air - v|
//
// All contributions add up, so the order of influences does not matter.
#pragma once

#include "simulation/chunk.h"

namespace comet {

// One number per particle; untouched, and worth nothing, until an influence uses it.
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

// The same for all particles, and what is added to each of its own.
struct Contribution {
  Vec3d all{0.0};
  OwnVector own;

  void clear() {
    all = Vec3d(0.0);
    own.clear();
  }
  void add(const Vec3d& amount, const Weights& weights, std::size_t count);
  // To each particle what `amountOf(i)` gives, by its weight.
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

struct Forces {
  Contribution acceleration;  // units/s²
  Contribution force;         // units/s² at a mass of 1
  Contribution air;           // velocity, units/s
  Contribution drag;          // along each axis, 1/s
  double dragBySpeed = 0;     // 1/units
  OwnNumber ownDragBySpeed;
  Contribution turn;  // rad/s about each axis

  // Starts a substep: nothing acts yet.
  void clear();

  // Air that moves at `velocity` and that particles hold on to: `grip`, 1/s, is drag.
  void addWind(const Vec3d& velocity, double grip, const Weights& weights, std::size_t count);
  void addDragBySpeed(double amount, const Weights& weights, std::size_t count);
  double dragBySpeedOf(std::size_t i) const { return dragBySpeed + ownDragBySpeed.of(i); }

  // For particles that keep their depth: nothing pushes along z or turns out of the plane of x and y.
  void flatten();

  // Whether anything but `force` differs between particles, or is not the same along all axes.
  bool areSimple() const;

  // What acts on a particle at this velocity.
  Vec3d accelerationOn(std::size_t i, const Vec3d& velocity, double mass) const;
};

}  // namespace comet
