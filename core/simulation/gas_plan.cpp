#include "simulation/gas_plan.h"

#include "simulation/emission/emission.h"
#include "simulation/gas/gas_kind.h"
#include "simulation/influences/influences.h"

namespace comet {
namespace {

GasPlan planGas(const Scene& scene, const Item& gas, const FrameTime& time,
                const std::vector<std::shared_ptr<const PlannedInfluence>>& influences) {
  const double frame = time.middleFrame();
  GasPlan plan;
  plan.gas = gas.id;
  plan.kept = gas.kept;
  plan.grid = gasGridOf(gas);
  plan.motion = gasMotionOf(gas, time);
  plan.extras = gasExtrasOf(scene, gas);
  plan.timeScale = gas.number("time_scale", frame) / 100;
  if (plan.extras.detail > 1) plan.swirls = detailSwirlsOf(gas, time);
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Source)) {
    if (!item->enabled || item->reference("gas") != gas.id) continue;
    SourcePlan source = planSource(scene, *item, time);
    if (source.activity > 0) plan.sources.push_back(std::move(source));
  }
  for (const auto& influence : influences) {
    const Response response = scene.response(gas.id, influence->id);
    const bool acts = influence->action->adds() || influence->action->deflector();
    if (!acts || !response.acts() || !influenceKindOf(*influence->kind).movesGas) continue;
    plan.influences.emplace_back(influence, response, frame, scene.settings().clock.seconds(frame));
  }
  return plan;
}

}  // namespace

void GasPlan::describe(Hasher& hasher) const {
  hasher << gas;
  grid.describe(hasher);
  hasher << motion.buoyancy << motion.weight << motion.vorticity << motion.dissipation << motion.cooling
         << timeScale << extras.color << extras.age << extras.fuel;
  if (extras.fuel) {
    const Combustion& fire = motion.combustion;
    hasher << fire.ignition << fire.rate << fire.heat << fire.smoke << fire.expansion << fire.glowing
           << fire.radiation;
  }
  hasher << extras.detail;
  if (extras.detail > 1) hasher << swirls.strength << swirls.seconds << swirls.seed;
  const CurlNoise& stirred = motion.turbulence;
  hasher << stirred.strength;
  if (stirred.strength != 0) hasher << stirred.scale << stirred.octaves << stirred.turns << stirred.seed;
  hasher << sources.size();
  for (const SourcePlan& source : sources) source.describe(hasher);
  hasher << influences.size();
  for (const ActingInfluence& influence : influences) influence.describe(hasher);
}

std::vector<GasPlan> planGases(const Scene& scene, const FrameTime& time,
                               const std::vector<std::shared_ptr<const PlannedInfluence>>& influences) {
  std::vector<GasPlan> plans;
  for (const Scene::ItemPtr& gas : scene.itemsOf(ItemFamily::Gas))
    if (gas->enabled) plans.push_back(planGas(scene, *gas, time, influences));
  return plans;
}

}  // namespace comet
