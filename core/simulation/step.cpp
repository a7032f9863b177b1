#include "simulation/step.h"

#include "base/error.h"
#include "base/parallel.h"
#include "simulation/deflectors/deflect.h"
#include "simulation/integrate.h"
#include "simulation/rules/apply_rules.h"

#include <algorithm>
#include <chrono>
#include <cstring>
#include <map>
#include <new>
#include <numeric>
#include <tbb/enumerable_thread_specific.h>
#include <tuple>

namespace comet {
namespace {

using Field = ParticleStore::Field;
using Clock = std::chrono::steady_clock;

double millisecondsSince(Clock::time_point start) {
  return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
}

// What a thread needs for one chunk at a time.
struct Workspace {
  Chunk chunk;
  Forces forces;
  std::array<double, kChunkSize> durations;
  std::array<double, kChunkSize> masses;
  ChunkArray weights;
  WayStart wayStart;
  std::array<double, kChunkSize> radii;
  std::vector<ActingDeflector> deflectors;
  std::vector<ChunkArray> deflectorWeights;  // as many as there are deflectors, or more
  std::map<ItemId, DeflectionCount> deflections;
  WayStart stepStart;  // of sources
};

using Workspaces = tbb::enumerable_thread_specific<std::unique_ptr<Workspace>>;

Workspace& workspaceOf(Workspaces& workspaces) {
  std::unique_ptr<Workspace>& mine = workspaces.local();
  // Zeroed: vectors read past a chunk's end, and what they find there must not be a signalling pattern.
  if (!mine) mine = std::make_unique<Workspace>();
  return *mine;
}

std::size_t chunkCount(std::size_t particles) { return (particles + kChunkSize - 1) / kChunkSize; }

std::size_t chunkLength(std::size_t particles, std::size_t chunk) {
  return std::min(kChunkSize, particles - chunk * kChunkSize);
}

// With `fields`, of which those that the store lacks are zero.
void loadChunk(const ParticleStore& store, FieldSet fields, std::size_t first, std::size_t count,
               Chunk& chunk) {
  chunk.count = count;
  chunk.ids = store.ids() + first;
  chunk.present = fields;
  fields.forEach([&](Field field) {
    float* target = chunk.fields[field].data();
    if (const float* source = store.field(field))
      std::memcpy(target, source + first, count * sizeof(float));
    else
      std::fill_n(target, count, 0.0F);
  });
}

// What is left of a chunk after a step.
struct Survivors {
  std::size_t count = 0;
  std::size_t lost = 0;  // would live, but their place or velocity is no number any more
};

// Writes the particles that still live, in their order, from `target` on.
Survivors storeLiving(const Chunk& chunk, ParticleStore& store, std::size_t target) {
  const float* age = chunk.field(ParticleStore::Age);
  const float* lifetime = chunk.field(ParticleStore::Lifetime);
  std::array<std::uint16_t, kChunkSize> living;
  std::size_t count = 0, lost = 0;
  for (std::size_t i = 0; i < chunk.count; ++i) {
    float sum = 0;
    for (int field = ParticleStore::PositionX; field <= ParticleStore::VelocityZ; ++field)
      sum += chunk.fields[static_cast<std::size_t>(field)][i];
    const bool lives = age[i] < lifetime[i], isNumber = sum - sum == 0;
    living[count] = static_cast<std::uint16_t>(i);
    count += lives && isNumber ? 1 : 0;
    lost += lives && !isNumber ? 1 : 0;
  }
  const bool allLive = count == chunk.count;
  store.fields().forEach([&](Field field) {
    const float* source = chunk.fields[field].data();
    float* out = store.field(field) + target;
    if (allLive)
      std::memcpy(out, source, count * sizeof(float));
    else
      for (std::size_t i = 0; i < count; ++i) out[i] = source[living[i]];
  });
  for (std::size_t i = 0; i < count; ++i) store.ids()[target + i] = chunk.ids[living[i]];
  return {count, lost};
}

// Derived anew in each step, since it is not stored.
Masses massesOf(const MassRule& rule, Workspace& work) {
  if (rule.isUniform()) return {rule.uniform(), nullptr};
  const Chunk& chunk = work.chunk;
  for (std::size_t i = 0; i < chunk.count; ++i)
    work.masses[i] = rule.of(chunk.ids[i], [&] { return chunk.moment(i); });
  return {1, work.masses.data()};
}

// Ends the particles that the bounds do not allow where they are now.
void endAtBounds(const EndBounds& bounds, Chunk& chunk) {
  if (bounds.type == EndBounds::Type::None) return;
  for (std::size_t i = 0; i < chunk.count; ++i) {
    float& lifetime = chunk.field(ParticleStore::Lifetime)[i];
    if (bounds.ends(chunk.position(i))) lifetime = std::min(lifetime, chunk.field(ParticleStore::Age)[i]);
  }
}

// Seconds since each particle's birth, in the middle of its way through a substep. `before` is how long the
// frame's step has gone on when the substep begins; `births` are those of particles that are born in it, or
// null.
void setMiddleAges(const Durations& durations, double before, double length, const double* births,
                   Chunk& chunk) {
  const float* age = chunk.field(ParticleStore::Age);
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const double end = births ? before + length - births[i] : age[i] + before + length;
    chunk.middleAge[i] = static_cast<float>(std::max(0.0, end - 0.5 * durations.of(i)));
  }
}

template <typename Asks>
bool anyAsks(const EmitterPlan& plan, const Asks& asks) {
  return std::any_of(plan.influences.begin(), plan.influences.end(), asks);
}

// Half of each particle's size; null if nobody has to know.
const double* radiiOf(const EmitterPlan& plan, Workspace& work) {
  if (!plan.size) return nullptr;
  for (std::size_t i = 0; i < work.chunk.count; ++i)
    work.radii[i] = 0.5 * plan.size->diameter(work.chunk.ids[i]);
  return work.radii.data();
}

bool hasDeflectors(const EmitterPlan& plan) {
  return anyAsks(plan, [](const ActingInfluence& acting) { return acting.action().deflector() != nullptr; });
}

void applyDeflectors(const EmitterPlan& plan, const Substep& substep, const Durations& durations,
                     Workspace& work) {
  work.deflectors.clear();
  // Before anything points into it.
  work.deflectorWeights.resize(std::max(work.deflectorWeights.size(), plan.influences.size()));
  std::size_t count = 0;
  for (const ActingInfluence& acting : plan.influences) {
    const Deflector* deflector = acting.action().deflector();
    if (!deflector) continue;
    work.deflectors.push_back({acting.influence(), deflector,
                               acting.weights(work.chunk, work.deflectorWeights[count++]),
                               &work.deflections[acting.influence()]});
  }
  deflect(work.deflectors, work.wayStart, substep, durations, radiiOf(plan, work), work.chunk);
}

// Takes back whatever moved those that a rule holds still.
void holdStill(Workspace& work) {
  const float* still = work.chunk.field(ParticleStore::Still);
  for (std::size_t i = 0; i < work.chunk.count; ++i) {
    if (still[i] == 0) continue;
    work.chunk.setPosition(i, work.wayStart.position(i));
    work.chunk.setVelocity(i, Vec3d(0.0));
  }
}

void applyInfluences(const EmitterPlan& plan, const Substep& substep, const Durations& durations,
                     const Masses& masses, Workspace& work) {
  work.forces.clear();
  if (anyAsks(plan, [](const ActingInfluence& acting) {
        return acting.readsPositions() || acting.action().readsPositions();
      }))
    predictMiddle(work.chunk, durations);
  const bool deflects = hasDeflectors(plan), holdsStill = work.chunk.present.has(ParticleStore::Still);
  if (deflects || holdsStill) work.wayStart.take(work.chunk);
  for (const ActingInfluence& acting : plan.influences)
    if (acting.action().adds())
      acting.action().addTo(work.forces, work.chunk, substep, acting.weights(work.chunk, work.weights));
  integrate(work.chunk, work.forces, durations, masses);
  for (const ActingInfluence& acting : plan.influences)
    if (acting.action().corrects())
      acting.action().correct(work.chunk, substep, durations, masses,
                              acting.weights(work.chunk, work.weights));
  if (deflects) applyDeflectors(plan, substep, durations, work);
  if (holdsStill) holdStill(work);
}

Substep substepOf(const FramePlan& plan, int index) {
  const double length = plan.time.length / plan.substeps;
  return {plan.time.start + index * length, length};
}

// Notes the ways of a source's particles, from where they were when the step began, and how far they have
// gone by now. `births` as for setMiddleAges; `ways` has room for the chunk.
void noteWays(const FramePlan& plan, const double* births, Workspace& work, ParentWay* ways) {
  Chunk& chunk = work.chunk;
  const double length = plan.time.length;
  const auto fieldIf = [&chunk](Field field) {
    return chunk.present.has(field) ? chunk.field(field) : nullptr;
  };
  float* travelled = fieldIf(ParticleStore::Travelled);
  const float *fired = fieldIf(ParticleStore::RulesFired), *tags = fieldIf(ParticleStore::Tags);
  for (std::size_t i = 0; i < chunk.count; ++i) {
    ParentWay& way = ways[i];
    way.id = chunk.ids[i];
    way.isBorn = births != nullptr;
    way.from = births ? births[i] : 0;
    way.end = length;
    way.startPosition = Vec3(work.stepStart.position(i));
    way.startVelocity = Vec3(work.stepStart.velocity(i));
    way.endPosition = Vec3(chunk.position(i));
    way.endVelocity = Vec3(chunk.velocity(i));
    way.age = chunk.field(ParticleStore::Age)[i] - static_cast<float>(length - way.from);
    // A deflector that ended it has left no lifetime; it lies where it was hit.
    const float lifetime = chunk.field(ParticleStore::Lifetime)[i];
    way.dies = chunk.field(ParticleStore::Age)[i] >= lifetime;
    way.lifetime = std::max(lifetime, way.age);
    const double ends = way.from + static_cast<double>(lifetime) - static_cast<double>(way.age);
    way.until = way.dies && ends > way.from ? std::min(length, ends) : length;
    if (fired) way.rulesFired = fired[i];
    if (tags) way.tags = tags[i];
    way.lineage = lineageOf(
        chunk.present, [&chunk](Field field) { return chunk.field(field); }, i);
    if (!travelled) continue;
    way.travelled = travelled[i];
    travelled[i] += static_cast<float>(lengthUntil(way, way.until));
  }
}

// Moves particles that existed before the step. `ways` are those of a source, or null.
void advanceOld(const FramePlan& plan, const EmitterPlan& emitter, Workspace& work, ParentWay* ways) {
  if (ways) work.stepStart.take(work.chunk);
  const Masses masses = massesOf(emitter.emission.mass, work);
  const bool readsAges = anyAsks(emitter, [](const ActingInfluence& acting) { return acting.readsAges(); });
  for (int i = 0; i < plan.substeps; ++i) {
    const Substep substep = substepOf(plan, i);
    const Durations durations{substep.length, nullptr};
    if (readsAges) setMiddleAges(durations, i * substep.length, substep.length, nullptr, work.chunk);
    applyInfluences(emitter, substep, durations, masses, work);
  }
  const auto length = static_cast<float>(plan.time.length);
  float* age = work.chunk.field(ParticleStore::Age);
  for (std::size_t i = 0; i < work.chunk.count; ++i) age[i] += length;
  endAtBounds(emitter.emission.bounds, work.chunk);
  if (ways) noteWays(plan, nullptr, work, ways);
}

// Moves particles born during the step, each from its own birth on. `births` are seconds since the step's
// start.
void advanceNew(const FramePlan& plan, const EmitterPlan& emitter, const double* births, Workspace& work,
                ParentWay* ways) {
  if (ways) work.stepStart.take(work.chunk);
  const Masses masses = massesOf(emitter.emission.mass, work);
  const bool readsAges = anyAsks(emitter, [](const ActingInfluence& acting) { return acting.readsAges(); });
  for (int s = 0; s < plan.substeps; ++s) {
    const Substep substep = substepOf(plan, s);
    const double end = (s + 1) * substep.length;
    for (std::size_t i = 0; i < work.chunk.count; ++i)
      work.durations[i] = std::clamp(end - births[i], 0.0, substep.length);
    const Durations durations{substep.length, work.durations.data()};
    if (readsAges) setMiddleAges(durations, s * substep.length, substep.length, births, work.chunk);
    applyInfluences(emitter, substep, durations, masses, work);
  }
  float* age = work.chunk.field(ParticleStore::Age);
  for (std::size_t i = 0; i < work.chunk.count; ++i)
    age[i] += static_cast<float>(plan.time.length - births[i]);
  endAtBounds(emitter.emission.bounds, work.chunk);
  if (ways) noteWays(plan, births, work, ways);
}

// Sets by how much particles are shown elsewhere at the end of the frame's step.
void displace(const FramePlan& plan, const EmitterPlan& emitter, Workspaces& workspaces,
              ParticleStore& store) {
  if (!anyAsks(emitter, [](const ActingInfluence& acting) { return acting.action().displaces(); })) return;
  std::vector<Vec3> displacement(store.size());
  parallelForEqual(chunkCount(store.size()), [&](std::size_t c) {
    Workspace& work = workspaceOf(workspaces);
    const std::size_t first = c * kChunkSize;
    Chunk& chunk = work.chunk;
    loadChunk(store, store.fields(), first, chunkLength(store.size(), c), chunk);
    for (std::size_t axis = 0; axis < 3; ++axis)
      chunk.middle[axis] = chunk.fields[ParticleStore::PositionX + axis];
    chunk.middleAge = chunk.fields[ParticleStore::Age];
    Contribution& sum = work.forces.force;
    sum.clear();
    for (const ActingInfluence& acting : emitter.influences)
      if (acting.action().displaces())
        acting.action().addDisplacement(sum, chunk, plan.time.start + plan.time.length,
                                        acting.weights(chunk, work.weights));
    for (std::size_t i = 0; i < chunk.count; ++i) displacement[first + i] = Vec3(sum.of(i));
  });
  store.setDisplacement(std::move(displacement));
}

// Where each chunk's survivors begin in the next frame, and behind the last entry their number in all. Only
// ages decide here, so it is known before anything moves.
std::vector<std::size_t> survivorOffsets(const ParticleStore& store, double length) {
  const std::size_t chunks = chunkCount(store.size());
  std::vector<std::size_t> offsets(chunks + 1, 0);
  const auto step = static_cast<float>(length);
  parallelForEqual(chunks, [&](std::size_t c) {
    const float* age = store.field(ParticleStore::Age) + c * kChunkSize;
    const float* lifetime = store.field(ParticleStore::Lifetime) + c * kChunkSize;
    std::size_t living = 0;
    for (std::size_t i = 0; i < chunkLength(store.size(), c); ++i)
      living += age[i] + step < lifetime[i] ? 1 : 0;
    offsets[c + 1] = living;
  });
  std::partial_sum(offsets.begin(), offsets.end(), offsets.begin());
  return offsets;
}

// Births that rules of another emitter ask for.
void addRuleBirths(const EmissionPlan& emission, const std::vector<RuleBirths>& births, std::size_t most,
                   ChildBirths& children) {
  for (const RuleBirths& asked : births) {
    if (asked.emitter != emission.emitter) continue;
    children.wanted += asked.count;
    Origin origin = asked.origin;
    if (emission.child.stands == ChildRule::Stands::Motion) origin.up = unitOr(origin.velocity, origin.up);
    const std::size_t room = most - children.origins.size();
    children.origins.insert(children.origins.end(), std::min<std::uint64_t>(asked.count, room), origin);
  }
}

// One emitter's part of the step, in the order in which it is done.
class GroupStep {
 public:
  GroupStep(const FramePlan& plan, const EmitterPlan& emitter, const ParticleGroup* previous)
      : plan_(plan), emitter_(emitter), previous_(previous) {
    const BirthState before = previous ? previous->births : BirthState{};
    births_ = birthTimes(emitter.emission, before, plan.mostParticles);
    firstBirth_ = before.next;
    fields_ = emitter.fields;
    if (!previous) return;
    fields_ |= previous->particles.fields();
    offsets_ = survivorOffsets(previous->particles, plan.time.length);
  }

