#include "simulation/rules/apply_rules.h"

#include "base/parallel.h"
#include "base/random.h"
#include "particles/arrival.h"
#include "simulation/emission/launch.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <optional>

namespace comet {
namespace {

constexpr std::size_t kPathsATask = 1024;
constexpr int kCountBits = 3;  // of how often a rule has fired; kMaxTimes fits

// Hits by particle.
class HitList {
 public:
  explicit HitList(const std::vector<SurfaceHit>& hits) {
    for (const SurfaceHit& hit : hits) hits_.push_back(&hit);
    std::stable_sort(hits_.begin(), hits_.end(),
                     [](const SurfaceHit* a, const SurfaceHit* b) { return a->particle < b->particle; });
  }
  // The particle's first hit that `fits`; null for none.
  template <typename Fits>
  const SurfaceHit* find(ParticleId particle, const Fits& fits) const {
    auto hit = std::lower_bound(hits_.begin(), hits_.end(), particle,
                                [](const SurfaceHit* a, ParticleId id) { return a->particle < id; });
    for (; hit != hits_.end() && (*hit)->particle == particle; ++hit)
      if (fits(**hit)) return *hit;
    return nullptr;
  }

 private:
  std::vector<const SurfaceHit*> hits_;
};

// When a condition holds: from this moment of the step on, seconds since its start.
using Since = std::optional<double>;

// One particle, and the rules that it is under.
class RuledParticle {
 public:
  // `index` is its place in `particles`; nothing if it died in the step.
  RuledParticle(const RulePlan& plan, const RuleScene& scene, const HitList& hits, ParentPath& path,
                ParticleStore& particles, std::optional<std::size_t> index)
      : plan_(plan), scene_(scene), hits_(hits), path_(path), particles_(particles), index_(index) {
    fired_ = static_cast<std::uint32_t>(path.rulesFired);
    tags_ = static_cast<std::uint32_t>(path.tags);
  }

  void apply(RuleOutcome& outcome) {
    for (std::size_t r = 0; r < plan_.rules.size() && !isGone_; ++r) {
      const PlannedRule& rule = plan_.rules[r];
      const Since since = firesSince(rule, r);
      if (!since) continue;
      ++outcome.fired[r];
      if (rule.max > 0) fired_ += 1U << (kCountBits * r);
      for (const PlannedClause& action : rule.then) perform(action, rule, *since, outcome);
    }
    if (!index_) return;
    keep(ParticleStore::RulesFired, fired_);
    keep(ParticleStore::Tags, tags_);
    if (isGone_) outcome.removed.push_back(*index_);
  }

 private:
  void keep(ParticleStore::Field field, std::uint32_t value) {
    if (float* values = particles_.field(field)) values[*index_] = static_cast<float>(value);
  }

  Since firesSince(const PlannedRule& rule, std::size_t r) const {
    const auto timesFired = fired_ >> (kCountBits * r) & ((1U << kCountBits) - 1);
    if (rule.max > 0 && timesFired >= static_cast<std::uint32_t>(rule.max)) return std::nullopt;
    // Whoever died is asked about his death and what led to it only.
    const bool asksEvents = std::any_of(rule.when.begin(), rule.when.end(), [](const PlannedClause& clause) {
      return clause.when() == RuleWhen::Death || clause.when() == RuleWhen::Hit;
    });
    if (path_.dies && !asksEvents) return std::nullopt;
    const RandomSource random(rule.randomKey);
    const std::uint64_t identity =
        rule.chanceEachFrame
            ? combineKeys(withoutCycle(path_.id), static_cast<std::uint64_t>(std::llround(plan_.frame)))
            : path_.id;
    if (rule.chance < 1 && random.unit(identity, Draw::RuleChance) >= rule.chance) return std::nullopt;
    Since since;
    for (const PlannedClause& clause : rule.when) {
      Since holds = holdsSince(clause, random);
      if (clause.clause.isNot) holds = holds ? Since() : Since(path_.until);
      if (rule.anyOf && holds) return holds;
      if (!rule.anyOf && !holds) return std::nullopt;
      if (holds) since = std::max(since.value_or(0), *holds);
    }
    return since;
  }

