#include "simulation/deflectors/next_hit.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr int kMaxTraceSteps = 96;

// A particle's way as the deflector sees it: a parabola, exactly so unless the deflector turns.
struct OwnPath {
  OwnPath(const Met& met, const Traveller& traveller, double until) {
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

// Until a gap that widens at a speed, which changes at an acceleration, is closed.
double timeToClose(double gap, double speed, double acceleration) {
  // gap + speed t + acceleration t² / 2 = 0: its first root after the beginning.
  const double half = 0.5 * acceleration, root = speed * speed - 4 * half * gap;
  // Each in the form that subtracts nothing that is nearly the same.
  if (speed < 0) return root < 0 ? kNever : 2 * gap / (-speed + std::sqrt(root));
  return half < 0 ? (speed + std::sqrt(root)) / -acceleration : kNever;
}

// When the traveller is as near as it may come to one of the parts of which the shape consists, and goes on
// inwards.
Hit touchOf(const Met& met, double start, const OwnPath& path, double until, unsigned alongParts) {
  const DeflectorShape& shape = met.deflector().shape();
  std::array<SurfacePart, DeflectorShape::kMaxParts> parts;
  const auto hitAt = [&](double t, const SurfacePart& part) {
    return Hit{&met, t, met.poseAt(start + t).rotation * part.normal};
  };
  double t = 0;
  const SurfacePart* first = nullptr;
  for (int step = 0; step < kMaxTraceSteps; ++step) {
    const Vec3d velocity = path.velocityAt(t);
    const int count = shape.parts(path.at(t), parts);
    double next = kNever;
    for (int i = 0; i < count; ++i) {
      if ((alongParts >> i & 1U) != 0) continue;
      const SurfacePart& part = parts[static_cast<std::size_t>(i)];
      const double gap = part.distance - met.clearance - met.touching();
      const double speed = glm::dot(velocity, part.normal);
      const double pull = glm::dot(path.acceleration, part.normal) - part.bend * path.fastest * path.fastest;
      const double slow = 1e-9 * path.fastest;
      if (gap <= 0 && (speed < -slow || (speed <= slow && pull < 0))) return hitAt(t, part);
      const double free =
          std::max(timeToClose(std::max(0.0, gap), speed, pull), std::max(0.0, gap) / path.fastest);
      if (free >= next) continue;
      next = free;
      first = &part;
    }
    // At least so far that it comes to an end.
    t += std::max(next, 1e-9 * until);
    if (t >= until) return {};
  }
  // Along the surface for so long that it counts as a hit, rather than be let through.
  return hitAt(t, *first);
}

// As touchOf, for a distance field: as far at a time as that says is free, but for no less than a part of
// a cell, and then back to where it came through. What it skips is a graze shallower than the field is
// exact.
double timeOfTouch(const Met& met, const OwnPath& path, double until) {
  constexpr double kPartOfCell = 0.2;
  constexpr int kHalvings = 24;
  const DeflectorShape& shape = met.deflector().shape();
  const double stop = met.clearance + met.touching();
  const auto gapAt = [&](double t) { return shape.distanceByField(path.at(t)) - stop; };
  const auto goesIn = [&](double t) {
    return glm::dot(path.velocityAt(t), shape.at(path.at(t)).normal) < -1e-9 * path.fastest;
  };
  const double min = kPartOfCell * shape.fieldSpacing() / path.fastest;
  double t = 0, gap = gapAt(0);
  if (gap <= 0 && goesIn(0)) return 0;
  while (t < until) {
    const double next = std::min(until, t + std::max(min, gap / (DistanceField::kSteepest * path.fastest)));
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

// The hit on a mesh, along straight pieces of the way.
class CrossingFinder {
 public:
  CrossingFinder(const Met& met, const OwnPath& path)
      : met_(met), path_(path), skin_(met.deflector().skin()) {}

  struct Crossing {
    double after = kNever;
    Vec3d normal{0.0};
  };
  // What it skips is a graze no deeper than some skins.
  Crossing before(double until) const {
    constexpr double kGraze = 4;
    return first(0, until, kGraze * skin_);
  }

 private:
  // Along so many pieces that none is farther from the parabola than that; what one of them hits is sought
  // again along finer ones, so that the particle is stopped outside.
  Crossing first(double from, double until, double farthest) const {
    constexpr double kMaxPieces = 64;
    const double bend = glm::length(path_.acceleration) / 8, whole = until - from;
    const double pieces = std::clamp(std::ceil(whole * std::sqrt(bend / farthest)), 1.0, kMaxPieces);
    const double length = whole / pieces;
    const bool isExact = farthest <= skin_ || bend * length * length <= skin_;
    for (int piece = 0; piece < static_cast<int>(pieces); ++piece) {
      const double begins = from + length * piece;
      Crossing found = onPiece(begins, length);
      if (found.after < kNever && !isExact) found = first(begins, begins + length, skin_);
      if (found.after < kNever) return found;
    }
    return {};
  }

  Crossing onPiece(double begins, double length) const {
    const double keep = met_.clearance + met_.touching();
    const Vec3d from = path_.at(begins), along = path_.at(begins + length) - from;
    const double distance = glm::length(along);
    if (!(distance > 0)) return {};
    // On beyond the piece's end, by as much as it may have to stop before the surface at a flat angle.
    constexpr double kFlattest = 0.05;
    const double more = keep / kFlattest;
    const auto crossing = met_.deflector().shape().crossing(from, from + along * (1 + more / distance));
    if (!crossing) return {};
    const double towards = -glm::dot(along, crossing->normal) / distance;
    const double stops = crossing->fraction * (distance + more) - keep / std::max(towards, kFlattest);
    if (stops > distance) return {};
    return {begins + length * std::max(0.0, stops / distance), crossing->normal};
  }

  const Met& met_;
  const OwnPath& path_;
  double skin_;
};

// When the traveller is as near as it may come and goes on inwards; never, if not before `until`.
Hit hitOn(const Met& met, const Traveller& traveller, double until, unsigned alongParts) {
  if (!(until > 0)) return {};
  const OwnPath path(met, traveller, until);
  const DeflectorShape& shape = met.deflector().shape();
  if (shape.isMetByField()) return {&met, timeOfTouch(met, path, until)};
  if (shape.isMetByRays()) {
    const CrossingFinder::Crossing crossing = CrossingFinder(met, path).before(until);
    if (crossing.after == kNever) return {};
    return {&met, crossing.after, met.poseAt(traveller.time + crossing.after).rotation * crossing.normal};
  }
  return touchOf(met, traveller.time, path, until, alongParts);
}

}  // namespace

Hit nextHit(const std::vector<Met>& met, const Traveller& traveller, double within, const Contacts& along) {
  Hit first;
  for (const Met& one : met) {
    unsigned alongParts = 0;
    for (const Contact& contact : along)
      if (contact.met == &one) alongParts |= 1U << contact.part;
    // What has no parts to tell apart is not met again by who goes along it.
    if (alongParts != 0 && !one.deflector().shape().hasParts()) continue;
    const Hit hit = hitOn(one, traveller, std::min(within, first.after), alongParts);
    if (hit.after < first.after) first = hit;
  }
  return first;
}

}  // namespace comet