  bool isChild() const { return emitter_.emission.child.isChild(); }
  // Of a child: finds the births that follow from what its sources have done in this step. `most` are listed.
  void bear(const std::vector<const GroupStep*>& sources, const std::vector<SurfaceHit>& hits,
            std::size_t most) {
    const EmissionPlan& emission = emitter_.emission;
    ChildBirths children;
    for (const GroupStep* source : sources) {
      const std::size_t room = most - children.origins.size();
      if (source->emitter_.emission.emitter == emission.child.source) {
        ChildBirths own = childBirths(emission.child, plan_.time, emission.emitsFrom, emission.emitsUntil,
                                      source->ways_, hits, room);
        children.origins.insert(children.origins.end(), own.origins.begin(), own.origins.end());
        children.wanted += own.wanted;
      }
      addRuleBirths(emission, source->outcome_.births, most, children);
    }
    origins_ = std::move(children.origins);
    births_.times.resize(origins_.size());
    std::transform(origins_.begin(), origins_.end(), births_.times.begin(),
                   [](const Origin& origin) { return origin.time; });
    births_.wanted = children.wanted;
    births_.after.next = firstBirth_ + origins_.size();
  }

  // Lets the emitter's rules see what has become of its particles in this step.
  void applyRules(const RuleScene& scene) {
    outcome_ = comet::applyRules(emitter_.rules, scene, ways_, store_);
    earlyDeaths_ += outcome_.removed.size();
    remove(outcome_.removed);
  }
  bool hasRules() const { return !emitter_.rules.empty(); }
  const RuleOutcome& outcome() const { return outcome_; }
  const EmitterPlan& emitter() const { return emitter_; }

