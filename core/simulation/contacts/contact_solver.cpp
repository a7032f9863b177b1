#include "simulation/contacts/contact_solver.h"

#include "base/random.h"
#include "simulation/emission/launch.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// Bodies that one task takes.
constexpr std::size_t kPiece = 4096;

// How much of the sum of two radii an overlap that there was before a step may shrink by, 1/s: what is born
// in one place comes apart in a fraction of a second, and does not burst.
constexpr float kRecovery = 10;

// Particles that meet more slowly than by so many times what everything else makes them gain in a step do not
// bounce: they lie there.
constexpr float kResting = 2;

// How much of the mean radius particles may move before their pairs are listed again.
constexpr float kReserve = 0.3F;

// Particles touch that are no farther apart than this fraction of the distance at which they do.
constexpr float kTouching = 0.02F;

// At this fraction of that distance there is no direction from one to the other.
constexpr float kNowhere = 1e-6F;

// For two in the very same place.
Vec3 anyDirection(std::uint32_t i, std::uint32_t j) {
  const std::uint64_t bits = mixBits((std::uint64_t{i} << 32U) | j);
  constexpr double kUnit = 1.0 / 4294967296.0;
  return Vec3(directionInCone({0, 1, 0}, kPi, static_cast<double>(bits >> 32U) * kUnit,
                              static_cast<double>(bits & 0xFFFFFFFFU) * kUnit));
}

bool isNumber(const Vec3& v) {
  const float sum = v.x + v.y + v.z;
  return sum - sum == 0;
}

std::size_t piecesOf(std::size_t count) { return (count + kPiece - 1) / kPiece; }

template <typename Body>
void forPiece(std::size_t piece, std::size_t count, const Body& body) {
  for (std::size_t i = piece * kPiece; i < std::min(count, (piece + 1) * kPiece); ++i) body(i);
}

// Calls body(i) for every one, on all threads.
template <typename Body>
void forEach(std::size_t count, const Body& body) {
  parallelFor(piecesOf(count), [&](std::size_t piece) { forPiece(piece, count, body); });
}

}  // namespace

ContactBodies::ContactBodies(std::size_t count)
    : starts(count),
      places(count),
      velocities(count),
      rolls(count),
      gained(count),
      halfSizes(count),
      inverseMasses(count),
      emitters(count),
      moved(count),
      touched(count) {}

// Whether any body has moved so far, as all together see it, that it may have come near others.
bool ContactSolver::haveMoved(const ContactBodies& bodies) const {
  const std::size_t count = bodies.size();
  if (listedAt_.size() != count) return true;
  // What moves all of them alike brings none nearer to others.
  const Vec3d sum = parallelSum(piecesOf(count), [&](std::size_t piece) {
    Vec3d own(0.0);
    forPiece(piece, count, [&](std::size_t i) {
      const Vec3 moved = bodies.places[i] - listedAt_[i];
      if (isNumber(moved)) own += Vec3d(moved);
    });
    return own;
  });
  const Vec3 mean(sum / static_cast<double>(count));
  std::atomic<bool> haveMoved = false;
  forEach(count, [&](std::size_t i) {
    if (glm::length(bodies.places[i] - listedAt_[i] - mean) > reserve_) haveMoved = true;
  });
  return haveMoved;
}

void ContactSolver::list(const ContactBodies& bodies) {
  if (!haveMoved(bodies)) return;
  const std::size_t count = bodies.size();
  BlockVector<float> radii(count);
  double sum = 0;
  std::size_t taking = 0;
  for (std::size_t i = 0; i < count; ++i) {
    if (!isNumber(bodies.places[i])) continue;
    radii[i] = static_cast<float>(rule_.radius) * bodies.halfSizes[i];
    sum += static_cast<double>(radii[i]);
    taking += radii[i] > 0 ? 1 : 0;
  }
  reserve_ = taking > 0 ? kReserve * static_cast<float>(sum / static_cast<double>(taking)) : 0;
  pairs_.list(bodies.places, radii, reserve_);
  listedAt_ = bodies.places;
  touches_.resize(pairs_.slabs().size());
}