  Since endIf(bool holds) const { return holds ? Since(path_.until) : std::nullopt; }
  Since endIfBetween(double value, const RuleClause& clause) const {
    return endIf(value >= clause.first && value <= clause.second);
  }

  Since holdsSince(const PlannedClause& ready, const RandomSource& random) const {
    const RuleClause& clause = ready.clause;
    const double end = path_.until, age = path_.ageAt(end);
    const Vec3d place = path_.placeAt(end);
    switch (ready.when()) {
      case RuleWhen::Age: {
        // Ages are sums of many small steps: a frame that is due must not come late.
        constexpr double kSlack = 1e-3;
        const double frames = age * plan_.frameRate;
        return endIf(frames >= clause.first - kSlack && frames <= clause.second + kSlack);
      }
      case RuleWhen::RandomAge: {
        const double moment =
            (clause.first + (clause.second - clause.first) * random.unit(path_.id, Draw::RuleMoment)) /
            plan_.frameRate;
        const bool isNow = moment <= age && (moment > static_cast<double>(path_.age) || path_.isBorn);
        return isNow ? Since(path_.from + std::max(0.0, moment - static_cast<double>(path_.age)))
                     : std::nullopt;
      }
      case RuleWhen::LifeFraction:
        return endIfBetween(100 * age / std::max(1e-9, static_cast<double>(path_.lifetime)), clause);
      case RuleWhen::Death:
        return endIf(path_.dies);
      case RuleWhen::Hit: {
        const SurfaceHit* hit = hits_.find(path_.id, [&clause](const SurfaceHit& one) {
          return (clause.item.id == 0 || one.deflector == clause.item.id) &&
                 static_cast<double>(one.speed) >= clause.first;
        });
        if (!hit) return std::nullopt;
        return std::clamp(hit->time - scene_.time.start, path_.from, path_.until);
      }
      case RuleWhen::Region:
        return endIf(clause.item.id != 0 && ready.region.at(place) > 0.5F);
      case RuleWhen::Speed:
        return endIfBetween(glm::length(path_.velocityAt(end)), clause);
      case RuleWhen::Travelled:
        return endIf(static_cast<double>(path_.travelled) + lengthUntil(path_, end) > clause.first);
      case RuleWhen::Height:
        return endIfBetween(place.y, clause);
      case RuleWhen::Near:
        return endIf(isNear(clause, place));
      case RuleWhen::Frame:
        return endIfBetween(plan_.frame, clause);
      case RuleWhen::Tag:
        return endIf((tags_ >> (static_cast<int>(clause.first) - 1) & 1U) != 0);
      case RuleWhen::Arrived:
        return endIf(index_ && arrivalOf(particles_, *index_).isHeld());
    }
    return std::nullopt;
  }

  bool isNear(const RuleClause& clause, const Vec3d& place) const {
    const auto grid = scene_.grids.find(clause.item.id);
    if (grid == scene_.grids.end()) return false;
    bool isFound = false;
    grid->second->forNear(place, [&](const NeighbourGrid::Particle& other) {
      const Vec3d there = Vec3d(other.position) + Vec3d(other.velocity) * scene_.time.length;
      isFound = isFound || (other.id != path_.id && glm::length(there - place) <= clause.first);
    });
    return isFound;
  }

  void perform(const PlannedClause& ready, const PlannedRule& rule, double time, RuleOutcome& outcome) {
    const RuleClause& clause = ready.clause;
    const RandomSource random(rule.randomKey);
    const std::uint32_t tag = 1U << (std::max(1, static_cast<int>(clause.first)) - 1);
    switch (ready.then()) {
      case RuleThen::Burst: {
        const double count = clause.first + clause.second * random.signedUnit(path_.id, Draw::ChildCount);
        if (count >= 0.5)
          give(clause.item.id, time, static_cast<std::uint64_t>(std::llround(count)), outcome);
        return;
      }
      case RuleThen::Die:
        return end(time);
      case RuleThen::Freeze:
        return setStill(1);
      case RuleThen::Release:
        return setStill(0);
      case RuleThen::MoveResetAge:
      case RuleThen::MoveKeepAge:
        give(clause.item.id, time, 1, outcome);
        outcome.births.back().origin.goesOn = true;
        if (ready.then() == RuleThen::MoveKeepAge) outcome.births.back().origin.age = path_.ageAt(time);
        return end(time);
      case RuleThen::Kick:
        return kick(clause, random);
      case RuleThen::AddTag:
        tags_ |= tag;
        return;
      case RuleThen::RemoveTag:
        tags_ &= ~tag;
        return;
    }
  }

