#include "simulation/loop.h"

#include "base/identity.h"
#include "scene/item_reference.h"
#include "simulation/influences/influences.h"
#include "simulation/start_state.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace comet {
namespace {

// Births whose lifetimes are asked for where a formula says them for each particle.
constexpr int kSampledBirths = 256;

bool isEndless(const Item& emitter) { return emitter.chooses("lifetime_mode", "endless"); }

double longestLifeAt(const Item& emitter, double frame) {
  const double longest = emitter.number("lifetime", frame) + emitter.value("lifetime").variation;
  const auto formula = emitter.particleFormula("lifetime", frame);
  if (!formula) return longest;
  double max = 0;
  for (int birth = 0; birth < kSampledBirths; ++birth)
    max = std::max(max, formula->of({0, 1, 0, 0, static_cast<double>(birth), 0, 0, 0}, longest));
  return max;
}

// Seconds from a birth in the scene to the end of the last particle that comes of it. Births lead round no
// circle.
double settlingTime(const Scene& scene, const Item& emitter) {
  double own = 0;
  const FrameRange range = frameRange(scene);
  if (emitter.chooses("lifetime_mode", "lifetime")) {
    const ParamValue& lifetime = emitter.value("lifetime");
    const bool changes = !lifetime.keys.empty() || !lifetime.formula.empty();
    for (int frame = range.first; frame <= (changes ? range.last : range.first); ++frame)
      own = std::max(own, longestLifeAt(emitter, frame));
  } else {
    own = range.count() / frameRate(scene);
  }
  double before = 0;
  for (const ItemId source : sourcesOf(scene, emitter))
    if (const Scene::ItemPtr parent = scene.find(source))
      before = std::max(before, settlingTime(scene, *parent));
  return before + own;
}

int framesOfSeconds(double seconds, const Scene& scene) {
  return static_cast<int>(std::ceil(seconds * frameRate(scene)));
}

}  // namespace

int warmUpFrames(const Scene& scene) {
  if (hasStartState(scene)) return 0;
  double seconds = scene.settings().number("warm_up", frameRange(scene).first);
  if (!loops(scene)) return framesOfSeconds(seconds, scene);
  for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter))
    if (emitter->enabled) seconds = std::max(seconds, settlingTime(scene, *emitter));
  const int period = frameRange(scene).count();
  const int rounds = (framesOfSeconds(seconds, scene) + period - 1) / period;
  return period * std::min(rounds, kMaxWarmUpCycles);
}

StepClock::StepClock(const Scene& scene)
    : rate_(frameRate(scene)),
      first_(frameRange(scene).first - warmUpFrames(scene)),
      sceneFirst_(frameRange(scene).first),
      frames_(loops(scene) ? frameRange(scene).count() : 0) {}

int StepClock::inCycle(int frame) const { return ((frame - sceneFirst_ - 1) % frames_ + frames_) % frames_; }

FrameTime StepClock::step(int frame) const {
  const bool isFirst = frame == first_;
  FrameTime time;
  time.frame = frame;
  // The step to the first frame of the next round belongs to this one.
  if (frames_ > 0) time.frame = isFirst ? sceneFirst_ : sceneFirst_ + 1 + inCycle(frame);
  time.period = frames_ / rate_;
  time.length = isFirst ? 0.0 : 1.0 / rate_;
  time.start = (time.frame - sceneFirst_ - (isFirst ? 0 : 1)) / rate_;
  return time;
}

std::optional<std::uint64_t> StepClock::cycleThatBegins(int frame) const {
  if (frames_ == 0 || frame == first_ || inCycle(frame) != 0) return std::nullopt;
  return 1 + static_cast<std::uint64_t>((frame - first_ - 1) / frames_);
}

std::vector<std::string> loopProblems(const Scene& scene) {
  std::vector<std::string> problems;
  if (!loops(scene)) return problems;
  if (hasStartState(scene))
    problems.emplace_back(
        "A start state replaces the cycles before the first frame. Remove it from the scene.");
  for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter)) {
    if (!emitter->enabled) continue;
    if (isEndless(*emitter))
      problems.push_back(fmt::format("\"{}\" has endless particles: give them a lifetime.", emitter->name));
    for (const Scene::ItemPtr& influence : scene.itemsOf(ItemFamily::Influence))
      if (influence->enabled && !influenceKindOf(*influence).repeats &&
          scene.response(emitter->id, influence->id).acts())
        problems.push_back(
            fmt::format("\"{}\" flies by what its neighbours do, which does not repeat: bake it with a "
                        "cross-fade.",
                        emitter->name));
  }
  for (const Scene::ItemPtr& gas : scene.itemsOf(ItemFamily::Gas))
    if (gas->enabled)
      problems.push_back(
          fmt::format("\"{}\" never moves the same way twice: bake it with a cross-fade.", gas->name));
  if (warmUpFrames(scene) >= kMaxWarmUpCycles * frameRange(scene).count())
    problems.push_back(fmt::format(
        "Lifetimes last longer than {} cycles: shorten them, or make the scene longer.", kMaxWarmUpCycles));
  return problems;
}

}  // namespace comet
