#include "simulation/deflectors/deflect.h"

#include "particles/rolling.h"
#include "simulation/deflectors/near_deflector.h"
#include "simulation/deflectors/next_hit.h"
#include "simulation/emission/launch.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <glm/geometric.hpp>
#include <limits>

namespace comet {
namespace {

constexpr int kMaxHits = 24;  // of a particle in a substep; after that it is held
// A bounce that is over within this fraction of the substep is none: the particle rests.
constexpr double kRestingShare = 1.0 / 24;
constexpr double kStill = 1e-9;  // units/s²: what rounding leaves in a corner that holds a particle

using OnHit = SurfaceRule::OnHit;

class Trajectory {
 public:
  // `isNew`: the particle is born where it begins.
  Trajectory(const std::vector<Met>& met, const Traveller& traveller, bool isNew)
      : met_(met), traveller_(traveller), length_(traveller.left), isNew_(isNew) {}

  // Whether it met anything; false leaves the particle as it was.
  bool run() {
    pushOut();
    for (int hits = 0; traveller_.left > 0 && !ended_ && hits < 2 * kMaxHits; ++hits) {
      // Most come flying, and need not be asked what they touch.
      const bool mayRest = touches_ || hits > 0;
      const Contacts along = mayRest ? restsOn(hits >= kMaxHits) : Contacts{};
      contact_ = {};
      if (!along.isEmpty()) {
        meet(*along.first().met);
        followSurface(along);
        continue;
      }
      const Hit hit = nextHit(met_, traveller_, traveller_.left, {});
      // So soon that it may have lain there.
      if (!mayRest && hit.met && hit.after <= kRestingShare * length_) {
        touches_ = true;
        continue;
      }
      if (!hit.met) {
        if (!hasMet_) return false;
        traveller_.goOn(traveller_.left);
        break;
      }
      meet(*hit.met);
      traveller_.goOn(hit.after);
      answer(hit);
    }
    // Between surfaces that throw it to and fro it is left where they put it.
    if (!ended_ && traveller_.left > 0 && last_) rideAlong(*last_, traveller_.left);
    keepOut();
    return hasMet_;
  }

  const Traveller& traveller() const { return traveller_; }
  bool ended() const { return ended_; }

 private:
  void meet(const Met& met) {
    hasMet_ = true;
    last_ = &met;
  }

  // Out of what it is in at the beginning, the shortest way.
  void pushOut() {
    for (const Met& met : met_) {
      // To be in the midst of it, the particle has to be born there, or the deflector to come over it.
      const bool mayBeIn = isNew_ || met.deflector().motion().moves() ||
                           met.deflector().shape().type() != DeflectorShape::Type::Mesh;
      const double deep = mayBeIn ? depthIn(met) : 0;
      if (deep == 0 && isFelt(met)) continue;
      const SurfaceDistance gap =
          met.gapAt(traveller_.at, traveller_.time, std::max(deep, 2 * met.touching()));
      touches_ = touches_ || gap.distance <= 2 * met.touching();
      // As far as the clearance it may come in by rounding, or because its size grows.
      if (gap.distance >= -met.touching()) continue;
      putOut(met, gap);
      hasMet_ = true;
      if (gap.distance < -met.clearance - met.deflector().skin()) ++met.acting().count->caught;
    }
  }

  // Whether a particle that lies on it meets it again at once, so that a search for what it touches can wait
  // until then.
  static bool isFelt(const Met& met) {
    const OnHit onHit = met.deflector().rule().onHit;
    const bool isLeft = onHit == OnHit::Bounce || onHit == OnHit::End;
    return isLeft && met.deflector().shape().isMetByRays() && met.clearance <= met.deflector().skin();
  }