  std::size_t survivors() const { return offsets_.back(); }
  std::uint64_t wantedBirths() const { return births_.wanted; }
  std::size_t births() const { return births_.times.size(); }
  std::size_t deaths() const {
    return (previous_ ? previous_->particles.size() : 0) - survivors() + earlyDeaths_;
  }

  std::size_t lost() const { return lost_; }

  // Lets at most `most` of the births happen, and no more than the emitter may have alive.
  void limitBirths(std::size_t most) {
    if (const std::uint64_t own = emitter_.emission.mostAlive; own > 0)
      most = std::min(most, own > survivors() ? static_cast<std::size_t>(own - survivors()) : 0);
    births_.times.resize(std::min(most, births_.times.size()));
    if (isChild()) births_.after.next = firstBirth_ + births_.times.size();
  }

  void moveOld(Workspaces& workspaces) {
    store_ = ParticleStore(survivors() + births_.times.size(), fields_);
    if (!previous_) return;
    const ParticleStore& old = previous_->particles;
    if (emitter_.isSource) ways_.resize(old.size());
    store_.resize(survivors());
    std::vector<Survivors> living(chunkCount(old.size()));
    parallelForEqual(living.size(), [&](std::size_t c) {
      Workspace& work = workspaceOf(workspaces);
      loadChunk(old, fields_, c * kChunkSize, chunkLength(old.size(), c), work.chunk);
      advanceOld(plan_, emitter_, work, emitter_.isSource ? ways_.data() + c * kChunkSize : nullptr);
      living[c] = storeLiving(work.chunk, store_, offsets_[c]);
    });
    closeGaps(living);
    countLost(living);
  }

