#include "simulation/plan.h"

#include "base/error.h"
#include "simulation/influences/influences.h"
#include "simulation/start_state.h"

#include <cmath>
#include <fmt/format.h>

namespace comet {
namespace {

// Those that act at the time.
std::vector<std::shared_ptr<const PlannedInfluence>> planInfluences(const Scene& scene,
                                                                    const FrameTime& time) {
  std::vector<std::shared_ptr<const PlannedInfluence>> planned;
  const double frame = time.middleFrame();
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Influence)) {
    const double activity = item->enabled ? activityAt(*item, frame) : 0;
    if (activity == 0) continue;
    planned.push_back(std::make_shared<const PlannedInfluence>(
        PlannedInfluence{item->id, item->kind, influenceKindOf(*item).plan(*item, time), activity,
                         Reach(*item, frame), AgeWindow(*item, frame)}));
  }
  return planned;
}

}  // namespace

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
    EmitterPlan emitter{planEmission(*item, seed, rate, plan.time), {}};
    emitter.emission.describe(hasher);
    for (const auto& influence : influences) {
      const Response response = scene.response(item->id, influence->id);
      if (response.percent.value_or(0) == 0) continue;
      emitter.influences.emplace_back(influence, *response.percent / 100, response.overAge);
      emitter.influences.back().describe(hasher);
    }
    plan.emitters.push_back(std::move(emitter));
  }
  plan.digest = hasher.digest();
  return plan;
}

}  // namespace comet