  // How deep in a deflector the particle is looked for: in the midst of a mesh only if it lies in it, which
  // takes longer to tell.
  double depthIn(const Met& met) const {
    const DeflectorShape& shape = met.deflector().shape();
    const bool isDeep = shape.type() != DeflectorShape::Type::Mesh ||
                        shape.isInside(met.poseAt(traveller_.time).toOwn(traveller_.at));
    return isDeep ? std::numeric_limits<double>::infinity() : 0;
  }

  // At the end nothing may be left behind a surface.
  void keepOut() {
    constexpr int kRounds = 4;  // for corners between several
    for (int round = 0; round < kRounds; ++round) {
      bool isFree = true;
      for (const Met& met : met_) {
        const SurfaceDistance gap = met.gapAt(traveller_.at, traveller_.time, depthIn(met));
        if (gap.distance >= 0) continue;
        isFree = false;
        putOut(met, gap);
      }
      if (isFree) return;
    }
  }

  // Onto the surface, and no farther in.
  void putOut(const Met& met, const SurfaceDistance& gap) {
    traveller_.at -= gap.normal * gap.distance;
    const Vec3d surface = met.velocityAt(traveller_.at, traveller_.time);
    const double inward = glm::dot(traveller_.velocity - surface, gap.normal);
    if (inward < 0) traveller_.velocity -= gap.normal * inward;
  }

  // The surfaces on which the particle lies or along which it slides: it touches them, does not fly off, and
  // is not pulled off.
  Contacts restsOn(bool whateverItsSpeed) const {
    Contacts along;
    for (const Met& met : met_) {
      const bool holds = sticksTo(met);
      if (!along.isEmpty() && !holds && !standTogether(*along.first().met, met)) continue;
      const Motion relative = met.relativeOf(traveller_);
      const auto consider = [&](int part, const Vec3d& normal) {
        if (!rests(met, relative, normal, whateverItsSpeed)) return;
        // What holds it needs no support.
        if (holds) along = {};
        along.add({&met, part, normal});
      };
      if (contact_.met == &met && !met.deflector().shape().hasParts())
        consider(0, contact_.normal);
      else
        met.forEachTouched(traveller_.at, traveller_.time, consider);
      if (holds && !along.isEmpty() && along.first().met == &met) return along;
    }
    return along;
  }

  static bool standTogether(const Met& a, const Met& b) {
    return &a == &b || (!a.deflector().motion().moves() && !b.deflector().motion().moves());
  }

  bool sticksTo(const Met& met) const {
    return met.deflector().rule().onHit == OnHit::Stick && !traveller_.isLetGo();
  }

  bool rests(const Met& met, const Motion& relative, const Vec3d& normal, bool whateverItsSpeed) const {
    const double away = glm::dot(relative.velocity, normal);
    const double pull = glm::dot(relative.acceleration, normal);
    const SurfaceRule& rule = met.deflector().rule();
    if (sticksTo(met) && pull <= rule.hold) return true;
    if (rule.onHit == OnHit::Slide && away <= restingSpeed(pull)) return true;
    if (whateverItsSpeed && away <= 0) return true;
    return pull <= noise() && std::abs(away) <= restingSpeed(pull);
  }

  // What an acceleration may be that comes from nothing but the rounding of places to single floats.
  double noise() const {
    constexpr double kFloat = 2e-7;
    return 4 * kFloat * (1 + glm::length(traveller_.at)) / (length_ * length_);
  }

  // A particle that leaves a surface so slowly is back within no time.
  double restingSpeed(double pull) const {
    return 0.5 * std::max(std::abs(pull), noise()) * kRestingShare * length_;
  }