  void addNew(Workspaces& workspaces) {
    const std::size_t count = births_.times.size();
    ParticleStore newborn(count, fields_);
    newborn.resize(count);
    const std::size_t oldWays = ways_.size();
    if (emitter_.isSource) ways_.resize(oldWays + count);
    std::vector<Survivors> living(chunkCount(count));
    parallelFor(living.size(), [&](std::size_t c) {
      Workspace& work = workspaceOf(workspaces);
      const std::size_t first = c * kChunkSize, length = chunkLength(count, c);
      for (std::size_t i = first; i < first + length; ++i)
        placeBirth(emitter_.emission, firstBirth_ + i, births_.times[i],
                   origins_.empty() ? nullptr : &origins_[i], newborn, i);
      loadChunk(newborn, fields_, first, length, work.chunk);
      advanceNew(plan_, emitter_, births_.times.data() + first, work,
                 emitter_.isSource ? ways_.data() + oldWays + first : nullptr);
      // First into its own place, since how many die before their first frame is known only now.
      living[c] = storeLiving(work.chunk, newborn, first);
    });
    const std::size_t before = store_.size();
    for (std::size_t c = 0; c < living.size(); ++c) append(newborn, c * kChunkSize, living[c].count);
    earlyDeaths_ += before + count - store_.size();
    countLost(living);
  }

