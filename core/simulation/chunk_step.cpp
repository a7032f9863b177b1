#include "simulation/chunk_step.h"

#include "base/stoppable.h"
#include "particles/rolling.h"
#include "simulation/motion/integrate.h"

#include <algorithm>
#include <cstring>

namespace comet {
namespace {

using Field = ParticleStore::Field;

// Ends the particles that the bounds do not allow where they are now.
void endAtBounds(const EndBounds& bounds, Chunk& chunk) {
  if (bounds.type == EndBounds::Type::None) return;
  for (std::size_t i = 0; i < chunk.count; ++i) {
    float& lifetime = chunk.field(ParticleStore::Lifetime)[i];
    if (bounds.ends(chunk.position(i))) lifetime = std::min(lifetime, chunk.field(ParticleStore::Age)[i]);
  }
}

// Seconds since each particle's birth, in the middle of its way through a small step.
void setMiddleAges(const Durations& durations, const SmallStep& step, const double* births, Chunk& chunk) {
  const float* age = chunk.field(ParticleStore::Age);
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const double length = step.substep.length;
    const double end = births ? step.begin() + length - births[i] : age[i] + step.begin() + length;
    chunk.middleAge[i] = static_cast<float>(std::max(0.0, end - 0.5 * durations.of(i)));
  }
}

// Half of each particle's size, or of a card's thickness; null if nobody has to know.
const double* radiiOf(const EmitterPlan& plan, Workspace& work) {
  if (!plan.size) return nullptr;
  if (plan.card) {
    std::fill_n(work.radii.begin(), work.chunk.count, 0.5 * plan.card->thickness());
    return work.radii.data();
  }
  for (std::size_t i = 0; i < work.chunk.count; ++i)
    work.radii[i] = 0.5 * plan.size->diameter(work.chunk.ids[i]);
  return work.radii.data();
}

void applyDeflectors(const Schedule& schedule, const Substep& substep, const Durations& durations,
                     Workspace& work) {
  setDeflectors(schedule, substep, work);
  deflect(work.deflectors, work.substepStart, substep, durations, radiiOf(schedule.emitter, work),
          work.chunk);
}

// Takes back whatever moved those that a rule holds still.
void holdStill(Workspace& work) {
  const float* still = work.chunk.field(ParticleStore::Still);
  for (std::size_t i = 0; i < work.chunk.count; ++i) {
    if (still[i] == 0) continue;
    work.chunk.setPosition(i, work.substepStart.position(i));
    work.chunk.setVelocity(i, Vec3d(0.0));
    if (work.chunk.present.has(ParticleStore::RollX)) setRoll(work.chunk, i, Vec3d(0.0));
  }
}

// Whatever moved particles out of their plane is taken back.
void keepDepth(Workspace& work) {
  const float* before = work.substepStart.fields[ParticleStore::PositionZ].data();
  std::copy_n(before, work.chunk.count, work.chunk.field(ParticleStore::PositionZ));
  std::fill_n(work.chunk.field(ParticleStore::VelocityZ), work.chunk.count, 0.0F);
}

// Notes the ways of a source's particles, from where they were when the step began, and how far they have
// gone by now. `paths` has room for the chunk.
void notePaths(const FramePlan& plan, const double* births, Workspace& work, ParentPath* paths) {
  Chunk& chunk = work.chunk;
  const double length = plan.time.length;
  const auto fieldIf = [&chunk](Field field) {
    return chunk.present.has(field) ? chunk.field(field) : nullptr;
  };
  float* travelled = fieldIf(ParticleStore::Travelled);
  const float *fired = fieldIf(ParticleStore::RulesFired), *tags = fieldIf(ParticleStore::Tags);
  for (std::size_t i = 0; i < chunk.count; ++i) {
    ParentPath& path = paths[i];
    path.id = chunk.ids[i];
    path.isBorn = births != nullptr;
    path.from = births ? births[i] : 0;
    path.end = length;
    path.startPosition = Vec3(work.stepStart.position(i));
    path.startVelocity = Vec3(work.stepStart.velocity(i));
    path.endPosition = Vec3(chunk.position(i));
    path.endVelocity = Vec3(chunk.velocity(i));
    path.age = chunk.field(ParticleStore::Age)[i] - static_cast<float>(length - path.from);
    // A deflector that ended it has left no lifetime; it lies where it was hit.
    const float lifetime = chunk.field(ParticleStore::Lifetime)[i];
    path.dies = chunk.field(ParticleStore::Age)[i] >= lifetime;
    path.lifetime = std::max(lifetime, path.age);
    const double ends = path.from + static_cast<double>(lifetime) - static_cast<double>(path.age);
    path.until = path.dies && ends > path.from ? std::min(length, ends) : length;
    if (fired) path.rulesFired = fired[i];
    if (tags) path.tags = tags[i];
    path.lineage = lineageOf(
        chunk.present, [&chunk](Field field) { return chunk.field(field); }, i);
    if (!travelled) continue;
    path.travelled = travelled[i];
    travelled[i] += static_cast<float>(lengthUntil(path, path.until));
  }
}

}  // namespace

