#include "simulation/plan.h"

#include "base/error.h"
#include "scene/item_reference.h"
#include "simulation/contacts/contact.h"
#include "simulation/deflectors/deflector.h"
#include "simulation/influences/influences.h"
#include "simulation/start_state.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <stdexcept>

namespace comet {
namespace {

// Those that act at the time.
std::vector<std::shared_ptr<const PlannedInfluence>> planInfluences(const Scene& scene, const FrameTime& time,
                                                                    int substeps, const Progress& progress) {
  std::vector<std::shared_ptr<const PlannedInfluence>> planned;
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Influence))
    if (auto acting = planInfluence(*followingItem(scene, item), time, substeps, progress))
      planned.push_back(std::move(acting));
  return planned;
}

// Whether particles of the emitter meet deflectors or each other with their rims, or roll.
bool asksForSize(const EmitterPlan& emitter) {
  return std::any_of(emitter.influences.begin(), emitter.influences.end(), [](const ActingInfluence& acting) {
    const Deflector* deflector = acting.action().deflector();
    return acting.action().contact() ||
           (deflector && (deflector->rule().ownSize > 0 || deflector->rule().isRolledOn));
  });
}

// How many generations the emitter's particles have before them, as far as they are remembered.
int generationsOf(const FramePlan& plan, const EmitterPlan& emitter, int max = kGenerations) {
  int generations = 0;
  for (const ItemId id : emitter.sources)
    if (const auto source = plan.indexOf(id); source && max > 0)
      generations = std::max(generations, 1 + generationsOf(plan, plan.emitters[*source], max - 1));
  return generations;
}

void setSources(FramePlan& plan) {
  for (EmitterPlan& emitter : plan.emitters) {
    const ChildRule& child = emitter.emission.child;
    if (!child.isChild()) continue;
    // Each once, also one that is the parent and gives births by a rule too.
    for (const EmitterPlan& other : plan.emitters)
      if (other.emission.emitter == child.source || other.rules.givesBirthsTo(emitter.emission.emitter))
        emitter.sources.push_back(other.emission.emitter);
  }
}

// In which order emitters are done: sources before those whose births come from them.
std::vector<std::size_t> familyOrder(const FramePlan& plan) {
  std::vector<std::size_t> order;
  std::vector<bool> isPlaced(plan.emitters.size(), false);
  const auto waits = [&](const EmitterPlan& emitter) {
    return std::any_of(emitter.sources.begin(), emitter.sources.end(),
                       [&](ItemId source) { return !isPlaced[plan.indexOf(source).value()]; });
  };
  while (order.size() < plan.emitters.size()) {
    const std::size_t before = order.size();
    for (std::size_t i = 0; i < plan.emitters.size(); ++i) {
      if (isPlaced[i] || waits(plan.emitters[i])) continue;
      isPlaced[i] = true;
      order.push_back(i);
    }
    // Scenes are checked for it when they are read and edited.
    if (order.size() == before) throw std::logic_error("births form a cycle");
  }
  return order;
}

// What children and rules ask of emitters, and in which order all are done.
void setFamilies(FramePlan& plan) {
  setSources(plan);
  for (EmitterPlan& emitter : plan.emitters) {
    emitter.fields |= lineageFields(generationsOf(plan, emitter));
    emitter.fields |= emitter.rules.fields();
    emitter.isSource = emitter.isSource || !emitter.rules.empty();
    for (const ItemId id : emitter.sources) {
      EmitterPlan& source = plan.emitters[plan.indexOf(id).value()];
      source.isSource = true;
      if (emitter.emission.child.come == ChildRule::Come::Ways && id == emitter.emission.child.source)
        source.fields |= {ParticleStore::Travelled};
    }
  }
  plan.order = familyOrder(plan);
}

}  // namespace

std::optional<std::size_t> FramePlan::indexOf(std::uint32_t emitter) const {
  for (std::size_t i = 0; i < emitters.size(); ++i)
    if (emitters[i].emission.emitter == emitter) return i;
  return std::nullopt;
}

