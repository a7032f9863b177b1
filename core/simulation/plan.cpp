#include "simulation/plan.h"

#include "base/error.h"
#include "simulation/deflectors/deflector.h"
#include "simulation/influences/influences.h"
#include "simulation/start_state.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace comet {
namespace {

// Those that act at the time.
std::vector<std::shared_ptr<const PlannedInfluence>> planInfluences(const Scene& scene,
                                                                    const FrameTime& time) {
  std::vector<std::shared_ptr<const PlannedInfluence>> planned;
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Influence))
    if (auto acting = planInfluence(*item, time)) planned.push_back(std::move(acting));
  return planned;
}

// Whether a deflector stops the emitter's particles by their rims.
bool asksForSize(const EmitterPlan& emitter) {
  return std::any_of(emitter.influences.begin(), emitter.influences.end(), [](const ActingInfluence& acting) {
    const Deflector* deflector = acting.action().deflector();
    return deflector && deflector->rule().ownSize > 0;
  });
}

}  // namespace

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
  for (EmitterPlan& emitter : plan.emitters)
    for (ActingInfluence& acting : emitter.influences) acting = acting.seeing(frame, plan.time, seen);
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
    EmitterPlan emitter{planEmission(*item, seed, rate, plan.time), {}, {}, {}};
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
  plan.digest = hasher.digest();
  return plan;
}

}  // namespace comet
