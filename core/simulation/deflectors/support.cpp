#include "simulation/deflectors/support.h"

#include <algorithm>
#include <cassert>
#include <glm/geometric.hpp>
#include <glm/matrix.hpp>
#include <limits>

namespace comet {
namespace {

using Supports = std::array<Support, kMaxSupports>;

// Some of the supports, which bear together: how much each has to push so that nothing goes into any of them.
class Bearing {
 public:
  // Those whose bits are set.
  Bearing(const Supports& supports, unsigned chosen) {
    for (std::size_t i = 0; i < kMaxSupports; ++i)
      if ((chosen >> i & 1U) != 0) bearing_[count_++] = supports[i];
    Mat3d gram(1.0);
    for (std::size_t i = 0; i < count_; ++i)
      for (std::size_t k = 0; k < count_; ++k)
        gram[axis(i)][axis(k)] = glm::dot(bearing_[i].normal, bearing_[k].normal);
    constexpr double kAlike = 1e-9;
    differ_ = glm::determinant(gram) > kAlike;
    if (differ_) inverse_ = glm::inverse(gram);
  }

  // Whether they face different ways, so that it is known what each has to bear.
  bool differ() const { return differ_; }
  Vec3d pushes(const Vec3d& against) const {
    Vec3d inward(0.0);
    for (std::size_t i = 0; i < count_; ++i) inward[axis(i)] = -glm::dot(against, bearing_[i].normal);
    return inverse_ * inward;
  }
  // What is left of what presses.
  Vec3d left(const Vec3d& against) const {
    const Vec3d push = pushes(against);
    Vec3d out = against;
    for (std::size_t i = 0; i < count_; ++i) out += bearing_[i].normal * push[axis(i)];
    return out;
  }
  // How far it is from what supports do: a push that is a pull, or what is left going into one of them all.
  double fault(const Supports& all, std::size_t count, const Vec3d& against) const {
    const Vec3d push = pushes(against), out = left(against);
    double fault = 0;
    for (std::size_t i = 0; i < count_; ++i) fault = std::max(fault, -push[axis(i)]);
    for (std::size_t i = 0; i < count; ++i) fault = std::max(fault, -glm::dot(out, all[i].normal));
    return fault;
  }
  // What friction may take, and how hard all push.
  struct Hold {
    double friction = 0, load = 0;
  };
  Hold hold(const Vec3d& against) const {
    const Vec3d push = pushes(against);
    Hold hold;
    for (std::size_t i = 0; i < count_; ++i) {
      const double load = std::max(0.0, push[axis(i)]);
      hold.friction += bearing_[i].friction * load;
      hold.load += load;
    }
    return hold;
  }

 private:
  static int axis(std::size_t index) { return static_cast<int>(index); }

  Supports bearing_{};
  std::size_t count_ = 0;
  Mat3d inverse_{1.0};
  bool differ_ = true;
};

// Of three there are so few sets that each can be tried.
Bearing bearingOf(const Supports& supports, std::size_t count, const Vec3d& pull) {
  Bearing best(supports, 1);
  double min = std::numeric_limits<double>::infinity();
  for (unsigned chosen = 1; chosen < 1U << count; ++chosen) {
    const Bearing bearing(supports, chosen);
    if (!bearing.differ()) continue;
    const double fault = bearing.fault(supports, count, pull);
    if (fault < min) {
      min = fault;
      best = bearing;
    }
  }
  return best;
}

}  // namespace

SupportedMotion supportedMotion(const Supports& supports, std::size_t count, const Motion& free) {
  assert(count >= 1 && count <= kMaxSupports);
  const Bearing bearing = count == 1 ? Bearing(supports, 1) : bearingOf(supports, count, free.acceleration);
  const Bearing::Hold hold = bearing.hold(free.acceleration);
  return {{bearing.left(free.velocity), bearing.left(free.acceleration)}, hold.friction, hold.load};
}

}  // namespace comet
