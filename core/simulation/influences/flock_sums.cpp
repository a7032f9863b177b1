#include "simulation/influences/flock_sums.h"

#include <array>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "simulation/influences/flock_sums.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, as the library asks.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

// Sums are made in eight rows, whichever number of them a vector holds, so that their order is the same
// everywhere.
constexpr std::size_t kRows = 8;
using Tag = hn::CappedTag<float, kRows>;
using MarkTag = hn::RebindToUnsigned<Tag>;
using Float = hn::Vec<Tag>;
constexpr std::size_t kLanes = hn::MaxLanes(Tag());
constexpr std::size_t kParts = kRows / kLanes;

struct Lanes {
  Float x, y, z;

  void add(const Lanes& other) {
    x = hn::Add(x, other.x);
    y = hn::Add(y, other.y);
    z = hn::Add(z, other.z);
  }
  Lanes times(Float factor) const { return {hn::Mul(x, factor), hn::Mul(y, factor), hn::Mul(z, factor)}; }
  Float dot(const Lanes& other) const {
    return hn::Add(hn::Add(hn::Mul(x, other.x), hn::Mul(y, other.y)), hn::Mul(z, other.z));
  }
};

HWY_INLINE Lanes all(const Vec3& v) {
  const Tag d;
  return {hn::Set(d, v.x), hn::Set(d, v.y), hn::Set(d, v.z)};
}

// What the lanes of one vector sum up.
struct Part {
  // Written out: what is left to the compiler is made without this target's instructions.
  HWY_INLINE Part()
      : apart(all(Vec3(0.0F))),
        velocity(apart),
        middle(apart),
        seen(hn::Zero(Tag())),
        aligned(seen),
        gathered(seen) {}

  Lanes apart, velocity, middle;
  Float seen, aligned, gathered;
};

class Summing {
 public:
  explicit Summing(const FlockQuery& query)
      : position_(all(query.position)),
        ahead_(all(query.ahead)),
        mark_(hn::Set(MarkTag(), query.mark)),
        since_(set(query.since)),
        sight_(set(query.sight * query.sight)),
        cosine_(set(query.cosineOfSight)),
        separation_(set(query.separationRadius)),
        oneBySeparation_(set(query.separationRadius > 0 ? 1 / query.separationRadius : 0)),
        alignment_(set(query.alignmentRadius)),
        cohesion_(set(query.cohesionRadius)) {}

  void addRange(const NeighbourGrid::Arrays& arrays, std::size_t first, std::size_t last) {
    for (std::size_t i = first; i < last; i += kRows)
      for (std::size_t part = 0; part < kParts && i + part * kLanes < last; ++part)
        addVector(arrays, i + part * kLanes, last, parts_[part]);
  }

  FlockSums sums() const {
    return {triple(&Part::apart),
            triple(&Part::velocity),
            triple(&Part::middle),
            sum([](const Part& part) { return part.seen; }),
            sum([](const Part& part) { return part.aligned; }),
            sum([](const Part& part) { return part.gathered; })};
  }

 private:
  static Float set(float value) { return hn::Set(Tag(), value); }

  template <typename Of>
  float sum(const Of& of) const {
    alignas(32) std::array<float, kRows> values;
    for (std::size_t part = 0; part < kParts; ++part)
      hn::StoreU(of(parts_[part]), Tag(), values.data() + part * kLanes);
    return ((values[0] + values[1]) + (values[2] + values[3])) +
           ((values[4] + values[5]) + (values[6] + values[7]));
  }
  Vec3 triple(Lanes Part::*member) const {
    return {sum([member](const Part& part) { return (part.*member).x; }),
            sum([member](const Part& part) { return (part.*member).y; }),
            sum([member](const Part& part) { return (part.*member).z; })};
  }

  HWY_INLINE void addVector(const NeighbourGrid::Arrays& arrays, std::size_t i, std::size_t last,
                            Part& part) {
    const Tag d;
    const MarkTag du;
    const auto load = [&](const std::vector<float>& values) { return hn::LoadU(d, values.data() + i); };
    const Lanes velocity{load(arrays.velocity[0]), load(arrays.velocity[1]), load(arrays.velocity[2])};
    Lanes way{load(arrays.position[0]), load(arrays.position[1]), load(arrays.position[2])};
    way.add(velocity.times(since_));
    way = {hn::Sub(way.x, position_.x), hn::Sub(way.y, position_.y), hn::Sub(way.z, position_.z)};
    const Float squared = way.dot(way);
    const auto isOther = hn::RebindMask(d, hn::Ne(hn::LoadU(du, arrays.marks.data() + i), mark_));
    const auto isInRange = hn::FirstN(d, last - i);
    auto isSeen = hn::And(hn::And(hn::Le(squared, sight_), isOther), isInRange);
    if (hn::AllFalse(d, isSeen)) return;
    const Float distance = hn::Sqrt(squared);
    isSeen = hn::And(isSeen, hn::Ge(way.dot(ahead_), hn::Mul(cosine_, distance)));
    addSeen(way, velocity, distance, isSeen, part);
  }

  template <typename Mask>
  HWY_INLINE void addSeen(const Lanes& way, const Lanes& velocity, Float distance, Mask isSeen, Part& part) {
    const Tag d;
    const Float one = hn::Set(d, 1.0F);
    const auto count = [&](Float& sum, Mask mask) {
      const Float ones = hn::IfThenElseZero(mask, one);
      sum = hn::Add(sum, ones);
      return ones;
    };
    (void)count(part.seen, isSeen);
    const auto isTouching =
        hn::And(isSeen, hn::And(hn::Lt(distance, separation_), hn::Gt(distance, hn::Zero(d))));
    // (1 - distance / radius) / distance, away.
    const Float push = hn::Sub(oneBySeparation_, hn::Div(one, hn::Max(distance, hn::Set(d, 1e-30F))));
    part.apart.add(way.times(hn::IfThenElseZero(isTouching, push)));
    part.velocity.add(velocity.times(count(part.aligned, hn::And(isSeen, hn::Lt(distance, alignment_)))));
    part.middle.add(way.times(count(part.gathered, hn::And(isSeen, hn::Lt(distance, cohesion_)))));
  }

  const Lanes position_, ahead_;
  const hn::Vec<MarkTag> mark_;
  const Float since_, sight_, cosine_, separation_, oneBySeparation_, alignment_, cohesion_;
  Part parts_[kParts];
};

FlockSums SumFlock(const NeighbourGrid& grid, const FlockQuery& query) {
  Summing summing(query);
  grid.forRows(Vec3d(query.position),
               [&](std::size_t first, std::size_t last) { summing.addRange(grid.arrays(), first, last); });
  return summing.sums();
}

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace comet {

HWY_EXPORT(SumFlock);

FlockSums flockSums(const NeighbourGrid& grid, const FlockQuery& query) {
  return HWY_DYNAMIC_DISPATCH(SumFlock)(grid, query);
}

}  // namespace comet
#endif