  void give(ItemId emitter, double time, std::uint64_t count, RuleOutcome& outcome) {
    Origin origin;
    origin.time = time;
    origin.position = path_.placeAt(time);
    origin.velocity = path_.velocityAt(time);
    origin.lineage = lineageOfChild(path_.at(time), path_.lineage);
    outcome.births.push_back({emitter, origin, count});
  }

  // Its way ends there; children that come with deaths are told so.
  void end(double time) {
    isGone_ = true;
    path_.dies = true;
    path_.until = time;
  }

  void setStill(float still) {
    if (!index_) return;
    particles_.field(ParticleStore::Still)[*index_] = still;
    if (still > 0) setVelocity(Vec3d(0.0));
  }

  void kick(const RuleClause& clause, const RandomSource& random) {
    if (!index_) return;
    const Vec3d velocity = particles_.velocity(*index_);
    const double a = random.unit(path_.id, Draw::RuleKickA), b = random.unit(path_.id, Draw::RuleKickB);
    const Vec3d any = plan_.isFlat ? Vec3d(std::cos(2 * kPi * a), std::sin(2 * kPi * a), 0)
                                   : directionInCone(Vec3d(0, 1, 0), kPi, a, b);
    setVelocity(velocity + unitOr(velocity, Vec3d(0.0)) * clause.first + any * clause.second);
  }

  void setVelocity(const Vec3d& velocity) {
    for (int axis = 0; axis < 3; ++axis)
      particles_.field(static_cast<ParticleStore::Field>(ParticleStore::VelocityX + axis))[*index_] =
          static_cast<float>(velocity[axis]);
  }

  const RulePlan& plan_;
  const RuleScene& scene_;
  const HitList& hits_;
  ParentPath& path_;
  ParticleStore& particles_;
  std::optional<std::size_t> index_;
  std::uint32_t fired_ = 0, tags_ = 0;
  bool isGone_ = false;
};

}  // namespace

int timesFired(float remembered, std::size_t rule) {
  return static_cast<int>(static_cast<std::uint32_t>(remembered) >> (kCountBits * rule) &
                          ((1U << kCountBits) - 1));
}

RuleOutcome applyRules(const RulePlan& plan, const RuleScene& scene, std::vector<ParentPath>& paths,
                       ParticleStore& particles) {
  const HitList hits(scene.hits);
  const std::size_t tasks = (paths.size() + kPathsATask - 1) / kPathsATask;
  std::vector<RuleOutcome> parts(tasks);
  parallelFor(tasks, [&](std::size_t task) {
    RuleOutcome& part = parts[task];
    part.fired.assign(plan.rules.size(), 0);
    const std::size_t first = task * kPathsATask, last = std::min(first + kPathsATask, paths.size());
    const ParticleId *begin = particles.ids(), *end = begin + particles.size();
    const ParticleId* next = std::lower_bound(begin, end, paths[first].id);
    for (std::size_t i = first; i < last; ++i) {
      while (next != end && *next < paths[i].id) ++next;
      std::optional<std::size_t> index;
      if (next != end && *next == paths[i].id) index = static_cast<std::size_t>(next - begin);
      RuledParticle(plan, scene, hits, paths[i], particles, index).apply(part);
    }
  });
  RuleOutcome outcome;
  outcome.fired.assign(plan.rules.size(), 0);
  for (RuleOutcome& part : parts) {
    for (std::size_t r = 0; r < plan.rules.size(); ++r) outcome.fired[r] += part.fired[r];
    outcome.births.insert(outcome.births.end(), part.births.begin(), part.births.end());
    outcome.removed.insert(outcome.removed.end(), part.removed.begin(), part.removed.end());
  }
  return outcome;
}

}  // namespace comet
