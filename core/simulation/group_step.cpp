#include "simulation/group_step.h"

#include "base/stoppable.h"

#include <algorithm>
#include <numeric>

namespace comet {
namespace {

// Where each chunk's survivors begin in the next frame, and behind the last entry their number in all. Only
// ages decide here, so it is known before anything moves.
std::vector<std::size_t> survivorOffsets(const ParticleStore& store, std::size_t chunkSize, double length) {
  const std::size_t chunks = chunkCount(store.size(), chunkSize);
  std::vector<std::size_t> offsets(chunks + 1, 0);
  const auto step = static_cast<float>(length);
  parallelForEqual(chunks, [&](std::size_t c) {
    const float* age = store.field(ParticleStore::Age) + c * chunkSize;
    const float* lifetime = store.field(ParticleStore::Lifetime) + c * chunkSize;
    std::size_t living = 0;
    for (std::size_t i = 0; i < chunkLength(store.size(), c, chunkSize); ++i)
      living += age[i] + step < lifetime[i] ? 1 : 0;
    offsets[c + 1] = living;
  });
  std::partial_sum(offsets.begin(), offsets.end(), offsets.begin());
  return offsets;
}

// Births that rules of another emitter ask for.
void addRuleBirths(const EmissionPlan& emission, const std::vector<RuleBirths>& births, std::size_t max,
                   ChildBirths& children) {
  for (const RuleBirths& asked : births) {
    if (asked.emitter != emission.emitter) continue;
    children.wanted += asked.count;
    Origin origin = asked.origin;
    if (emission.child.stands == ChildRule::Stands::Motion) origin.up = unitOr(origin.velocity, origin.up);
    const std::size_t room = max - children.origins.size();
    children.origins.insert(children.origins.end(), std::min<std::uint64_t>(asked.count, room), origin);
  }
}

}  // namespace

GroupStep::GroupStep(const FramePlan& plan, const EmitterPlan& emitter, const ParticleGroup* previous,
                     const Progress& progress)
    : plan_(plan), emitter_(emitter), schedule_(emitter), previous_(previous), progress_(progress) {
  BirthState before = previous ? previous->births : BirthState{};
  if (plan.round) before = {*plan.round % kMaxRounds * kBirthsARound, 0};
  births_ = birthTimes(emitter.emission, before, plan.maxParticles);
  firstBirth_ = before.next;
  fields_ = emitter.fields;
  if (emitter.card) chunkSize_ = cards_.emplace(plan, schedule_).chunkSize();
  if (!previous) return;
  fields_ |= previous->particles.fields();
  offsets_ = survivorOffsets(previous->particles, chunkSize_, plan.time.length);
}

void GroupStep::bear(const std::vector<const GroupStep*>& sources, const std::vector<SurfaceHit>& hits,
                     std::size_t max) {
  const EmissionPlan& emission = emitter_.emission;
  ChildBirths children;
  for (const GroupStep* source : sources) {
    const std::size_t room = max - children.origins.size();
    if (source->emitter_.emission.emitter == emission.child.source) {
      ChildBirths own = childBirths(emission.child, plan_.time, emission.emitsFrom, emission.emitsUntil,
                                    source->paths_, hits, room);
      children.origins.insert(children.origins.end(), own.origins.begin(), own.origins.end());
      children.wanted += own.wanted;
    }
    addRuleBirths(emission, source->outcome_.births, max, children);
  }
  origins_ = std::move(children.origins);
  births_.times.resize(origins_.size());
  std::transform(origins_.begin(), origins_.end(), births_.times.begin(),
                 [](const Origin& origin) { return origin.time; });
  births_.wanted = children.wanted;
  births_.after.next = firstBirth_ + origins_.size();
}

void GroupStep::applyRules(const RuleScene& scene) {
  outcome_ = comet::applyRules(emitter_.rules, scene, paths_, store_);
  earlyDeaths_ += outcome_.removed.size();
  store_.remove(outcome_.removed);
}

void GroupStep::limitBirths(std::size_t max) {
  if (const std::uint64_t own = emitter_.emission.maxAlive; own > 0)
    max = std::min(max, own > survivors() ? static_cast<std::size_t>(own - survivors()) : 0);
  births_.times.resize(std::min(max, births_.times.size()));
  if (isChild()) births_.after.next = firstBirth_ + births_.times.size();
}

std::vector<MovingParticles*> GroupStep::startTogether() {
  std::vector<MovingParticles*> started;
  if (previous_) {
    const ParticleStore& old = previous_->particles;
    ParticleStore copy(old.size(), fields_);
    copy.append(old, 0, old.size());
    started.push_back(&oldTogether_.emplace(plan_, schedule_, std::move(copy), std::vector<double>()));
  }
  if (isChild()) return started;
  ParticleStore newborn(births(), fields_);
  newborn.resize(births());
  stoppableFor(chunkCount(births()), progress_,
               [&](std::size_t c) { place(c * kChunkSize, chunkLength(births(), c), newborn); });
  started.push_back(&newTogether_.emplace(plan_, schedule_, std::move(newborn), births_.times));
  return started;
}

void GroupStep::place(std::size_t first, std::size_t count, ParticleStore& newborn) const {
  for (std::size_t i = first; i < first + count; ++i) {
    const Birth born = placeBirth(emitter_.emission, firstBirth_ + i, births_.times[i],
                                  origins_.empty() ? nullptr : &origins_[i], newborn, i);
    if (emitter_.card)
      emitter_.card->place(newborn.ids()[i], born.position, born.velocity, born.launch, newborn.body(i));
  }
}

ParticleStore GroupStep::roomFor(std::size_t particles) const {
  return ParticleStore(particles, fields_, emitter_.card ? CardBody::numbers(emitter_.card->grid()) : 0);
}

void GroupStep::advance(const double* births, Workspace& work, ParentPath* paths) const {
  if (cards_)
    cards_->advance(births, work, paths);
  else
    comet::advance(plan_, schedule_, births, work, paths);
}

void GroupStep::moveOld(Workspaces& workspaces) {
  store_ = roomFor(survivors() + births());
  if (!previous_) return;
  const ParticleStore& old = previous_->particles;
  if (emitter_.isSource) paths_.resize(old.size());
  store_.resize(survivors());
  std::vector<Survivors> living(chunkCount(old.size(), chunkSize_));
  stoppableForEqual(living.size(), progress_, [&](std::size_t c) {
    Workspace& work = workspaceOf(workspaces);
    ParentPath* paths = emitter_.isSource ? paths_.data() + c * chunkSize_ : nullptr;
    if (oldTogether_) {
      oldTogether_->end(c, work, paths);
    } else {
      loadChunk(old, fields_, c * chunkSize_, chunkLength(old.size(), c, chunkSize_), work.chunk);
      advance(nullptr, work, paths);
    }
    living[c] = storeLiving(work.chunk, store_, offsets_[c]);
  });
  closeGaps(living);
  countLost(living);
}

void GroupStep::addNew(Workspaces& workspaces) {
  const std::size_t count = births();
  ParticleStore newborn = roomFor(count);
  newborn.resize(count);
  const std::size_t oldPaths = paths_.size();
  if (emitter_.isSource) paths_.resize(oldPaths + count);
  std::vector<Survivors> living(chunkCount(count, chunkSize_));
  stoppableFor(living.size(), progress_, [&](std::size_t c) {
    Workspace& work = workspaceOf(workspaces);
    const std::size_t first = c * chunkSize_;
    ParentPath* paths = emitter_.isSource ? paths_.data() + oldPaths + first : nullptr;
    if (newTogether_) {
      newTogether_->end(c, work, paths);
    } else {
      const std::size_t length = chunkLength(count, c, chunkSize_);
      place(first, length, newborn);
      loadChunk(newborn, fields_, first, length, work.chunk);
      advance(births_.times.data() + first, work, paths);
    }
    // First into its own place, since how many die before their first frame is known only now.
    living[c] = storeLiving(work.chunk, newborn, first);
  });
  const std::size_t before = store_.size();
  for (std::size_t c = 0; c < living.size(); ++c) store_.append(newborn, c * chunkSize_, living[c].count);
  earlyDeaths_ += before + count - store_.size();
  countLost(living);
}

ParticleGroup GroupStep::finish(Workspaces& workspaces) {
  displace(plan_, schedule_, workspaces, store_, progress_);
  return {emitter_.emission.emitter, births_.after, std::move(store_)};
}

void GroupStep::closeGaps(const std::vector<Survivors>& living) {
  std::size_t target = 0;
  for (std::size_t c = 0; c < living.size(); ++c) {
    store_.moveDown(offsets_[c], target, living[c].count);
    target += living[c].count;
  }
  earlyDeaths_ += survivors() - target;
  store_.resize(target);
}

}  // namespace comet