  // The impulse of a hit.
  void answer(const Hit& hit) {
    const Met& met = *hit.met;
    const SurfaceRule& rule = met.deflector().rule();
    const Vec3d normal = hit.normal ? *hit.normal : met.gapOn(traveller_.at, traveller_.time).normal;
    contact_ = {&met, 0, normal};
    const Motion relative = met.relativeOf(traveller_);
    const Vec3d surface = traveller_.velocity - relative.velocity;
    const double against = std::max(0.0, -glm::dot(relative.velocity, normal));
    // What others press against it does not hit it either.
    const bool rests = against <= restingSpeed(glm::dot(relative.acceleration, normal)) + traveller_.pushed;
    // What lies there does not hit it again and again.
    if (!rests || rule.onHit == OnHit::End || rule.onHit == OnHit::Stick) note(met.acting(), normal, against);
    if (rule.onHit == OnHit::End) {
      ended_ = true;
      return;
    }
    if (rule.onHit == OnHit::Stick) {
      traveller_.velocity = surface;
      traveller_.held = 0;
      traveller_.ball.roll = Vec3d(0.0);
      return;
    }
    const RandomSource random = met.deflector().hitRandom(moment());
    double bounce = rule.bounce.variation > 0
                        ? rule.bounce.pick(random.signedUnit(traveller_.id, Draw::Bounce))
                        : rule.bounce.value;
    if (rests || rule.onHit == OnHit::Slide) bounce = 0;
    Vec3d along = relative.velocity + normal * against;
    const double mostLost = rule.friction * (1 + std::max(0.0, bounce)) * against;
    if (rollsOn(met)) {
      along = afterFriction(along, normal, mostLost, traveller_.ball);
    } else if (const double sliding = glm::length(along); sliding > 0) {
      along *= (sliding - std::min(sliding, mostLost)) / sliding;
    }
    Vec3d thrown = along + normal * (bounce * against);
    if (rule.roughness > 0 && bounce > 0) thrown = scattered(thrown, normal, rule.roughness, random);
    traveller_.velocity = surface + thrown;
  }

  void note(const ActingDeflector& acting, const Vec3d& normal, double against) const {
    ++acting.count->hits;
    acting.count->list.push_back({traveller_.time, traveller_.id, acting.id, static_cast<float>(against),
                                  Vec3(traveller_.at), Vec3(normal)});
  }

  // Turned aside at random, but not into the surface.
  Vec3d scattered(const Vec3d& thrown, const Vec3d& normal, double angle, const RandomSource& random) const {
    const double speed = glm::length(thrown);
    if (!(speed > 0)) return thrown;
    Vec3d path = directionInCone(thrown / speed, angle, random.unit(traveller_.id, Draw::RoughA),
                                 random.unit(traveller_.id, Draw::RoughB));
    if (const double inward = glm::dot(path, normal); inward < 0) path -= normal * (2 * inward);
    return path * speed;
  }

  // Tells the hits of a particle apart.
  std::uint64_t moment() const {
    std::uint64_t bits = 0;
    std::memcpy(&bits, &traveller_.time, sizeof bits);
    return bits;
  }

  // For the rest of the substep, or until it meets something else or comes to rest.
  void followSurface(const Contacts& along) {
    const Met& met = *along.first().met;
    if (sticksTo(met)) return stick(met);
    std::array<Support, kMaxSupports> supports;
    std::size_t count = 0;
    for (const Contact& contact : along)
      supports[count++] = {contact.normal, contact.met->deflector().rule().friction};
    const SupportedMotion over = supportedMotion(supports, count, met.relativeOf(traveller_));
    if (rollsOn(met)) return roll(along, over);
    const Vec3d &velocity = over.motion.velocity, &pushed = over.motion.acceleration;
    const double speed = glm::length(velocity);
    const bool isStill = speed <= 1e-9 + over.friction * 1e-6;
    if (isStill && glm::length(pushed) <= over.friction + kStill) return rideAlong(met, traveller_.left);
    const Vec3d path = isStill ? glm::normalize(pushed) : velocity / speed;
    const Vec3d acceleration = pushed - path * over.friction;
    const double slowing = -glm::dot(acceleration, path);
    // Friction stops it; it does not drive it back.
    const double stopsAfter = !isStill && over.friction > 0 && slowing > 0 ? speed / slowing : kNever;
    slide(along, {velocity, acceleration}, std::min(traveller_.left, stopsAfter), stopsAfter);
  }

