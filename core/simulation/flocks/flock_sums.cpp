#include "simulation/flocks/flock_sums.h"

#include <array>
#include <glm/common.hpp>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "simulation/flocks/flock_sums.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, as the library asks.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

// Each lane is one that looks; what it sees comes one after the other, so that its sums are made in the same
// order whichever number of lanes a vector has.
using Tag = hn::CappedTag<float, 16>;
using MarkTag = hn::RebindToUnsigned<Tag>;
using Float = hn::Vec<Tag>;
constexpr std::size_t kLanes = hn::MaxLanes(Tag());
using LaneValues = std::array<float, kLanes>;

HWY_INLINE Float set(float value) { return hn::Set(Tag(), value); }

template <typename Mask>
HWY_INLINE Float plusWhere(Float sum, Mask mask, Float more) {
  return hn::IfThenElse(mask, hn::Add(sum, more), sum);
}

struct Lanes {
  Float x, y, z;

  HWY_INLINE void add(const Lanes& other) {
    x = hn::Add(x, other.x);
    y = hn::Add(y, other.y);
    z = hn::Add(z, other.z);
  }
  template <typename Mask>
  HWY_INLINE void addWhere(Mask mask, const Lanes& other) {
    x = plusWhere(x, mask, other.x);
    y = plusWhere(y, mask, other.y);
    z = plusWhere(z, mask, other.z);
  }
  HWY_INLINE Lanes times(Float factor) const {
    return {hn::Mul(x, factor), hn::Mul(y, factor), hn::Mul(z, factor)};
  }
  HWY_INLINE Float dot(const Lanes& other) const {
    return hn::Add(hn::Add(hn::Mul(x, other.x), hn::Mul(y, other.y)), hn::Mul(z, other.z));
  }
};

HWY_INLINE Lanes triple(const std::array<UntouchedVector<float>, 3>& values, std::size_t i) {
  return {set(values[0][i]), set(values[1][i]), set(values[2][i])};
}

// 1 / √x by a guess from the number's bits and three Newton steps: the same on any vector unit, as their own
// estimates are not, and quicker than a root and a division. Method: Lomont, "Fast Inverse Square Root",
// 2003.
HWY_INLINE Float oneByRoot(Float x) {
  const MarkTag du;
  const auto bits = hn::BitCast(du, x);
  Float y = hn::BitCast(Tag(), hn::Sub(hn::Set(du, 0x5F3759DFU), hn::ShiftRight<1>(bits)));
  const Float half = hn::Mul(x, set(0.5F));
  for (int step = 0; step < 3; ++step) y = hn::Mul(y, hn::Sub(set(1.5F), hn::Mul(hn::Mul(half, y), y)));
  return y;
}

// Some that look together.
class Looking {
 public:
  HWY_INLINE Looking(const FlockSearch& search, const FlockLooker* lookers, std::size_t count)
      : othersMove_(search.since != 0),
        since_(set(search.since)),
        separation_(set(search.separationRadius * search.separationRadius)),
        oneBySeparation_(set(search.separationRadius > 0 ? 1 / search.separationRadius : 0)),
        alignment_(set(search.alignmentRadius * search.alignmentRadius)),
        cohesion_(set(search.cohesionRadius * search.cohesionRadius)) {
    alignas(64) std::array<LaneValues, 8> values;
    alignas(64) std::array<std::uint32_t, kLanes> marks;
    for (std::size_t i = 0; i < kLanes; ++i) {
      // Lanes that are left over see nobody.
      const FlockLooker& looker = lookers[i < count ? i : 0];
      for (int axis = 0; axis < 3; ++axis) {
        values[static_cast<std::size_t>(axis)][i] = looker.position[axis];
        values[3 + static_cast<std::size_t>(axis)][i] = looker.ahead[axis];
      }
      values[6][i] = looker.cosineOfSight;
      looksAhead_ = looksAhead_ || looker.cosineOfSight > -1;
      values[7][i] = i < count ? search.sight * search.sight : -1;
      marks[i] = looker.mark;
    }
    const auto load = [&values](std::size_t which) { return hn::Load(Tag(), values[which].data()); };
    position_ = {load(0), load(1), load(2)};
    ahead_ = {load(3), load(4), load(5)};
    cosine_ = load(6);
    sight_ = load(7);
    marks_ = hn::Load(MarkTag(), marks.data());
    const Float zero = hn::Zero(Tag());
    apart_ = velocity_ = middle_ = {zero, zero, zero};
    seen_ = aligned_ = gathered_ = zero;
  }

  // Whether any of them is near enough to see it.
  HWY_INLINE bool isInSight(const NeighbourGrid::Arrays& arrays, std::size_t i) const {
    const Lanes path = wayTo(arrays, i);
    return !hn::AllFalse(Tag(), hn::Le(path.dot(path), sight_));
  }