std::shared_ptr<const PlannedInfluence> planInfluence(const Item& influence, const FrameTime& time,
                                                      int substeps, const Progress& progress) {
  if (!influence.enabled) return nullptr;
  const double frame = time.middleFrame(), length = time.length > 0 ? 1.0 / substeps : 0;
  const double start = time.length > 0 ? time.frame - 1 : time.frame;
  std::vector<double> activity;
  for (int i = 0; i < substeps; ++i)
    activity.push_back(activityBetween(influence, start + i * length, start + (i + 1) * length));
  const InfluenceKind& kind = influenceKindOf(influence);
  const bool rests = std::all_of(activity.begin(), activity.end(), [](double each) { return each == 0; });
  if (rests && !kind.letsGo) return nullptr;
  return std::make_shared<const PlannedInfluence>(
      PlannedInfluence{influence.id, influence.kind, kind.plan(influence, time, progress),
                       std::move(activity), Reach(influence, frame), AgeWindow(influence, frame)});
}

FramePlan seeing(const SceneFrame& frame, FramePlan plan, const Progress& progress) {
  ActingInfluence::Seen seen;
  Surroundings around{*frame.particles,           *frame.gases, plan.time, {}, {},
                      plan.substeps * plan.parts, progress};
  for (const EmitterPlan& emitter : plan.emitters)
    for (const ActingInfluence& acting : emitter.influences) {
      around.answering[acting.influence()].push_back(emitter.emission.emitter);
      const auto known = std::find(around.deflectors.begin(), around.deflectors.end(), acting.sharedAction());
      if (acting.action().deflector() && known == around.deflectors.end())
        around.deflectors.push_back(acting.sharedAction());
    }
  for (EmitterPlan& emitter : plan.emitters)
    for (ActingInfluence& acting : emitter.influences) acting = acting.seeing(around, seen);
  return plan;
}

int firstSimulatedFrame(const Scene& scene) { return frameRange(scene).first - warmUpFrames(scene); }

FramePlan planFrame(const Scene& scene, const StepClock& clock, int frame, const Progress& progress) {
  progress.stopIfCancelled();
  const int first = clock.firstFrame();
  if (frame < first)
    throw Error(ErrorKind::Input, fmt::format("frame {}", frame),
                fmt::format("lies before the scene's first frame, {}", first), "Choose a later frame");
  const Item& settings = scene.settings();
  const double rate = frameRate(scene);
  FramePlan plan;
  plan.frame = frame;
  plan.time = clock.step(frame);
  plan.round = clock.cycleThatBegins(frame);
  if (frame == first) plan.start = startStateOf(scene);
  plan.substeps = settings.integer("substeps", plan.time.frame);
  plan.maxParticles = static_cast<std::uint64_t>(settings.number("max_particles", plan.time.frame));
  const std::uint64_t seed = sceneSeed(scene);

  Hasher hasher;
  hasher << plan.time.start << plan.time.length << plan.time.period << plan.substeps << plan.maxParticles;
  if (plan.round) hasher << *plan.round;
  if (plan.start) hasher << plan.start->particles->digest() << plan.start->gases->digest();
  const auto influences = planInfluences(scene, plan.time, plan.substeps, progress);
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Emitter)) {
    if (!item->enabled) continue;
    EmitterPlan emitter;
    emitter.emission = planEmission(*item, seed, rate, plan.time);
    const Scene::ItemPtr boundingGas = scene.find(item->reference("bounds_gas"));
    emitter.emission.bounds = endBoundsOf(*item, boundingGas.get(), plan.time.middleFrame());
    emitter.emission.describe(hasher);
    emitter.rules = RulePlan(scene, *item, emitter.emission.randomKey, plan.time.frame);
    emitter.rules.describe(hasher);
    if (showsCards(*item)) {
      emitter.card = std::make_shared<const CardRule>(*item, plan.time.middleFrame());
      emitter.card->describe(hasher);
    }
    for (const auto& influence : influences) {
      const Response response = scene.response(item->id, influence->id);
      if (!response.acts() || !canActOn(*item, *influence->kind)) continue;
      const double middle = plan.time.middleFrame();
      emitter.influences.emplace_back(influence, response, middle, settings.clock.seconds(middle));
      emitter.influences.back().describe(hasher);
      emitter.fields |= influence->action->remembers();
      if (const ContactRule* contact = influence->action->contact())
        plan.parts = std::max(plan.parts, contact->steps);
    }
    if (asksForSize(emitter)) {
      emitter.size.emplace(*item, plan.time.middleFrame());
      emitter.size->describe(hasher);
    }
    plan.emitters.push_back(std::move(emitter));
  }
  setFamilies(plan);
  for (const EmitterPlan& emitter : plan.emitters) hasher << emitter.fields.bits();
  plan.gases = planGases(scene, plan.time, influences);
  for (const GasPlan& gas : plan.gases) gas.describe(hasher);
  plan.digest = hasher.digest();
  return plan;
}

}  // namespace comet