  bool rollsOn(const Met& met) const { return traveller_.ball.rolls() && met.deflector().rule().isRolledOn; }

  // For the rest of the substep, with its friction as if it came at once, so that slip ends exactly.
  void roll(const Contacts& along, const SupportedMotion& over) {
    const Met& met = *along.first().met;
    const double time = traveller_.left;
    Vec3d normal(0.0);
    for (const Contact& contact : along) normal += contact.normal;
    normal = unitOr(normal, along.first().normal);
    const Vec3d pulled = over.motion.velocity + over.motion.acceleration * time;
    Vec3d end = afterFriction(pulled, normal, over.friction * time, traveller_.ball);
    constexpr double kSlips = 1e-9;
    if (glm::length(slipOf(traveller_.ball, end, normal)) <= kSlips + 1e-6 * glm::length(end))
      end = afterRolling(end, normal, met.deflector().rule().rollingFriction * over.load * time,
                         traveller_.ball);
    if (end == Vec3d(0.0) && glm::length(over.motion.velocity) <= over.friction * 1e-6)
      return rideAlong(met, time);
    slide(along, {over.motion.velocity, (end - over.motion.velocity) / time}, time, kNever);
  }

  // Until the substep ends, or the time that it may stick is over.
  void stick(const Met& met) {
    const Deflector& deflector = met.deflector();
    if (!deflector.rule().letsGo()) return rideAlong(met, traveller_.left);
    const double until = std::max(0.0, deflector.stickTime(traveller_.id) - traveller_.held);
    const double time = std::min(until, traveller_.left);
    rideAlong(met, time);
    traveller_.held += time;
    if (time < until) return;
    const SurfaceDistance gap = met.gapOn(traveller_.at, traveller_.time);
    traveller_.velocity += gap.normal * deflector.rule().letGoSpeed;
    traveller_.held = -1;
  }

  // Over a deflector that may turn meanwhile, with an even acceleration as seen by it.
  void slide(const Contacts& along, const Motion& over, double time, double stopsAfter) {
    const Met& met = *along.first().met;
    const Pose pose = met.poseAt(traveller_.time);
    const Vec3d from = pose.toOwn(traveller_.at), velocity = over.velocity * pose.rotation,
                acceleration = over.acceleration * pose.rotation;
    const auto placeAfter = [&](double t) {
      return met.poseAt(traveller_.time + t).toScene(from + velocity * t + acceleration * (0.5 * t * t));
    };
    const bool mayMeet = met_.size() > 1 || met.deflector().shape().hasParts();
    const Hit other = mayMeet ? nextHit(met_, parabola(placeAfter, time), time, along) : Hit{};
    const double until = std::min(time, other.after);
    traveller_.at = placeAfter(until);
    traveller_.time += until;
    traveller_.left -= until;
    traveller_.velocity = met.velocityAt(traveller_.at, traveller_.time);
    if (until != stopsAfter)
      traveller_.velocity += met.poseAt(traveller_.time).rotation * (velocity + acceleration * until);
    for (const Contact& contact : along) settleOn(contact);
    if (other.met && until == other.after) answer(other);
  }

  // The traveller's way, as the parabola through places now, halfway and after a time.
  template <typename PlaceAfter>
  Traveller parabola(const PlaceAfter& placeAfter, double time) const {
    Traveller path = traveller_;
    if (!(time > 0)) return path;
    const Vec3d middle = placeAfter(0.5 * time), end = placeAfter(time);
    path.velocity = (middle * 4.0 - path.at * 3.0 - end) / time;
    path.acceleration = (path.at - middle * 2.0 + end) * (4 / (time * time));
    return path;
  }

