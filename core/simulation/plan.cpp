#include "simulation/plan.h"

#include "base/error.h"
#include "scene/item_reference.h"
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
std::vector<std::shared_ptr<const PlannedInfluence>> planInfluences(const Scene& scene,
                                                                    const FrameTime& time) {
  std::vector<std::shared_ptr<const PlannedInfluence>> planned;
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Influence))
    if (auto acting = planInfluence(*followingItem(scene, item), time)) planned.push_back(std::move(acting));
  return planned;
}

// Whether a deflector stops the emitter's particles by their rims.
bool asksForSize(const EmitterPlan& emitter) {
  return std::any_of(emitter.influences.begin(), emitter.influences.end(), [](const ActingInfluence& acting) {
    const Deflector* deflector = acting.action().deflector();
    return deflector && deflector->rule().ownSize > 0;
  });
}

// How many generations the emitter's particles have before them, as far as they are remembered.
int generationsOf(const FramePlan& plan, const EmitterPlan& emitter) {
  int generations = 0;
  const EmitterPlan* next = &emitter;
  while (next && next->emission.child.isChild() && generations < kGenerations) {
    ++generations;
    next = plan.find(next->emission.child.source);
  }
  return generations;
}

// What children ask of the emitters whose particles they come from, and in which order all are done.
void setFamilies(FramePlan& plan) {
  for (EmitterPlan& emitter : plan.emitters) {
    emitter.fields |= lineageFields(generationsOf(plan, emitter));
    const ChildRule& child = emitter.emission.child;
    EmitterPlan* source = child.isChild() ? plan.find(child.source) : nullptr;
    if (!source) continue;
    source->isSource = true;
    if (child.come == ChildRule::Come::Ways) source->fields |= {ParticleStore::Travelled};
  }
  std::vector<bool> isPlaced(plan.emitters.size(), false);
  const auto place = [&](std::size_t index) {
    isPlaced[index] = true;
    plan.order.push_back(index);
  };
  const auto waits = [&](const EmitterPlan& emitter) {
    const EmitterPlan* source =
        emitter.emission.child.isChild() ? plan.find(emitter.emission.child.source) : nullptr;
    return source && !isPlaced[static_cast<std::size_t>(source - plan.emitters.data())];
  };
  // Each round places at least one, unless births lead round a circle, which scenes are checked for.
  for (std::size_t before = plan.order.size() + 1; plan.order.size() < plan.emitters.size();) {
    if (plan.order.size() == before) throw std::logic_error("births lead round a circle");
    before = plan.order.size();
    for (std::size_t i = 0; i < plan.emitters.size(); ++i)
      if (!isPlaced[i] && !waits(plan.emitters[i])) place(i);
  }
}

}  // namespace

const EmitterPlan* FramePlan::find(std::uint32_t emitter) const {
  const auto found = std::find_if(emitters.begin(), emitters.end(), [emitter](const EmitterPlan& plan) {
    return plan.emission.emitter == emitter;
  });
  return found == emitters.end() ? nullptr : &*found;
}

std::shared_ptr<const PlannedInfluence> planInfluence(const Item& influence, const FrameTime& time) {
  const double frame = time.middleFrame();
  const double activity = influence.enabled ? activityAt(influence, frame) : 0;
  if (activity == 0) return nullptr;
  return std::make_shared<const PlannedInfluence>(
      PlannedInfluence{influence.id, influence.kind, influenceKindOf(influence).plan(influence, time),
                       activity, Reach(influence, frame), AgeWindow(influence, frame)});
}

FramePlan seeing(const ParticleFrame& frame, FramePlan plan) {
  ActingInfluence::Seen seen;
  Surroundings around{frame, plan.time, {}};
  for (const EmitterPlan& emitter : plan.emitters)
    for (const ActingInfluence& acting : emitter.influences) {
      const auto known = std::find(around.deflectors.begin(), around.deflectors.end(), acting.sharedAction());
      if (acting.action().deflector() && known == around.deflectors.end())
        around.deflectors.push_back(acting.sharedAction());
    }
  for (EmitterPlan& emitter : plan.emitters)
    for (ActingInfluence& acting : emitter.influences) acting = acting.seeing(around, seen);
  return plan;
}

int firstSimulatedFrame(const Scene& scene) {
  const int first = frameRange(scene).first;
  if (hasStartState(scene)) return first;
  return first - static_cast<int>(std::ceil(scene.settings().number("warm_up", first) * frameRate(scene)));
}

std::uint64_t sceneSeed(const Scene& scene) {
  return static_cast<std::uint64_t>(scene.settings().number("seed", 0));
}

FramePlan planFrame(const Scene& scene, int frame) {
  const int first = firstSimulatedFrame(scene);
  if (frame < first)
    throw Error(ErrorKind::Input, fmt::format("frame {}", frame),
                fmt::format("lies before the scene's first frame, {}", first), "Choose a later frame");
  const Item& settings = scene.settings();
  const double rate = frameRate(scene);
  const int sceneFirst = frameRange(scene).first;
  FramePlan plan;
  plan.time.frame = frame;
  plan.time.length = frame == first ? 0.0 : 1.0 / rate;
  plan.time.start = (frame == first ? frame - sceneFirst : frame - sceneFirst - 1) / rate;
  if (frame == first) plan.start = startStateOf(scene);
  plan.substeps = settings.integer("substeps", frame);
  plan.mostParticles = static_cast<std::uint64_t>(settings.number("most_particles", frame));
  const std::uint64_t seed = sceneSeed(scene);

  Hasher hasher;
  hasher << plan.time.start << plan.time.length << plan.substeps << plan.mostParticles;
  if (plan.start) hasher << plan.start->stateDigest();
  const auto influences = planInfluences(scene, plan.time);
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Emitter)) {
    if (!item->enabled) continue;
    EmitterPlan emitter{planEmission(*item, seed, rate, plan.time), {}, {}, {}, false};
    emitter.emission.describe(hasher);
    for (const auto& influence : influences) {
      const Response response = scene.response(item->id, influence->id);
      // A formula may make something of 0, but not of no response at all.
      if (!response.percent || (*response.percent == 0 && response.formula.empty())) continue;
      const double middle = plan.time.middleFrame();
      emitter.influences.emplace_back(influence, response, middle, settings.clock.seconds(middle));
      emitter.influences.back().describe(hasher);
      emitter.fields |= influence->action->remembers();
    }
    if (asksForSize(emitter)) {
      emitter.size.emplace(*item, plan.time.middleFrame());
      emitter.size->describe(hasher);
    }
    plan.emitters.push_back(std::move(emitter));
  }
  setFamilies(plan);
  for (const EmitterPlan& emitter : plan.emitters) hasher << emitter.fields.bits();
  plan.digest = hasher.digest();
  return plan;
}

}  // namespace comet