  ParticleGroup finish(Workspaces& workspaces) {
    displace(plan_, emitter_, workspaces, store_);
    return {emitter_.emission.emitter, births_.after, std::move(store_)};
  }

 private:
  void countLost(const std::vector<Survivors>& living) {
    for (const Survivors& chunk : living) lost_ += chunk.lost;
  }

  // Those at these places, which ascend.
  void remove(const std::vector<std::size_t>& indices) {
    if (indices.empty()) return;
    const auto closeUp = [&](auto* values) {
      std::size_t target = indices.front();
      auto next = indices.begin();
      for (std::size_t i = target; i < store_.size(); ++i) {
        if (next != indices.end() && *next == i)
          ++next;
        else
          values[target++] = values[i];
      }
    };
    fields_.forEach([&](Field field) { closeUp(store_.field(field)); });
    closeUp(store_.ids());
    store_.resize(store_.size() - indices.size());
  }

  // Bounds end particles that their age would have let live: what follows them moves up.
  void closeGaps(const std::vector<Survivors>& living) {
    std::size_t target = 0;
    for (std::size_t c = 0; c < living.size(); ++c) {
      if (target != offsets_[c]) {
        fields_.forEach([&](Field field) {
          float* values = store_.field(field);
          std::memmove(values + target, values + offsets_[c], living[c].count * sizeof(float));
        });
        std::memmove(store_.ids() + target, store_.ids() + offsets_[c], living[c].count * sizeof(ParticleId));
      }
      target += living[c].count;
    }
    earlyDeaths_ += survivors() - target;
    store_.resize(target);
  }