  // Back onto the surface that it left or sank into because that is bent; one that bounces may fly off.
  void settleOn(const Contact& contact) {
    const Met& met = *contact.met;
    const SurfaceDistance gap = met.gapOnPart(contact.part, traveller_.at, traveller_.time);
    const bool clings = met.deflector().rule().onHit == OnHit::Slide;
    if (gap.distance > 0 && !clings) return;
    putOut(met, gap);
    if (!clings) return;
    const Vec3d surface = met.velocityAt(traveller_.at, traveller_.time);
    traveller_.velocity -= gap.normal * glm::dot(traveller_.velocity - surface, gap.normal);
  }

  // As a part of the deflector.
  void rideAlong(const Met& met, double time) {
    const Vec3d own = met.poseAt(traveller_.time).toOwn(traveller_.at);
    traveller_.time += time;
    traveller_.left -= time;
    traveller_.at = met.poseAt(traveller_.time).toScene(own);
    traveller_.velocity = met.velocityAt(traveller_.at, traveller_.time);
  }

  const std::vector<Met>& met_;
  Traveller traveller_;
  double length_;
  bool isNew_;
  bool touches_ = false;  // anything, at the beginning
  bool hasMet_ = false;
  const Met* last_ = nullptr;  // the one that was met last
  Contact contact_;            // just now, at this very place; of no deflector if there is none
  bool ended_ = false;
};

std::uint32_t bitOf(std::size_t deflector) {
  return std::uint32_t{1} << std::min<std::size_t>(deflector, 31);
}

// Where particles may be during a substep: around a place each, so far.
struct Reaches {
  alignas(64) std::array<ChunkArray, 3> middle;
  alignas(64) ChunkArray range;

  Ranges ranges() const { return {{middle[0].data(), middle[1].data(), middle[2].data()}, range.data()}; }
};

// Sets a bit for each deflector that a particle may meet; those from the 32nd on share theirs.
class MeetingMarks {
 public:
  MeetingMarks(const std::vector<ActingDeflector>& deflectors, const SubstepStart& start,
               const Substep& substep, const Durations& durations, const double* radii, const Chunk& chunk)
      : deflectors_(deflectors), start_(start), substep_(substep), durations_(durations), chunk_(chunk) {
    largest_ = radii ? *std::max_element(radii, radii + chunk.count) : 0.0;
  }

  void set(DeflectorMasks& masks) const {
    std::fill_n(masks.begin(), chunk_.count, 0);
    Reaches reaches;
    alongWays(reaches);
    mark(reaches, chunk_.count, masks);
    if (deflectors_.size() > 1) addThrown(masks);
  }

 private:
  // A particle that meets nothing stays about the middle of its way. That is a parabola, of which the
  // straight part and the bulge are taken each by itself.
  void alongWays(Reaches& reaches) const {
    std::fill_n(reaches.range.begin(), chunk_.count, 0.0F);
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const float *from = start_.fields[axis].data(), *speed = start_.fields[3 + axis].data();
      const float* to = chunk_.fields[axis].data();
      float *middle = reaches.middle[axis].data(), *range = reaches.range.data();
      const auto all = static_cast<float>(durations_.all);
      for (std::size_t i = 0; i < chunk_.count; ++i) {
        const float length = durations_.own ? static_cast<float>(durations_.own[i]) : all;
        const float whole = to[i] - from[i];
        middle[i] = from[i] + 0.5F * whole;
        range[i] += 0.5F * std::abs(whole) + 0.25F * std::abs(whole - speed[i] * length);
      }
    }
  }

  // One that meets something may be thrown as far in any other direction, and there meet others.
  void addThrown(DeflectorMasks& masks) const {
    Reaches reaches;
    std::array<std::uint16_t, kChunkSize> thrown;
    std::size_t count = 0;
    for (std::size_t i = 0; i < chunk_.count; ++i) {
      if (masks[i] == 0) continue;
      const Vec3d from = start_.position(i), along = start_.velocity(i) * durations_.of(i);
      for (std::size_t axis = 0; axis < 3; ++axis) reaches.middle[axis][count] = start_.fields[axis][i];
      reaches.range[count] =
          static_cast<float>(glm::length(along) + glm::length(chunk_.position(i) - from - along));
      thrown[count++] = static_cast<std::uint16_t>(i);
    }
    DeflectorMasks met;
    std::fill_n(met.begin(), count, 0);
    mark(reaches, count, met);
    for (std::size_t k = 0; k < count; ++k) masks[thrown[k]] |= met[k];
  }

