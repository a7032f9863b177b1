#include "simulation/emission/child_births.h"

#include "base/random.h"
#include "base/vec.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

using Come = ChildRule::Come;

// Collects births as long as there is room, and counts all.
class Collector {
 public:
  Collector(const ChildRule& rule, double from, double until, std::size_t max, ChildBirths& births)
      : rule_(rule), from_(from), until_(until), max_(max), births_(births) {}

  bool covers(double time) const { return time >= from_ && time <= until_; }
  std::size_t room() const { return max_ - births_.origins.size(); }

  // `count` births at one moment of a parent's life.
  void add(const ParentPath& path, double time, std::uint64_t count, const Vec3d& place,
           const Vec3d& normal) {
    if (count == 0 || !covers(time)) return;
    births_.wanted += count;
    if (room() == 0) return;
    Origin origin;
    origin.time = time;
    origin.position = place;
    origin.velocity = path.velocityAt(time);
    if (rule_.stands == ChildRule::Stands::Motion) origin.up = unitOr(origin.velocity, origin.up);
    if (rule_.stands == ChildRule::Stands::Surface) origin.up = unitOr(normal, origin.up);
    origin.lineage = lineageOfChild(path.at(time), path.lineage);
    births_.origins.insert(births_.origins.end(), std::min<std::uint64_t>(count, room()), origin);
  }
  void add(const ParentPath& path, double time, std::uint64_t count) {
    add(path, time, count, path.placeAt(time), Vec3d(0.0));
  }

 private:
  const ChildRule& rule_;
  double from_, until_;
  std::size_t max_;
  ChildBirths& births_;
};

class Counter {
 public:
  explicit Counter(const ChildRule& rule) : rule_(rule), random_(rule.randomKey) {}

  bool gives(ParticleId parent) const {
    return rule_.chance >= 1 || random_.unit(parent, Draw::ChildChance) < rule_.chance;
  }
  // At an event; `which` tells several ones of a parent apart.
  std::uint64_t births(const ParentPath& path, double time, std::uint64_t which = 0) const {
    const std::uint64_t identity = which == 0 ? path.id : combineKeys(withoutCycle(path.id), which);
    const double picked = rule_.each.pick(random_.signedUnit(identity, Draw::ChildCount),
                                          birthMoment(birthOfId(path.id), path.placeAt(time)));
    return static_cast<std::uint64_t>(std::clamp(std::round(picked), 0.0, 1e15));
  }
  // Where, between two births that follow each other steadily, a parent begins.
  double phase(ParticleId parent) const { return random_.unit(parent, Draw::ChildPhase); }

 private:
  const ChildRule& rule_;
  RandomSource random_;
};

// Births at equal distances on an axis along which the parent goes from `begin` to `end`: its age, or its
// way. `momentOf` says when it is at a place of the axis.
template <typename MomentOf>
void addSteadily(const ParentPath& path, double begin, double end, double density, double phase,
                 const MomentOf& momentOf, Collector& collector, ChildBirths& births) {
  const double first = std::floor(begin * density + phase) + 1;
  const double last = std::floor(end * density + phase);
  if (!(last >= first)) return;
  const double count = last - first + 1;
  const auto listed = static_cast<std::uint64_t>(std::min(count, static_cast<double>(collector.room())));
  for (std::uint64_t i = 0; i < listed; ++i)
    collector.add(path, momentOf((first + static_cast<double>(i) - phase) / density), 1);
  births.wanted += static_cast<std::uint64_t>(count) - listed;
}

const ParentPath* pathOf(const std::vector<ParentPath>& paths, ParticleId id) {
  const auto found =
      std::lower_bound(paths.begin(), paths.end(), id,
                       [](const ParentPath& path, ParticleId wanted) { return path.id < wanted; });
  return found == paths.end() || found->id != id ? nullptr : &*found;
}

}  // namespace

ChildRule::ChildRule(const Item& emitter, std::uint64_t key, double frame)
    : come(emitter.choiceAs<Come>("birth_trigger", std::array<std::string_view, 7>{
                                                       "own", "parent_birth", "parent_life", "parent_path",
                                                       "parent_death", "parent_hit", "rules"})) {
  if (!isChild()) return;
  source = come == Come::Rules ? 0 : emitter.reference("parent");
  randomKey = key;
  each = {emitter.number("births_per_event", frame), emitter.value("births_per_event").variation,
          emitter.particleFormula("births_per_event", frame)};
  density = emitter.number(come == Come::Ways ? "births_per_unit" : "births_per_second", frame);
  chance = emitter.number("birth_chance", frame) / 100;
  inheritedVelocity = emitter.number("inherit_parent_velocity", frame) / 100;
  stands = emitter.choiceAs<Stands>("shape_orientation",
                                    std::array<std::string_view, 3>{"world", "velocity", "surface_normal"});
  if (come != Come::Hits && stands == Stands::Surface) stands = Stands::Scene;
}

void ChildRule::describe(Hasher& hasher) const {
  hasher << static_cast<int>(come) << source << randomKey;
  each.describe(hasher);
  hasher << density << chance << inheritedVelocity << static_cast<int>(stands);
}

ChildBirths childBirths(const ChildRule& rule, const FrameTime& time, double from, double until,
                        const std::vector<ParentPath>& paths, const std::vector<SurfaceHit>& hits,
                        std::size_t max) {
  ChildBirths births;
  Collector collector(rule, from, until, max, births);
  const Counter counter(rule);
  if (rule.come == Come::Hits) {
    std::uint64_t which = 0;
    for (const SurfaceHit& hit : hits) {
      const ParentPath* path = pathOf(paths, hit.particle);
      if (!path || !counter.gives(path->id)) continue;
      const double moment = std::clamp(hit.time - time.start, path->from, path->end);
      collector.add(*path, moment, counter.births(*path, moment, ++which), Vec3d(hit.position),
                    Vec3d(hit.normal));
    }
    return births;
  }
  for (const ParentPath& path : paths) {
    if (!counter.gives(path.id)) continue;
    if (rule.come == Come::Births && path.isBorn)
      collector.add(path, path.from, counter.births(path, path.from));
    if (rule.come == Come::Deaths && path.dies)
      collector.add(path, path.until, counter.births(path, path.until));
    if (rule.come == Come::Lives)
      addSteadily(
          path, path.age, path.ageAt(path.until), rule.density, counter.phase(path.id),
          [&path](double age) { return path.from + age - static_cast<double>(path.age); }, collector, births);
    if (rule.come == Come::Ways)
      addSteadily(
          path, path.travelled, path.travelled + lengthUntil(path, path.until), rule.density,
          counter.phase(path.id),
          [&path](double gone) { return momentAfter(path, gone - static_cast<double>(path.travelled)); },
          collector, births);
  }
  return births;
}

}  // namespace comet