  void append(const ParticleStore& source, std::size_t first, std::size_t count) {
    const std::size_t target = store_.size();
    store_.resize(target + count);
    if (count == 0) return;
    fields_.forEach([&](Field field) {
      std::memcpy(store_.field(field) + target, source.field(field) + first, count * sizeof(float));
    });
    std::memcpy(store_.ids() + target, source.ids() + first, count * sizeof(ParticleId));
  }

  const FramePlan& plan_;
  const EmitterPlan& emitter_;
  const ParticleGroup* previous_;
  std::uint64_t firstBirth_ = 0;
  FieldSet fields_;  // what was remembered goes on, whether or not an influence asks for it now
  BirthTimes births_;
  std::vector<Origin> origins_;  // of a child's births
  std::vector<ParentWay> ways_;  // of a source, by identity
  RuleOutcome outcome_;
  std::vector<std::size_t> offsets_{0};
  std::size_t earlyDeaths_ = 0;
  std::size_t lost_ = 0;
  ParticleStore store_;
};

// Births beyond the limit of living particles do not happen; emitters are served in the scene's order.
std::size_t refuseBirths(std::vector<GroupStep>& groups, std::size_t most) {
  std::size_t living = 0, refused = 0;
  for (const GroupStep& group : groups) living += group.survivors();
  for (GroupStep& group : groups) {
    group.limitBirths(living < most ? most - living : 0);
    living += group.births();
    refused += group.wantedBirths() - group.births();
  }
  return refused;
}

// Of all threads, by their times.
std::vector<SurfaceHit> hitsOf(const Workspaces& workspaces) {
  std::vector<SurfaceHit> hits;
  for (const std::unique_ptr<Workspace>& work : workspaces)
    for (const auto& [deflector, count] : work->deflections)
      hits.insert(hits.end(), count.list.begin(), count.list.end());
  const auto isEarlier = [](const SurfaceHit& a, const SurfaceHit& b) {
    return std::tie(a.time, a.particle, a.deflector) < std::tie(b.time, b.particle, b.deflector);
  };
  std::sort(hits.begin(), hits.end(), isEarlier);
  return hits;
}

// Finds the births of a child emitter, within the limit of living particles; returns how many it stopped.
std::size_t bearChildren(const FramePlan& plan, std::size_t index, const Workspaces& workspaces,
                         std::vector<GroupStep>& groups) {
  std::size_t living = 0;
  for (const GroupStep& group : groups) living += group.survivors() + group.births();
  const std::size_t room = living < plan.mostParticles ? plan.mostParticles - living : 0;
  std::vector<const GroupStep*> sources;
  for (const ItemId id : plan.emitters[index].sources) sources.push_back(&groups[plan.indexOf(id).value()]);
  GroupStep& group = groups[index];
  const bool asksHits = plan.emitters[index].emission.child.come == ChildRule::Come::Hits;
  group.bear(sources, asksHits ? hitsOf(workspaces) : std::vector<SurfaceHit>(), room);
  group.limitBirths(room);
  return group.wantedBirths() - group.births();
}

// Of those emitters whose particles rules ask to be near, as they were before the step.
std::map<ItemId, std::shared_ptr<const NeighbourGrid>> gridsForRules(const FramePlan& plan,
                                                                     const ParticleFrame& previous) {
  std::map<ItemId, double> radii;
  for (const EmitterPlan& emitter : plan.emitters)
    for (const PlannedRule& rule : emitter.rules.rules)
      for (const PlannedClause& ready : rule.when)
        if (ready.when() == RuleWhen::Near && ready.clause.first > 0)
          radii[ready.clause.item.id] = std::max(radii[ready.clause.item.id], ready.clause.first);
  std::map<ItemId, std::shared_ptr<const NeighbourGrid>> grids;
  for (const auto& [id, radius] : radii)
    if (const ParticleGroup* group = previous.find(id))
      grids[id] =
          std::make_shared<const NeighbourGrid>(std::vector<const ParticleStore*>{&group->particles}, radius);
  return grids;
}

// The particles of a start state, for the emitters that are there.
void takeStart(const ParticleFrame& start, const FramePlan& plan, Workspaces& workspaces,
               ParticleFrame& frame) {
  for (const EmitterPlan& emitter : plan.emitters) {
    const ParticleGroup* group = start.find(emitter.emission.emitter);
    if (!group) continue;
    frame.groups.push_back({group->emitter, group->births, group->particles.copy()});
    displace(plan, emitter, workspaces, frame.groups.back().particles);
    frame.stats.living += group->particles.size();
  }
}

// Summed up over the threads, in the order of the scene.
std::vector<DeflectionStats> deflectionsOf(const FramePlan& plan, const Workspaces& workspaces) {
  std::vector<DeflectionStats> all;
  for (const EmitterPlan& emitter : plan.emitters)
    for (const ActingInfluence& acting : emitter.influences) {
      const ItemId id = acting.influence();
      const bool isListed = std::any_of(all.begin(), all.end(),
                                        [id](const DeflectionStats& stats) { return stats.deflector == id; });
      if (!acting.action().deflector() || isListed) continue;
      DeflectionStats sum{id, 0, 0};
      for (const std::unique_ptr<Workspace>& work : workspaces) {
        const auto found = work->deflections.find(id);
        if (found == work->deflections.end()) continue;
        sum.hits += found->second.hits;
        sum.caught += found->second.caught;
      }
      if (sum.hits + sum.caught > 0) all.push_back(sum);
    }
  return all;
}

ParticleFramePtr step(const ParticleFrame& previous, const FramePlan& plan) {
  auto frame = std::make_shared<ParticleFrame>();
  frame->frame = plan.time.frame;
  Workspaces workspaces;
  if (plan.start) {
    takeStart(*plan.start, plan, workspaces, *frame);
    return frame;
  }
  std::vector<GroupStep> groups;
  groups.reserve(plan.emitters.size());
  for (const EmitterPlan& emitter : plan.emitters)
    groups.emplace_back(plan, emitter, previous.find(emitter.emission.emitter));
  FrameStats& stats = frame->stats;
  stats.lost = previous.stats.lost;
  stats.refused = refuseBirths(groups, plan.mostParticles);

  const auto grids = gridsForRules(plan, previous);
  // Births take part in the order of their generations; groups stay in the scene's order.
  for (const std::size_t index : plan.order) {
    GroupStep& group = groups[index];
    const auto start = Clock::now();
    if (group.isChild()) stats.refused += bearChildren(plan, index, workspaces, groups);
    group.moveOld(workspaces);
    stats.motionMilliseconds += millisecondsSince(start);
    const auto births = Clock::now();
    group.addNew(workspaces);
    stats.birthMilliseconds += millisecondsSince(births);
    stats.births += group.births();
    stats.deaths += group.deaths();
    stats.lost += group.lost();
    if (!group.hasRules()) continue;
    const bool asksHits = group.emitter().rules.asks(RuleWhen::Hit);
    const std::vector<SurfaceHit> hits = asksHits ? hitsOf(workspaces) : std::vector<SurfaceHit>();
    group.applyRules({plan.time, hits, grids});
    for (std::size_t rule = 0; rule < group.outcome().fired.size(); ++rule)
      if (group.outcome().fired[rule] > 0)
        frame->rules.push_back({group.emitter().emission.emitter, static_cast<std::uint32_t>(rule),
                                group.outcome().fired[rule]});
  }
  for (GroupStep& group : groups) {
    frame->groups.push_back(group.finish(workspaces));
    stats.living += frame->groups.back().particles.size();
  }
  frame->deflections = deflectionsOf(plan, workspaces);
  frame->hits = hitsOf(workspaces);
  if (frame->hits.size() > kMostHitsKept) frame->hits.resize(kMostHitsKept);
  frame->hits.shrink_to_fit();
  return frame;
}

}  // namespace

ParticleFramePtr stepFrame(const ParticleFrame& previous, const FramePlan& plan) {
  try {
    return step(previous, seeing(previous, plan));
  } catch (const std::bad_alloc&) {
    throw Error(ErrorKind::Budget, "", "there is not enough memory for the particles of one frame",
                "Lower the rate, the lifetime or \"Most particles\"");
  }
}

}  // namespace comet