void ContactSolver::gather(const ContactBodies& bodies, std::span<const float> firmness, float length) {
  const std::size_t count = pairs_.size();
  Entries& own = entries_;
  for (auto* vectors : {&own.starts, &own.places, &own.velocities, &own.turns}) vectors->resize(count);
  for (auto* numbers : {&own.gained, &own.radii, &own.inverseMasses, &own.firmness}) numbers->resize(count);
  own.emitters.resize(count);
  own.touched.assign(count, 0);
  forEach(count, [&](std::size_t entry) {
    const std::uint32_t body = pairs_.order()[entry];
    own.starts[entry] = bodies.starts[body];
    own.places[entry] = bodies.places[body];
    own.velocities[entry] = bodies.velocities[body];
    own.turns[entry] = bodies.rolls[body] * length;
    own.gained[entry] = bodies.gained[body];
    own.radii[entry] = static_cast<float>(rule_.radius) * bodies.halfSizes[body];
    own.inverseMasses[entry] = bodies.inverseMasses[body];
    own.firmness[entry] = firmness[body];
    own.emitters[entry] = bodies.emitters[body];
  });
}

// How much less the lower one of two gives way than its mass lets it, if they rest on each other.
float ContactSolver::supported(const Vec3& normal, float against, std::uint32_t lower) const {
  if (!(std::abs(against) < kResting * entries_.gained[lower])) return 1;
  return 1 - static_cast<float>(rule_.support) * std::abs(normal.y);
}

std::optional<ContactSolver::Meeting> ContactSolver::meetingOf(std::uint32_t i, std::uint32_t j,
                                                               float slack) const {
  const Entries& own = entries_;
  const Vec3 apart = own.places[i] - own.places[j];
  const float reach = own.radii[i] + own.radii[j], least = reach * (1 + slack);
  const float squared = glm::dot(apart, apart);
  if (!(squared < least * least)) return std::nullopt;
  if (!rule_.isBetweenAll && own.emitters[i] != own.emitters[j]) return std::nullopt;
  if (!(std::min(own.firmness[i], own.firmness[j]) > 0)) return std::nullopt;
  return Meeting{reach, std::sqrt(squared)};
}

std::optional<ContactSolver::Touch> ContactSolver::touchOf(std::uint32_t i, std::uint32_t j,
                                                           float length) const {
  const Entries& own = entries_;
  const std::optional<Meeting> meeting = meetingOf(i, j, 0);
  float first = own.inverseMasses[i], second = own.inverseMasses[j];
  if (!meeting || !(first + second > 0)) return std::nullopt;
  const auto [reach, distance] = *meeting;
  const float depth = reach - distance, firmness = std::min(own.firmness[i], own.firmness[j]);
  const Vec3 normal =
      distance > kNowhere * reach ? (own.places[i] - own.places[j]) / distance : anyDirection(i, j);
  const float against = -glm::dot(own.velocities[i] - own.velocities[j], normal);
  if (rule_.support > 0) (normal.y > 0 ? second : first) *= supported(normal, against, normal.y > 0 ? j : i);
  const float before = std::clamp(reach - glm::length(own.starts[i] - own.starts[j]), 0.0F, depth);
  const float soft = 1 + static_cast<float>(rule_.softness) / (length * length);
  const float wanted = depth - before + std::min(before, kRecovery * reach * length);
  const bool lies = against <= kResting * std::max(own.gained[i], own.gained[j]);
  return Touch{i,
               j,
               normal,
               wanted * firmness / soft,
               lies ? 0 : static_cast<float>(rule_.bounce) * against,
               first / (first + second),
               second / (first + second)};
}

// Takes back by how much two that touch have slid along each other, as far as friction can. It moves and
// turns both: balls, whose moment of inertia is 2/5 of mass times radius squared, roll.
void ContactSolver::rub(const Touch& touch) {
  constexpr float kTurning = 2.5F;
  Entries& own = entries_;
  const auto [i, j] = std::pair(touch.first, touch.second);
  const Vec3 path = (own.places[i] - own.starts[i]) - (own.places[j] - own.starts[j]);
  const Vec3 rolled = glm::cross(own.turns[i] * own.radii[i] + own.turns[j] * own.radii[j], touch.normal);
  Vec3 along = (path - touch.normal * glm::dot(path, touch.normal) - rolled) / (1 + kTurning);
  const float slid = glm::length(along);
  if (!(slid > 0)) return;
  if (slid > static_cast<float>(rule_.staticFriction) * touch.depth)
    along *= std::min(1.0F, static_cast<float>(rule_.friction) * touch.depth / slid);
  own.places[i] -= along * touch.firstShare;
  own.places[j] += along * touch.secondShare;
  const Vec3 turn = glm::cross(touch.normal, along) * kTurning;
  own.turns[i] += turn * (touch.firstShare / own.radii[i]);
  own.turns[j] += turn * (touch.secondShare / own.radii[j]);
}

