// A fixed number of points on an emitter's shape at which its particles are born in turn.
#pragma once

#include "base/digest.h"
#include "base/random.h"
#include "base/vec.h"
#include "scene/item.h"

#include <cstdint>

namespace comet {

class BirthPoints {
 public:
  // None: particles are born all over the shape.
  BirthPoints() = default;
  explicit BirthPoints(const Item& emitter);
  // So many, far apart from each other or at random.
  BirthPoints(std::uint64_t count, bool isEven) : count_(count), isEven_(isEven) {}

  std::uint64_t count() const { return count_; }
  // Which point, from 0, the birth of this number has; in every round of a loop the same one. Without points
  // all have the same.
  std::uint64_t pointOf(std::uint64_t birth) const { return count_ > 0 ? withoutCycle(birth) % count_ : 0; }

  // Three numbers in [0, 1) that say where on the shape a birth is, as pointOn() takes them, and further ones
  // for a counter.
  Vec3d numbers(const RandomSource& random, std::uint64_t birth) const;
  Vec3d moreNumbers(const RandomSource& random, std::uint64_t birth, std::uint32_t counter) const;

  void describe(Hasher& hasher) const { hasher << count_ << isEven_; }

 private:
  // Where the random numbers of a birth's point come from, and as whose.
  struct Draws {
    RandomSource source;
    std::uint64_t identity;
  };
  Draws drawsOf(const RandomSource& random, std::uint64_t birth) const;

  std::uint64_t count_ = 0;  // 0 for all over the shape
  bool isEven_ = false;
};

}  // namespace comet
