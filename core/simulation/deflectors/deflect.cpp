#include "simulation/deflectors/deflect.h"

#include "simulation/deflectors/near_deflector.h"
#include "simulation/emission/launch.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <glm/geometric.hpp>
#include <limits>
#include <optional>

namespace comet {
namespace {

constexpr int kMostHits = 24;  // of a particle in a substep; after that it is held
constexpr int kMostTraceSteps = 96;
constexpr double kNever = std::numeric_limits<double>::infinity();
// A bounce that is over within this share of the substep is none: the particle rests.
constexpr double kRestingShare = 1.0 / 24;
constexpr double kNear = 0.25;  // share of the skin that counts as touching

using OnHit = SurfaceRule::OnHit;

// A particle on its way.
struct Traveller {
  Vec3d at{0.0}, velocity{0.0}, acceleration{0.0};
  double time = 0;  // seconds since the scene's first frame
  double left = 0;  // seconds until the substep's end
  ParticleId id = 0;
  double held = 0;  // as ParticleStore::Held

  bool isLetGo() const { return held < 0; }
  Vec3d placeAfter(double t) const { return at + velocity * t + acceleration * (0.5 * t * t); }
  void goOn(double t) {
    at = placeAfter(t);
    velocity += acceleration * t;
    time += t;
    left -= t;
  }
};

// A deflector as one particle meets it.
struct Met {
  const ActingDeflector* acting = nullptr;
  double clearance = 0;  // from the surface at which the particle is stopped

  const Deflector& deflector() const { return *acting->deflector; }
  DeflectorMotion::Pose poseAt(double time) const {
    return deflector().motion().at(deflector().shareAt(time));
  }
  // How far the particle may still go, and the normal there in the scene. A mesh is not looked for beyond
  // `within`.
  SurfaceDistance gapAt(const Vec3d& position, double time,
                        double within = std::numeric_limits<double>::infinity()) const {
    const DeflectorMotion::Pose pose = poseAt(time);
    const SurfaceDistance own = deflector().shape().at(pose.toOwn(position), within + clearance);
    return {own.distance - clearance, pose.turn * own.normal};
  }
  // As gapAt, for a particle on the surface: found sooner if it is looked for close by first.
  SurfaceDistance gapOn(const Vec3d& position, double time) const {
    const SurfaceDistance close = gapAt(position, time, 4 * deflector().skin());
    return std::isinf(close.distance) ? gapAt(position, time) : close;
  }
  Vec3d velocityAt(const Vec3d& position, double time) const {
    return deflector().motion().velocityAt(position, poseAt(time));
  }
  double touching() const { return kNear * deflector().skin(); }
};

// A particle's way as the deflector sees it: a parabola, exactly so unless the deflector turns.
struct OwnWay {
  OwnWay(const Met& met, const Traveller& traveller, double until) {
    const auto seen = [&](double t) { return met.poseAt(traveller.time + t).toOwn(traveller.placeAfter(t)); };
    from = seen(0);
    const Vec3d middle = seen(0.5 * until), end = seen(until);
    velocity = (middle * 4.0 - from * 3.0 - end) / until;
    acceleration = (from - middle * 2.0 + end) * (4 / (until * until));
    fastest = std::max(1e-12, glm::length(velocity) + glm::length(acceleration) * until);
  }

  Vec3d at(double t) const { return from + velocity * t + acceleration * (0.5 * t * t); }
  Vec3d velocityAt(double t) const { return velocity + acceleration * t; }

  Vec3d from, velocity, acceleration;
  double fastest;
};

struct Hit {
  const Met* met = nullptr;
  double after = kNever;          // seconds
  std::optional<Vec3d> normal{};  // of the surface, in the scene, where finding the hit has told it
};

class Journey {
 public:
  // `isNew`: the particle is born where it begins.
  Journey(const std::vector<Met>& met, const Traveller& traveller, bool isNew)
      : met_(met), traveller_(traveller), length_(traveller.left), isNew_(isNew) {}