  HWY_INLINE void lookAt(const NeighbourGrid::Arrays& arrays, std::size_t i) {
    const Tag d;
    const Lanes path = wayTo(arrays, i);
    const Float squared = path.dot(path);
    auto isSeen = hn::Le(squared, sight_);
    isSeen = hn::And(isSeen, hn::RebindMask(d, hn::Ne(hn::Set(MarkTag(), arrays.marks[i]), marks_)));
    if (looksAhead_) {
      const Float distance = hn::Mul(squared, oneByRoot(atLeastTiny(squared)));
      isSeen = hn::And(isSeen, hn::Ge(path.dot(ahead_), hn::Mul(cosine_, distance)));
    }
    const Float one = set(1.0F);
    const auto isAligned = hn::And(isSeen, hn::Lt(squared, alignment_));
    const auto isGathered = hn::And(isSeen, hn::Lt(squared, cohesion_));
    seen_ = plusWhere(seen_, isSeen, one);
    aligned_ = plusWhere(aligned_, isAligned, one);
    gathered_ = plusWhere(gathered_, isGathered, one);
    velocity_.addWhere(isAligned, triple(arrays.velocity, i));
    middle_.addWhere(isGathered, path);
    const auto isTouching = hn::And(isSeen, hn::Lt(squared, separation_));
    if (hn::AllFalse(d, isTouching)) return;
    // (1 - distance / radius) / distance, away.
    const Float push = hn::Sub(oneBySeparation_, oneByRoot(atLeastTiny(squared)));
    apart_.addWhere(isTouching, path.times(push));
  }

  HWY_INLINE void store(FlockSums* sums, std::size_t count) const {
    alignas(64) std::array<LaneValues, 12> values;
    std::size_t which = 0;
    for (const Lanes* lanes : {&apart_, &velocity_, &middle_})
      for (const Float& axis : {lanes->x, lanes->y, lanes->z}) hn::Store(axis, Tag(), values[which++].data());
    for (const Float* sum : {&seen_, &aligned_, &gathered_}) hn::Store(*sum, Tag(), values[which++].data());
    for (std::size_t i = 0; i < count; ++i) {
      const auto triple = [&](std::size_t first) {
        return Vec3(values[first][i], values[first + 1][i], values[first + 2][i]);
      };
      sums[i] = {triple(0), triple(3), triple(6), values[9][i], values[10][i], values[11][i]};
    }
  }

 private:
  HWY_INLINE Lanes wayTo(const NeighbourGrid::Arrays& arrays, std::size_t i) const {
    Lanes place = triple(arrays.position, i);
    if (othersMove_) place.add(triple(arrays.velocity, i).times(since_));
    return {hn::Sub(place.x, position_.x), hn::Sub(place.y, position_.y), hn::Sub(place.z, position_.z)};
  }

  // Of two in the same place, neither is pushed.
  static HWY_INLINE Float atLeastTiny(Float squared) { return hn::Max(squared, set(1e-30F)); }

  bool othersMove_;
  bool looksAhead_ = false;  // any of them, rather than all round
  Float since_, separation_, oneBySeparation_, alignment_, cohesion_;
  Float cosine_, sight_;
  hn::Vec<MarkTag> marks_;
  Lanes position_, ahead_;
  Lanes apart_, velocity_, middle_;
  Float seen_, aligned_, gathered_;
};

// How many of those that look, from the first on, are best answered together, and the box around them: as
// long as looking through the larger box takes no longer than looking a second time.
std::size_t lookingTogether(const FlockLooker* lookers, std::size_t count, float sight, Vec3& min,
                            Vec3& max) {
  min = max = lookers[0].position;
  const float single = 8 * sight * sight * sight;
  float volume = single;
  std::size_t together = 1;
  for (; together < std::min(count, kLanes); ++together) {
    const Vec3 lower = glm::min(min, lookers[together].position);
    const Vec3 upper = glm::max(max, lookers[together].position);
    const Vec3 sides = upper - lower + 2 * sight;
    const float larger = sides.x * sides.y * sides.z;
    if (!(larger <= volume + single)) break;
    min = lower;
    max = upper;
    volume = larger;
  }
  return together;
}

// Looks at all that are near a box. First those are listed that are in sight, as about every other one is:
// where a branch went either way for each, the processor would guess wrong half of the time.
void lookAround(const NeighbourGrid& grid, const Vec3& min, const Vec3& max, Looking& looking) {
  const NeighbourGrid::Arrays& arrays = grid.arrays();
  std::array<std::uint32_t, 512> inSight;
  grid.forRows(Vec3d(min), Vec3d(max), [&](std::size_t from, std::size_t to) {
    while (from < to) {
      const std::size_t end = std::min(to, from + inSight.size());
      std::size_t count = 0;
      for (std::size_t i = from; i < end; ++i) {
        inSight[count] = static_cast<std::uint32_t>(i);
        count += looking.isInSight(arrays, i) ? 1 : 0;
      }
      for (std::size_t k = 0; k < count; ++k) looking.lookAt(arrays, inSight[k]);
      from = end;
    }
  });
}

void SumFlock(const NeighbourGrid& grid, const FlockSearch& search, const FlockLooker* lookers,
              std::size_t count, FlockSums* sums) {
  for (std::size_t first = 0; first < count;) {
    Vec3 min, max;
    const std::size_t together = lookingTogether(lookers + first, count - first, search.sight, min, max);
    Looking looking(search, lookers + first, together);
    lookAround(grid, min, max, looking);
    looking.store(sums + first, together);
    first += together;
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace comet {

HWY_EXPORT(SumFlock);

void flockSums(const NeighbourGrid& grid, const FlockSearch& search, const FlockLooker* lookers,
               std::size_t count, FlockSums* sums) {
  HWY_DYNAMIC_DISPATCH(SumFlock)(grid, search, lookers, count, sums);
}

}  // namespace comet
#endif