void ContactSolver::pushApart(std::size_t slab, float length) {
  BlockVector<Touch>& touches = touches_[slab];
  touches.clear();
  Entries& own = entries_;
  const ContactPairs::Slab& pairs = pairs_.slabs()[slab];
  for (std::uint32_t i = pairs.first; i < pairs.last; ++i)
    for (const std::uint32_t j : pairs.of(i)) {
      const std::optional<Touch> touch = touchOf(i, j, length);
      if (!touch) continue;
      const Vec3 push = touch->normal * touch->depth;
      own.places[i] += push * touch->firstShare;
      own.places[j] -= push * touch->secondShare;
      rub(*touch);
      own.touched[i] = own.touched[j] = 1;
      touches.push_back(*touch);
    }
}

// They part as fast as they should, and no faster: the way by which overlaps end must not throw them apart.
void ContactSolver::setParting(std::size_t slab, float length) {
  Entries& own = entries_;
  for (const Touch& touch : touches_[slab]) {
    Vec3 &first = own.velocities[touch.first], &second = own.velocities[touch.second];
    const float parting = glm::dot(first - second, touch.normal);
    const float change = std::max(touch.parting - parting, -touch.depth / length);
    first += touch.normal * (change * touch.firstShare);
    second -= touch.normal * (change * touch.secondShare);
  }
}

void ContactSolver::solve(ContactBodies& bodies, std::span<const float> firmness, double length) {
  list(bodies);
  const auto seconds = static_cast<float>(length);
  gather(bodies, firmness, seconds);
  pairs_.forSlabs([&](std::size_t slab) { pushApart(slab, seconds); });
  const auto forTouched = [&](const auto& body) {
    forEach(pairs_.size(), [&](std::size_t entry) {
      if (entries_.touched[entry] != 0) body(entry, pairs_.order()[entry]);
    });
  };
  forTouched([&](std::size_t entry, std::uint32_t body) {
    entries_.velocities[entry] += (entries_.places[entry] - bodies.places[body]) / seconds;
  });
  pairs_.forSlabs([&](std::size_t slab) { setParting(slab, seconds); });
  forTouched([&](std::size_t entry, std::uint32_t body) {
    bodies.moved[body] += entries_.places[entry] - bodies.places[body];
    bodies.places[body] = entries_.places[entry];
    bodies.velocities[body] = entries_.velocities[entry];
    bodies.rolls[body] = entries_.turns[entry] / seconds;
    bodies.touched[body] = 1;
  });
}

ContactSolver::Overlap ContactSolver::overlap(const ContactBodies& bodies, std::span<const float> firmness) {
  list(bodies);
  gather(bodies, firmness, 0);
  std::vector<Overlap> slabs(pairs_.slabs().size());
  pairs_.forSlabs([&](std::size_t slab) {
    const ContactPairs::Slab& pairs = pairs_.slabs()[slab];
    Overlap& sum = slabs[slab];
    for (std::uint32_t i = pairs.first; i < pairs.last; ++i) {
      sum.particles += entries_.firmness[i] > 0 ? 1 : 0;
      for (const std::uint32_t j : pairs.of(i)) {
        const std::optional<Meeting> meeting = meetingOf(i, j, kTouching);
        if (!meeting) continue;
        ++sum.pairs;
        const float depth = meeting->reach - meeting->distance;
        sum.deepest = std::max(sum.deepest,
                               static_cast<double>(depth / std::min(entries_.radii[i], entries_.radii[j])));
      }
    }
  });
  Overlap all;
  for (const Overlap& sum : slabs) {
    all.particles += sum.particles;
    all.pairs += sum.pairs;
    all.deepest = std::max(all.deepest, sum.deepest);
  }
  return all;
}

}  // namespace comet