Workspace& workspaceOf(Workspaces& workspaces) {
  std::unique_ptr<Workspace>& mine = workspaces.local();
  // Zeroed: vectors read past a chunk's end, and what they find there must not be a signalling pattern.
  if (!mine) mine = std::make_unique<Workspace>();
  return *mine;
}

void loadChunk(const ParticleStore& store, FieldSet fields, std::size_t first, std::size_t count,
               Chunk& chunk) {
  chunk.count = count;
  chunk.ids = store.ids() + first;
  chunk.startInGroup = first;
  chunk.present = fields;
  fields.forEach([&](Field field) {
    float* target = chunk.fields[field].data();
    if (const float* source = store.field(field))
      std::memcpy(target, source + first, count * sizeof(float));
    else
      std::fill_n(target, count, 0.0F);
  });
  chunk.bodies.assign(store.body(first), store.body(first + count));
}

void storeChunk(const Chunk& chunk, Field from, std::size_t first, ParticleStore& store) {
  store.fields().forEach([&](Field field) {
    if (field >= from)
      std::memcpy(store.field(field) + first, chunk.fields[field].data(), chunk.count * sizeof(float));
  });
}

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
  const std::size_t each = store.bodyNumbers();
  for (std::size_t i = 0; each > 0 && i < count; ++i)
    std::copy_n(chunk.bodies.data() + living[i] * each, each, store.body(target + i));
  return {count, lost};
}

Masses massesOf(const MassRule& rule, Workspace& work) {
  if (rule.isUniform()) return {rule.uniform(), nullptr};
  const Chunk& chunk = work.chunk;
  for (std::size_t i = 0; i < chunk.count; ++i)
    work.masses[i] = rule.of(chunk.ids[i], [&] { return chunk.moment(i); });
  return {1, work.masses.data()};
}

SmallStep smallStep(const FramePlan& plan, int number, int partsOfSubstep) {
  const double length = plan.time.length / (plan.substeps * partsOfSubstep);
  return {{plan.time.start + number * length, length, static_cast<std::size_t>(number / partsOfSubstep)},
          number};
}

Durations beginStep(const Schedule& schedule, const SmallStep& step, const double* births, Workspace& work) {
  const double length = step.substep.length;
  Durations durations{length, nullptr};
  if (births) {
    for (std::size_t i = 0; i < work.chunk.count; ++i)
      work.durations[i] = std::clamp(step.end() - births[i], 0.0, length);
    durations.own = work.durations.data();
  }
  if (schedule.readsAges) setMiddleAges(durations, step, births, work.chunk);
  if (schedule.readsPositions) predictMiddle(work.chunk, durations);
  const bool asksForStart = !schedule.touching.empty() || !schedule.deflecting.empty() ||
                            work.chunk.present.has(ParticleStore::Still) ||
                            work.chunk.present.has(ParticleStore::RollX) || schedule.keepsDepth;
  if (asksForStart) work.substepStart.take(work.chunk);
  return durations;
}

void push(const Schedule& schedule, const Substep& substep, const Durations& durations, const Masses& masses,
          Workspace& work) {
  work.forces.clear();
  const Samples samples = work.chunk.samples();
  for (const ActingInfluence* acting : schedule.pushing)
    acting->action().addTo(work.forces, samples, substep, acting->weights(samples, substep, work.weights));
  if (schedule.keepsDepth) work.forces.flatten();
  integrate(work.chunk, work.forces, durations, masses);
  for (const ActingInfluence* acting : schedule.correcting)
    acting->action().correct(work.chunk, substep, durations, masses,
                             acting->weights(samples, substep, work.weights));
}