  // Whether it met anything; false leaves the particle as it was.
  bool run() {
    pushOut();
    for (int hits = 0; traveller_.left > 0 && !ended_ && hits < 2 * kMostHits; ++hits) {
      // Most come flying, and need not be asked twice what they touch.
      const bool mayRest = touches_ || hits > 0;
      const Met* touched = mayRest ? restsOn(hits >= kMostHits) : nullptr;
      contact_ = {};
      if (touched) {
        meet(*touched);
        followSurface(*touched);
        continue;
      }
      const Hit hit = nextHit(traveller_.left, nullptr);
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
      const SurfaceDistance gap =
          met.gapAt(traveller_.at, traveller_.time, std::max(deep, 2 * met.touching()));
      touches_ = touches_ || gap.distance <= 2 * met.touching();
      // As far as the clearance it may come in by rounding, or because its size grows.
      if (gap.distance >= -met.touching()) continue;
      putOut(met, gap);
      hasMet_ = true;
      if (gap.distance < -met.clearance - met.deflector().skin()) ++met.acting->count->caught;
    }
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

  // The deflector on which the particle lies or slides: it touches it, does not fly off, and is not pulled
  // off.
  const Met* restsOn(bool whateverItsSpeed) const {
    for (const Met& met : met_) {
      const SurfaceDistance gap = contact_.met == &met
                                      ? SurfaceDistance{0, *contact_.normal}
                                      : met.gapAt(traveller_.at, traveller_.time, 2 * met.touching());
      if (gap.distance > 2 * met.touching()) continue;
      const double away =
          glm::dot(traveller_.velocity - met.velocityAt(traveller_.at, traveller_.time), gap.normal);
      const double pull = glm::dot(traveller_.acceleration, gap.normal);
      const SurfaceRule& rule = met.deflector().rule();
      if (rule.onHit == OnHit::Stick && !traveller_.isLetGo() && pull <= rule.hold) return &met;
      if (rule.onHit == OnHit::Slide && away <= restingSpeed(pull)) return &met;
      if (whateverItsSpeed && away <= 0) return &met;
      if (pull <= noise() && std::abs(away) <= restingSpeed(pull)) return &met;
    }
    return nullptr;
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

  Hit nextHit(double within, const Met* except) const {
    Hit first;
    for (const Met& met : met_) {
      if (&met == except) continue;
      const Hit hit = hitOn(met, std::min(within, first.after));
      if (hit.after < first.after) first = hit;
    }
    return first;
  }

  // When the particle is as near as it may come and goes on inwards; never, if not before `until`.
  Hit hitOn(const Met& met, double until) const {
    if (!(until > 0)) return {};
    const OwnWay way(met, traveller_, until);
    const DeflectorShape& shape = met.deflector().shape();
    if (shape.isMetByField()) return {&met, timeOfTouch(met, way, until)};
    if (shape.type() == DeflectorShape::Type::Mesh) return crossingOf(met, way, until);
    return {&met, timeOfHit(met, way, until)};
  }

  static double timeOfHit(const Met& met, const OwnWay& way, double until) {
    const DeflectorShape& shape = met.deflector().shape();
    std::array<SurfacePart, DeflectorShape::kMostParts> parts;
    double t = 0;
    for (int step = 0; step < kMostTraceSteps; ++step) {
      const Vec3d velocity = way.velocityAt(t);
      const int count = shape.parts(way.at(t), parts);
      double next = kNever;
      for (int i = 0; i < count; ++i) {
        const SurfacePart& part = parts[static_cast<std::size_t>(i)];
        const double gap = part.distance - met.clearance - met.touching();
        const double speed = glm::dot(velocity, part.normal);
        const double pull = glm::dot(way.acceleration, part.normal) - part.bend * way.fastest * way.fastest;
        const double slow = 1e-9 * way.fastest;
        if (gap <= 0 && (speed < -slow || (speed <= slow && pull < 0))) return t;
        next = std::min(
            next, std::max(timeToClose(std::max(0.0, gap), speed, pull), std::max(0.0, gap) / way.fastest));
      }
      // At least so far that it comes to an end.
      t += std::max(next, 1e-9 * until);
      if (t >= until) return kNever;
    }
    // Along the surface for so long that it counts as a hit, rather than be let through.
    return t;
  }

  // As timeOfHit, for a distance field: as far at a time as that says is free, but for no less than a part of
  // a cell, and then back to where it came through. What it skips is a graze shallower than the field is
  // exact.
  static double timeOfTouch(const Met& met, const OwnWay& way, double until) {
    constexpr double kPartOfCell = 0.2;
    constexpr int kHalvings = 24;
    const DeflectorShape& shape = met.deflector().shape();
    const double stop = met.clearance + met.touching();
    const auto gapAt = [&](double t) { return shape.distanceByField(way.at(t)) - stop; };
    const auto goesIn = [&](double t) {
      return glm::dot(way.velocityAt(t), shape.at(way.at(t)).normal) < -1e-9 * way.fastest;
    };
    const double least = kPartOfCell * shape.fieldSpacing() / way.fastest;
    double t = 0, gap = gapAt(0);
    if (gap <= 0 && goesIn(0)) return 0;
    while (t < until) {
      const double next =
          std::min(until, t + std::max(least, gap / (DistanceField::kSteepest * way.fastest)));
      const double nextGap = gapAt(next);
      if (nextGap <= 0 && (gap > 0 || goesIn(next))) {
        double free = t, through = next;
        for (int i = 0; i < kHalvings && gap > 0; ++i) {
          const double middle = 0.5 * (free + through);
          (gapAt(middle) > 0 ? free : through) = middle;
        }
        if (gap <= 0 || goesIn(through)) return gap > 0 ? free : next;
      }
      t = next;
      gap = nextGap;
    }
    return kNever;
  }

  // The hit on a mesh: along so many straight pieces that none is farther from the parabola than the
  // skin is thick.
  Hit crossingOf(const Met& met, const OwnWay& way, double until) const {
    constexpr double kMostPieces = 64;
    const double sag = glm::length(way.acceleration) * until * until / 8;
    const int pieces = static_cast<int>(
        std::clamp(std::ceil(std::sqrt(sag / met.deflector().skin())), 1.0, kMostPieces));
    const double keep = met.clearance + met.touching();
    for (int piece = 0; piece < pieces; ++piece) {
      const double begins = until * piece / pieces, length = until / pieces;
      const Vec3d from = way.at(begins), to = way.at(begins + length), along = to - from;
      const double distance = glm::length(along);
      if (!(distance > 0)) continue;
      // On beyond the piece's end, by as much as it may have to stop before the surface at a flat angle.
      constexpr double kFlattest = 0.05;
      const double more = keep / kFlattest;
      const auto crossing = met.deflector().shape().crossing(from, to + along * (more / distance));
      if (!crossing) continue;
      const double towards = -glm::dot(along, crossing->normal) / distance;
      const double stops = crossing->share * (distance + more) - keep / std::max(towards, kFlattest);
      if (stops > distance) continue;
      const double after = begins + length * std::max(0.0, stops / distance);
      return {&met, after, met.poseAt(traveller_.time + after).turn * crossing->normal};
    }
    return {};
  }

  // Until a gap that widens at a speed, which changes at an acceleration, is closed.
  static double timeToClose(double gap, double speed, double acceleration) {
    // gap + speed t + acceleration t² / 2 = 0: its first root after the beginning.
    const double half = 0.5 * acceleration, root = speed * speed - 4 * half * gap;
    if (half >= 0) {
      if (speed >= 0 || root < 0) return kNever;
      return 2 * gap / (-speed + std::sqrt(root));
    }
    return (speed + std::sqrt(root)) / -acceleration;
  }

  // The impulse of a hit.
  void answer(const Hit& hit) {
    const Met& met = *hit.met;
    const SurfaceRule& rule = met.deflector().rule();
    const Vec3d normal = hit.normal ? *hit.normal : met.gapOn(traveller_.at, traveller_.time).normal;
    contact_ = {&met, 0, normal};
    const Vec3d surface = met.velocityAt(traveller_.at, traveller_.time);
    const Vec3d relative = traveller_.velocity - surface;
    const double against = std::max(0.0, -glm::dot(relative, normal));
    note(*met.acting, normal, against);
    if (rule.onHit == OnHit::End) {
      ended_ = true;
      return;
    }
    if (rule.onHit == OnHit::Stick) {
      traveller_.velocity = surface;
      traveller_.held = 0;
      return;
    }
    const RandomSource random = met.deflector().hitRandom(moment());
    const bool rests = against <= restingSpeed(glm::dot(traveller_.acceleration, normal));
    double bounce = rule.bounce.variation > 0
                        ? rule.bounce.pick(random.signedUnit(traveller_.id, Draw::Bounce))
                        : rule.bounce.value;
    if (rests || rule.onHit == OnHit::Slide) bounce = 0;
    Vec3d along = relative + normal * against;
    const double sliding = glm::length(along);
    const double lost = std::min(sliding, rule.friction * (1 + std::max(0.0, bounce)) * against);
    if (sliding > 0) along *= (sliding - lost) / sliding;
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
    Vec3d way = directionInCone(thrown / speed, angle, random.unit(traveller_.id, Draw::RoughA),
                                random.unit(traveller_.id, Draw::RoughB));
    if (const double inward = glm::dot(way, normal); inward < 0) way -= normal * (2 * inward);
    return way * speed;
  }

  // Tells the hits of a particle apart.
  std::uint64_t moment() const {
    std::uint64_t bits = 0;
    std::memcpy(&bits, &traveller_.time, sizeof bits);
    return bits;
  }

  // For the rest of the substep, or until it meets something else or comes to rest.
  void followSurface(const Met& met) {
    const SurfaceRule& rule = met.deflector().rule();
    const SurfaceDistance gap = met.gapOn(traveller_.at, traveller_.time);
    const Vec3d surface = met.velocityAt(traveller_.at, traveller_.time);
    if (rule.onHit == OnHit::Stick && !traveller_.isLetGo()) return stick(met);
    const double pressed = std::max(0.0, -glm::dot(traveller_.acceleration, gap.normal));
    Vec3d velocity = traveller_.velocity - surface;
    velocity -= gap.normal * glm::dot(velocity, gap.normal);
    const Vec3d pushed = traveller_.acceleration - gap.normal * glm::dot(traveller_.acceleration, gap.normal);
    const double most = rule.friction * pressed, speed = glm::length(velocity);
    const bool isStill = speed <= 1e-9 + most * 1e-6;
    if (isStill && glm::length(pushed) <= most) return rideAlong(met, traveller_.left);
    const Vec3d way = isStill ? glm::normalize(pushed) : velocity / speed;
    const Vec3d acceleration = pushed - way * most;
    const double slowing = -glm::dot(acceleration, way);
    // Friction stops it; it does not drive it back.
    const double stopsAfter = !isStill && most > 0 && slowing > 0 ? speed / slowing : kNever;
    slide(met, surface, velocity, acceleration, std::min(traveller_.left, stopsAfter), stopsAfter);
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

  void slide(const Met& met, const Vec3d& surface, const Vec3d& velocity, const Vec3d& acceleration,
             double time, double stopsAfter) {
    const Vec3d pushing = traveller_.acceleration;
    traveller_.velocity = surface + velocity;
    traveller_.acceleration = acceleration;
    const Hit other = nextHit(time, &met);
    const double until = std::min(time, other.after);
    traveller_.goOn(until);
    // What pushes it goes on pushing.
    traveller_.acceleration = pushing;
    if (until == stopsAfter) traveller_.velocity = met.velocityAt(traveller_.at, traveller_.time);
    settleOn(met);
    if (other.met && until == other.after) answer(other);
  }

  // Back onto the surface that it left or sank into because that is bent; one that bounces may fly off.
  void settleOn(const Met& met) {
    const SurfaceDistance gap = met.gapOn(traveller_.at, traveller_.time);
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
  Hit contact_;                // just now, at this very place
  bool ended_ = false;
};

// How far each particle of a chunk may come from where it begins: along its parabola, whose parts are taken
// each by itself.
void setRanges(const WayStart& start, const Durations& durations, const Chunk& chunk, ChunkArray& range) {
  for (std::size_t i = 0; i < chunk.count; ++i) range[i] = 0;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const float *from = start.fields[axis].data(), *speed = start.fields[3 + axis].data();
    const float* to = chunk.fields[axis].data();
    const auto all = static_cast<float>(durations.all);
    for (std::size_t i = 0; i < chunk.count; ++i) {
      const float length = durations.own ? static_cast<float>(durations.own[i]) : all;
      const float along = speed[i] * length;
      range[i] += std::abs(along) + std::abs(to[i] - from[i] - along);
    }
  }
}

std::uint32_t bitOf(std::size_t deflector) {
  return std::uint32_t{1} << std::min<std::size_t>(deflector, 31);
}

// Sets a bit for each deflector that a particle may meet; those from the 32nd on share theirs.
void setMasks(const std::vector<ActingDeflector>& deflectors, const WayStart& start, const Substep& substep,
              const Durations& durations, const double* radii, const Chunk& chunk, DeflectorMasks& masks) {
  ChunkArray range;
  setRanges(start, durations, chunk, range);
  std::fill_n(masks.begin(), chunk.count, 0);
  const Ranges ranges{{start.fields[0].data(), start.fields[1].data(), start.fields[2].data()}, range.data()};
  const double largest = radii ? *std::max_element(radii, radii + chunk.count) : 0.0;
  for (std::size_t d = 0; d < deflectors.size(); ++d) {
    const Deflector& deflector = *deflectors[d].deflector;
    markNear(deflector, deflector.skin() + largest * deflector.rule().ownSize,
             deflector.shareAt(substep.start), substep.length, ranges, chunk.count, bitOf(d), masks);
  }
}

}  // namespace

void deflect(const std::vector<ActingDeflector>& deflectors, const WayStart& start, const Substep& substep,
             const Durations& durations, const double* radii, Chunk& chunk) {
  if (chunk.count == 0) return;
  DeflectorMasks masks;
  setMasks(deflectors, start, substep, durations, radii, chunk, masks);
  std::vector<Met> met;
  float* held = chunk.present.has(ParticleStore::Held) ? chunk.field(ParticleStore::Held) : nullptr;
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
    met.clear();
    for (std::size_t d = 0; d < deflectors.size(); ++d) {
      const ActingDeflector& acting = deflectors[d];
      const Deflector& deflector = *acting.deflector;
      if ((masks[i] & bitOf(d)) == 0 || acting.weights.of(i) == 0 || deflector.letsPass(traveller.id))
        continue;
      met.push_back({&acting, deflector.skin() + (radii ? radii[i] * deflector.rule().ownSize : 0.0)});
    }
    if (met.empty()) continue;
    Journey journey(met, traveller, durations.own != nullptr);
    if (!journey.run()) continue;
    chunk.setPosition(i, journey.traveller().at);
    chunk.setVelocity(i, journey.traveller().velocity);
    if (held) held[i] = static_cast<float>(journey.traveller().held);
    if (journey.ended()) chunk.field(ParticleStore::Lifetime)[i] = 0;
  }
}

}  // namespace comet