  void mark(const Reaches& reaches, std::size_t count, DeflectorMasks& masks) const {
    for (std::size_t d = 0; d < deflectors_.size(); ++d) {
      const Deflector& deflector = *deflectors_[d].deflector;
      markNear(deflector, deflector.skin() + largest_ * deflector.rule().ownSize,
               deflector.fractionAt(substep_.start + 0.5 * substep_.length), substep_.length,
               reaches.ranges(), count, bitOf(d), masks);
    }
  }

  const std::vector<ActingDeflector>& deflectors_;
  const SubstepStart& start_;
  const Substep& substep_;
  const Durations& durations_;
  const Chunk& chunk_;
  double largest_;  // half a particle's size
};

}  // namespace

void deflect(const std::vector<ActingDeflector>& deflectors, const SubstepStart& start,
             const Substep& substep, const Durations& durations, const double* radii, Chunk& chunk) {
  if (chunk.count == 0) return;
  DeflectorMasks masks;
  MeetingMarks(deflectors, start, substep, durations, radii, chunk).set(masks);
  if (std::all_of(masks.begin(), masks.begin() + chunk.count, [](std::uint32_t mask) { return mask == 0; }))
    return;
  // As the times of those that are not born meanwhile are computed.
  const double begins = substep.start + substep.length - durations.all;
  std::vector<PosedDeflector> posed;
  posed.reserve(deflectors.size());
  for (const ActingDeflector& acting : deflectors) posed.emplace_back(acting, begins, durations.all);
  std::vector<Met> met;
  float* held = chunk.present.has(ParticleStore::Held) ? chunk.field(ParticleStore::Held) : nullptr;
  const bool mayRoll = radii && chunk.present.has(ParticleStore::RollX);
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const double length = durations.of(i);
    if (masks[i] == 0 || !(length > 0)) continue;
    Traveller traveller;
    traveller.at = start.position(i);
    traveller.velocity = start.velocity(i);
    // Such that it comes where it came without any deflector.
    traveller.acceleration =
        (chunk.position(i) - traveller.at - traveller.velocity * length) * (2 / (length * length));
    traveller.time = substep.start + substep.length - length;
    traveller.left = length;
    traveller.id = chunk.ids[i];
    if (held) traveller.held = held[i];
    if (start.arePushed) traveller.pushed = static_cast<double>(start.pushes[i]);
    if (mayRoll) traveller.ball = {radii[i], rollOf(chunk, i)};
    met.clear();
    for (std::size_t d = 0; d < deflectors.size(); ++d) {
      const Deflector& deflector = posed[d].deflector();
      if ((masks[i] & bitOf(d)) == 0 || deflectors[d].weights.of(i) == 0 || deflector.letsPass(traveller.id))
        continue;
      met.push_back({&posed[d], deflector.skin() + (radii ? radii[i] * deflector.rule().ownSize : 0.0)});
    }
    if (met.empty()) continue;
    Trajectory trajectory(met, traveller, durations.own != nullptr);
    if (!trajectory.run()) continue;
    chunk.setPosition(i, trajectory.traveller().at);
    chunk.setVelocity(i, trajectory.traveller().velocity);
    if (held) held[i] = static_cast<float>(trajectory.traveller().held);
    if (mayRoll) setRoll(chunk, i, trajectory.traveller().ball.roll);
    if (trajectory.ended()) chunk.field(ParticleStore::Lifetime)[i] = 0;
  }
}

}  // namespace comet