void setDeflectors(const Schedule& schedule, const Substep& substep, Workspace& work) {
  work.deflectors.clear();
  // Before anything points into it.
  work.deflectorWeights.resize(std::max(work.deflectorWeights.size(), schedule.deflecting.size()));
  const Samples samples = work.chunk.samples();
  for (const ActingInfluence* acting : schedule.deflecting) {
    ChunkArray& room = work.deflectorWeights[work.deflectors.size()];
    work.deflectors.push_back({acting->influence(), acting->action().deflector(),
                               acting->weights(samples, substep, room),
                               &work.deflections[acting->influence()]});
  }
}

void meetSurfaces(const Schedule& schedule, const Substep& substep, const Durations& durations,
                  Workspace& work) {
  // Before deflectors, since they follow the path that is left.
  if (schedule.keepsDepth) keepDepth(work);
  const bool deflects = !schedule.deflecting.empty();
  if (deflects) applyDeflectors(schedule, substep, durations, work);
  if (schedule.keepsDepth && deflects) keepDepth(work);
  if (work.chunk.present.has(ParticleStore::Still)) holdStill(work);
}

void turnRolling(const Durations& durations, Workspace& work) {
  Chunk& chunk = work.chunk;
  if (!chunk.present.has(ParticleStore::RollX)) return;
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const Vec3d roll = 0.5 * (work.substepStart.roll(i) + rollOf(chunk, i));
    if (roll != Vec3d(0.0))
      setOrientation(chunk, i, turnedOn(orientationOf(chunk, i), roll, durations.of(i)));
  }
}

void endStep(const FramePlan& plan, const Schedule& schedule, const double* births, Workspace& work,
             ParentPath* paths) {
  float* age = work.chunk.field(ParticleStore::Age);
  for (std::size_t i = 0; i < work.chunk.count; ++i)
    age[i] += static_cast<float>(births ? plan.time.length - births[i] : plan.time.length);
  endAtBounds(schedule.emitter.emission.bounds, work.chunk);
  if (paths) notePaths(plan, births, work, paths);
}

void advance(const FramePlan& plan, const Schedule& schedule, const double* births, Workspace& work,
             ParentPath* paths) {
  if (births) work.chunk.startInGroup.reset();
  if (paths) work.stepStart.take(work.chunk);
  const Masses masses = massesOf(schedule.emitter.emission.mass, work);
  for (int number = 0; number < plan.substeps; ++number) {
    const SmallStep step = smallStep(plan, number);
    const Durations durations = beginStep(schedule, step, births, work);
    push(schedule, step.substep, durations, masses, work);
    meetSurfaces(schedule, step.substep, durations, work);
    turnRolling(durations, work);
  }
  endStep(plan, schedule, births, work, paths);
}

void displace(const FramePlan& plan, const Schedule& schedule, Workspaces& workspaces, ParticleStore& store,
              const Progress& progress) {
  if (schedule.displacing.empty()) return;
  std::vector<Vec3> displacement(store.size());
  const Substep last = smallStep(plan, plan.substeps - 1).substep;
  stoppableForEqual(chunkCount(store.size()), progress, [&](std::size_t c) {
    Workspace& work = workspaceOf(workspaces);
    const std::size_t first = c * kChunkSize;
    Chunk& chunk = work.chunk;
    loadChunk(store, store.fields(), first, chunkLength(store.size(), c), chunk);
    for (std::size_t axis = 0; axis < 3; ++axis)
      chunk.middle[axis] = chunk.fields[ParticleStore::PositionX + axis];
    chunk.middleAge = chunk.fields[ParticleStore::Age];
    Contribution& sum = work.forces.force;
    sum.clear();
    const Samples samples = chunk.samples();
    for (const ActingInfluence* acting : schedule.displacing)
      acting->action().addDisplacement(sum, samples, plan.time.start + plan.time.length,
                                       acting->weights(samples, last, work.weights));
    if (schedule.keepsDepth) {
      sum.all.z = 0;
      sum.own.axes[2].clear();
    }
    for (std::size_t i = 0; i < chunk.count; ++i) displacement[first + i] = Vec3(sum.of(i));
  });
  store.setDisplacement(std::move(displacement));
}

}  // namespace comet
