#include "simulation/contacts/contact_solver.h"

#include "base/random.h"
#include "particles/rolling.h"
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
  balls_.resize(pairs_.size());
  bodies_.resize(pairs_.size());
  forEach(pairs_.size(), [&](std::size_t entry) {
    const std::uint32_t body = pairs_.order()[entry];
    balls_[entry] = {bodies.places[body], static_cast<float>(rule_.radius) * bodies.halfSizes[body]};
    bodies_[entry] = {bodies.starts[body],         bodies.inverseMasses[body],
                      bodies.velocities[body],     bodies.gained[body],
                      bodies.rolls[body] * length, firmness[body],
                      bodies.emitters[body],       false};
  });
}

// How much less the lower one of two gives way than its mass lets it, if they rest on each other.
float ContactSolver::supported(const Vec3& normal, float against, const Body& lower) const {
  if (!(std::abs(against) < kResting * lower.gained)) return 1;
  return 1 - static_cast<float>(rule_.support) * std::abs(normal.y);
}

std::optional<ContactSolver::Meeting> ContactSolver::meetingOf(std::uint32_t i, std::uint32_t j,
                                                               float slack) const {
  const Ball &first = balls_[i], &second = balls_[j];
  const Vec3 apart = first.place - second.place;
  const float reach = first.radius + second.radius, least = reach * (1 + slack);
  const float squared = glm::dot(apart, apart);
  if (!(squared < least * least)) return std::nullopt;
  if (!rule_.isBetweenAll && bodies_[i].emitter != bodies_[j].emitter) return std::nullopt;
  if (!(std::min(bodies_[i].firmness, bodies_[j].firmness) > 0)) return std::nullopt;
  return Meeting{reach, std::sqrt(squared)};
}

std::optional<ContactSolver::Touch> ContactSolver::touchOf(std::uint32_t i, std::uint32_t j,
                                                           float length) const {
  const std::optional<Meeting> meeting = meetingOf(i, j, 0);
  if (!meeting) return std::nullopt;
  const Body &one = bodies_[i], &other = bodies_[j];
  float first = one.inverseMass, second = other.inverseMass;
  if (!(first + second > 0)) return std::nullopt;
  const auto [reach, distance] = *meeting;
  const float depth = reach - distance, firmness = std::min(one.firmness, other.firmness);
  const Vec3 normal =
      distance > kNowhere * reach ? (balls_[i].place - balls_[j].place) / distance : anyDirection(i, j);
  const float against = -glm::dot(one.velocity - other.velocity, normal);
  if (rule_.support > 0)
    (normal.y > 0 ? second : first) *= supported(normal, against, normal.y > 0 ? other : one);
  const float before = std::clamp(reach - glm::length(one.start - other.start), 0.0F, depth);
  const float soft = 1 + static_cast<float>(rule_.softness) / (length * length);
  const float wanted = depth - before + std::min(before, kRecovery * reach * length);
  const bool lies = against <= kResting * std::max(one.gained, other.gained);
  return Touch{i,
               j,
               normal,
               wanted * firmness / soft,
               lies ? 0 : static_cast<float>(rule_.bounce) * against,
               first / (first + second),
               second / (first + second)};
}

// Takes back by how much two that touch have slid along each other, as far as friction can. It moves and
// turns both, so that they roll.
void ContactSolver::rub(const Touch& touch) {
  constexpr auto kTurning = static_cast<float>(kBallTurning);
  Ball &first = balls_[touch.first], &second = balls_[touch.second];
  Body &one = bodies_[touch.first], &other = bodies_[touch.second];
  const Vec3 path = (first.place - one.start) - (second.place - other.start);
  const Vec3 rolled = glm::cross(one.turn * first.radius + other.turn * second.radius, touch.normal);
  Vec3 along = (path - touch.normal * glm::dot(path, touch.normal) - rolled) / (1 + kTurning);
  const float slid = glm::length(along);
  if (!(slid > 0)) return;
  if (slid > static_cast<float>(rule_.staticFriction) * touch.depth)
    along *= std::min(1.0F, static_cast<float>(rule_.friction) * touch.depth / slid);
  first.place -= along * touch.firstShare;
  second.place += along * touch.secondShare;
  const Vec3 turn = glm::cross(touch.normal, along) * kTurning;
  one.turn += turn * (touch.firstShare / first.radius);
  other.turn += turn * (touch.secondShare / second.radius);
}

void ContactSolver::pushApart(std::size_t slab, float length) {
  BlockVector<Touch>& touches = touches_[slab];
  touches.clear();
  const ContactPairs::Slab& pairs = pairs_.slabs()[slab];
  for (std::uint32_t i = pairs.first; i < pairs.last; ++i)
    for (const std::uint32_t j : pairs.of(i)) {
      const std::optional<Touch> touch = touchOf(i, j, length);
      if (!touch) continue;
      const Vec3 push = touch->normal * touch->depth;
      balls_[i].place += push * touch->firstShare;
      balls_[j].place -= push * touch->secondShare;
      rub(*touch);
      bodies_[i].isTouched = bodies_[j].isTouched = true;
      touches.push_back(*touch);
    }
}

// They part as fast as they should, and no faster: the way by which overlaps end must not throw them apart.
void ContactSolver::setParting(std::size_t slab, float length) {
  for (const Touch& touch : touches_[slab]) {
    Vec3 &first = bodies_[touch.first].velocity, &second = bodies_[touch.second].velocity;
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
  const auto forTouched = [&](const auto& act) {
    forEach(pairs_.size(), [&](std::size_t entry) {
      if (bodies_[entry].isTouched) act(balls_[entry], bodies_[entry], pairs_.order()[entry]);
    });
  };
  forTouched([&](const Ball& ball, Body& own, std::uint32_t body) {
    own.velocity += (ball.place - bodies.places[body]) / seconds;
  });
  pairs_.forSlabs([&](std::size_t slab) { setParting(slab, seconds); });
  forTouched([&](const Ball& ball, const Body& own, std::uint32_t body) {
    bodies.moved[body] += ball.place - bodies.places[body];
    bodies.places[body] = ball.place;
    bodies.velocities[body] = own.velocity;
    bodies.rolls[body] = own.turn / seconds;
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
      sum.particles += bodies_[i].firmness > 0 ? 1 : 0;
      for (const std::uint32_t j : pairs.of(i)) {
        const std::optional<Meeting> meeting = meetingOf(i, j, static_cast<float>(kTouching));
        if (!meeting) continue;
        ++sum.pairs;
        const float depth = meeting->reach - meeting->distance;
        sum.deepest =
            std::max(sum.deepest, static_cast<double>(depth / std::min(balls_[i].radius, balls_[j].radius)));
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
