#include "simulation/emission/emission.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace comet {
namespace {

// A variation larger than the value must not make lives that are over before they begin.
constexpr double kShortestLife = 1e-3;

// Far more than the sums of a scene's steps can be off, and far less than a birth.
constexpr double kRounding = 1e-9;

double rateAt(const Item& emitter, double frame, double variationUnit) {
  return std::max(0.0, emitter.number("rate", frame) + emitter.value("rate").variation * variationUnit);
}

bool emitsAt(const Item& emitter, double frame) {
  return !emitter.chooses("emits", "frame_range") ||
         (frame >= emitter.number("emits_from", 0) && frame <= emitter.number("emits_until", 0));
}

// How many births an emitter's burst gives at one of its repeats.
std::uint64_t birthsOf(const Burst& burst, std::size_t burstIndex, int repeat, const RandomSource& random) {
  const std::uint64_t identity =
      (static_cast<std::uint64_t>(burstIndex) << kBirthBits) | static_cast<std::uint32_t>(repeat);
  const double count = burst.count + burst.variation * random.signedUnit(identity, Draw::BurstCount);
  return static_cast<std::uint64_t>(std::max(0.0, std::round(count)));
}

// Of `births` that a burst spreads from `frame` on, each in the middle of an equal part of its duration:
// those after `from` and not after `until`, all of these as frames.
void addSpread(const Burst& burst, double frame, std::uint64_t births, double from, double until,
               double frameRate, double startFrame, std::vector<BurstNow>& now) {
  if (births == 0) return;
  const auto count = static_cast<double>(births);
  const auto bornUntil = [&](double moment) {
    return std::clamp(std::floor(count * (moment - frame) / burst.duration + 0.5), 0.0, count);
  };
  const double first = bornUntil(from), last = bornUntil(until);
  if (last <= first) return;
  const double spacing = burst.duration / count;
  const double moment = frame + (first + 0.5) * spacing;
  now.push_back({std::max(0.0, (moment - startFrame) / frameRate), spacing / frameRate,
                 static_cast<std::uint64_t>(last - first)});
}

// The births of one burst with a duration that fall into the step that leads to `time.frame`.
void addSpreadBurst(const Item& emitter, std::size_t burstIndex, const RandomSource& random, double frameRate,
                    const FrameTime& time, std::vector<BurstNow>& now) {
  const Burst& burst = std::get<BurstList>(emitter.value("bursts").base)[burstIndex];
  const double startFrame = time.length > 0 ? time.frame - 1.0 : time.frame;
  double from = startFrame, until = time.frame;
  if (emitter.chooses("emits", "frame_range")) {
    from = std::max(from, emitter.number("emits_from", 0));
    until = std::min(until, emitter.number("emits_until", 0));
  }
  const int repeats = burst.every > 0 ? burst.times : 1;
  // In a loop, what a burst has left at the last frame comes in the first ones.
  for (const double cycle : {0.0, time.period * frameRate}) {
    const double begin = burst.frame - cycle;
    const double passed = burst.every > 0 ? std::ceil((from - burst.duration - begin) / burst.every) : 0;
    for (int repeat = static_cast<int>(std::clamp(passed, 0.0, static_cast<double>(repeats)));
         repeat < repeats && begin + repeat * burst.every < until; ++repeat)
      addSpread(burst, begin + repeat * burst.every, birthsOf(burst, burstIndex, repeat, random), from, until,
                frameRate, startFrame, now);
    if (time.period <= 0) break;
  }
}

// The births of one burst at a moment that fall into the step that leads to `time.frame`. A burst on a frame
// is seen on it.
void addBurst(const Item& emitter, std::size_t burstIndex, const RandomSource& random, double frameRate,
              const FrameTime& time, std::vector<BurstNow>& now) {
  const Burst& burst = std::get<BurstList>(emitter.value("bursts").base)[burstIndex];
  const double lastFrame = time.frame;
  const double startFrame = time.length > 0 ? lastFrame - 1 : lastFrame;
  const int repeats = burst.every > 0 ? burst.times : 1;
  // Repeats before the step are passed over at once: a burst may have a million of them.
  const double passed = burst.every > 0 ? std::floor((startFrame - burst.frame) / burst.every) : 0;
  const auto add = [&](int repeat, double frame, double shown) {
    if (!emitsAt(emitter, frame)) return;
    now.push_back(
        {std::max(0.0, (shown - startFrame) / frameRate), 0, birthsOf(burst, burstIndex, repeat, random)});
  };
  // In a loop its first frame is the one after the last.
  const double firstFrame = emitter.clock.firstFrame;
  if (time.period > 0 && lastFrame == firstFrame + std::round(time.period * frameRate)) {
    const double repeat = burst.every > 0 ? std::round((firstFrame - burst.frame) / burst.every) : 0;
    if (repeat >= 0 && repeat < repeats && burst.frame + repeat * burst.every == firstFrame)
      add(static_cast<int>(repeat), firstFrame, lastFrame);
  }
  for (int repeat = static_cast<int>(std::clamp(passed, 0.0, static_cast<double>(repeats))); repeat < repeats;
       ++repeat) {
    const double frame = burst.frame + repeat * burst.every;
    if (frame > lastFrame) break;
    if (time.length > 0 ? frame <= startFrame : frame < startFrame) continue;
    add(repeat, frame, frame);
  }
}

// The moment at which `births` have been born since the step's start, with the rate changing evenly.
double timeOfBirth(const EmissionPlan& plan, double births) {
  const double span = plan.emitsUntil - plan.emitsFrom;
  const double change = (plan.rateAtEnd - plan.rateAtStart) / span;
  const double root = std::sqrt(std::max(0.0, plan.rateAtStart * plan.rateAtStart + 2 * change * births));
  return plan.emitsFrom + std::clamp(2 * births / (plan.rateAtStart + root), 0.0, span);
}

// The part of the step in which the emitter emits, as fractions of the step.
void setWindow(EmissionPlan& plan, const Item& emitter, double startFrame, double frameRate) {
  plan.emitsUntil = plan.length;
  if (!emitter.chooses("emits", "frame_range")) return;
  const auto seconds = [&](const char* param) {
    return std::clamp((emitter.number(param, 0) - startFrame) / frameRate, 0.0, plan.length);
  };
  plan.emitsFrom = seconds("emits_from");
  plan.emitsUntil = std::max(plan.emitsFrom, seconds("emits_until"));
}

// Adds what a burst that begins at `begin` is expected to give in each frame.
void expectSpread(const Item& emitter, const Burst& burst, double begin, const FrameRange& range,
                  std::vector<ExpectedBirths>& births) {
  double from = std::max<double>(begin, range.first), until = begin + burst.duration;
  if (emitter.chooses("emits", "frame_range")) {
    from = std::max(from, emitter.number("emits_from", 0));
    until = std::min(until, emitter.number("emits_until", 0));
  }
  for (int frame = std::max(range.first, static_cast<int>(std::floor(from))) + 1; frame <= range.last;
       ++frame) {
    const double part = std::min<double>(frame, until) - std::max<double>(frame - 1, from);
    if (part <= 0) break;
    births[static_cast<std::size_t>(frame - range.first)].fromBursts += burst.count * part / burst.duration;
  }
}

// The fraction of particles with varied lifetimes that live at an age.
double livingFraction(const Varied& lifetime, double age) {
  const double min = std::max(kShortestLife, lifetime.value - lifetime.variation);
  const double max = lifetime.value + lifetime.variation;
  if (age < min) return 1;
  return max > min ? std::clamp((max - age) / (2 * lifetime.variation), 0.0, 1.0) : 0;
}

// From the scene's middle to where a child is born, which way up its shape stands there.
void moveTo(const Origin& origin, double inheritedVelocity, Birth& born) {
  if (origin.goesOn) {
    born.position = origin.position;
    born.velocity = origin.velocity;
    return;
  }
  Vec3d first, second;
  perpendiculars(origin.up, first, second);
  const bool isUpright = origin.up == Vec3d(0, 1, 0);
  const Mat3d stand = isUpright ? Mat3d(1.0) : Mat3d(second, origin.up, first);
  born.position = origin.position + stand * born.position;
  born.velocity = stand * born.velocity + inheritedVelocity * origin.velocity;
  born.launch = stand * born.launch;
}

LifeSpan lifeSpanOf(const Item& emitter, double startFrame, double middle, double frameRate) {
  LifeSpan life;
  if (emitter.chooses("lifetime_mode", "lifetime")) {
    life.lifetime = {emitter.number("lifetime", middle), emitter.value("lifetime").variation,
                     emitter.particleFormula("lifetime", middle)};
    return life;
  }
  life.endsTogether = true;
  life.left = emitter.chooses("lifetime_mode", "endless")
                  ? std::numeric_limits<double>::infinity()
                  : (emitter.number("lifetime_until", 0) - startFrame) / frameRate;
  return life;
}

}  // namespace

void LifeSpan::describe(Hasher& hasher) const {
  lifetime.describe(hasher);
  hasher << endsTogether << left;
}

void EmissionPlan::describe(Hasher& hasher) const {
  hasher << emitter << randomKey << length << emitsFrom << emitsUntil << rateAtStart << rateAtEnd << maxAlive
         << bursts.size();
  for (const BurstNow& burst : bursts) hasher << burst.time << burst.spacing << burst.count;
  shape.describe(hasher);
  points.describe(hasher);
  path.describe(hasher);
  hasher << inheritedVelocity;
  launch.describe(hasher);
  life.describe(hasher);
  bounds.describe(hasher);
  mass.describe(hasher);
  child.describe(hasher);
}

std::uint64_t sceneSeed(const Scene& scene) {
  return static_cast<std::uint64_t>(scene.settings().number("seed", 0));
}

std::uint64_t emissionKey(const Item& emitter, std::uint64_t sceneSeed, double frame) {
  return combineKeys(combineKeys(sceneSeed, emitter.id),
                     static_cast<std::uint64_t>(emitter.number("seed", frame)));
}

std::uint64_t wanderKey(std::uint64_t emissionKey) {
  return combineKeys(emissionKey, static_cast<std::uint64_t>(Draw::Wander));
}

EmissionPlan planEmission(const Item& emitter, std::uint64_t sceneSeed, double frameRate,
                          const FrameTime& time) {
  EmissionPlan plan;
  plan.emitter = emitter.id;
  plan.randomKey = emissionKey(emitter, sceneSeed, time.frame);
  plan.length = time.length;
  plan.maxAlive = static_cast<std::uint64_t>(emitter.number("max_particles", 0));
  const double middle = time.middleFrame();
  plan.shape = shapeOf(emitter, middle);
  plan.points = BirthPoints(emitter);
  const RandomSource random(plan.randomKey);
  const double startFrame = time.length > 0 ? time.frame - 1.0 : time.frame;
  plan.child = ChildRule(emitter, plan.randomKey, middle);
  if (plan.shape.givesBirths()) setWindow(plan, emitter, startFrame, frameRate);
  const bool emits = time.length > 0 ? plan.emitsUntil > plan.emitsFrom : emitsAt(emitter, time.frame);
  if (!emits || !plan.shape.givesBirths()) plan.child.chance = 0;
  if (plan.shape.givesBirths() && !plan.child.isChild()) {
    const double rateUnit = random.signedUnit(static_cast<std::uint32_t>(time.frame), Draw::Rate);
    plan.rateAtStart = rateAt(emitter, startFrame + plan.emitsFrom * frameRate, rateUnit);
    plan.rateAtEnd = rateAt(emitter, startFrame + plan.emitsUntil * frameRate, rateUnit);
    const auto& bursts = std::get<BurstList>(emitter.value("bursts").base);
    for (std::size_t i = 0; i < bursts.size(); ++i)
      (bursts[i].duration > 0 ? addSpreadBurst : addBurst)(emitter, i, random, frameRate, time, plan.bursts);
  }
  plan.path = shapePath(emitter, time, frameRate, wanderKey(plan.randomKey));
  plan.inheritedVelocity = emitter.number("inherit_emitter_velocity", middle) / 100.0;
  plan.launch = Launch(emitter, middle, plan.randomKey);
  plan.life = lifeSpanOf(emitter, startFrame, middle, frameRate);
  plan.mass = MassRule(emitter, middle);
  return plan;
}

BirthTimes birthTimes(const EmissionPlan& plan, const BirthState& before, std::uint64_t max) {
  BirthTimes result;
  const double due =
      before.carry + 0.5 * (plan.rateAtStart + plan.rateAtEnd) * (plan.emitsUntil - plan.emitsFrom);
  // Sums of many steps round: what is so near to a whole birth is one.
  const double whole = std::floor(due + kRounding * std::max(1.0, due));
  const auto fromRate = static_cast<std::uint64_t>(whole);
  result.wanted = fromRate;
  for (const BurstNow& burst : plan.bursts) result.wanted += burst.count;
  result.times.reserve(std::min(max, result.wanted));
  for (std::uint64_t i = 1; i <= std::min(max, fromRate); ++i)
    result.times.push_back(timeOfBirth(plan, static_cast<double>(i) - before.carry));
  for (const BurstNow& burst : plan.bursts)
    for (std::uint64_t i = 0; i < burst.count && result.times.size() < max; ++i)
      result.times.push_back(burst.time + static_cast<double>(i) * burst.spacing);
  result.after = {before.next + result.wanted, std::max(0.0, due - whole)};
  return result;
}

Birth birthOf(const EmissionPlan& plan, std::uint64_t birth, double time, const Origin* origin) {
  const RandomSource random(plan.randomKey);
  const double fraction = plan.length > 0 ? time / plan.length : 1.0;
  const ShapePath::Placement pose = plan.path.at(fraction);
  const ShapePoint point =
      pointOn(plan.shape, plan.points.numbers(random, birth),
              [&](std::uint32_t counter) { return plan.points.moreNumbers(random, birth, counter); });
  Birth born;
  born.position = pose.toScene(point.at);
  born.velocity = plan.launch.velocity(birth, point, pose, born.launch);
  if (plan.inheritedVelocity > 0)
    born.velocity += plan.inheritedVelocity * plan.path.velocity(point.at, fraction);
  born.color = point.color;
  if (origin) moveTo(*origin, plan.child.inheritedVelocity, born);
  if (plan.launch.isFlat()) {
    born.velocity.z = 0;
    born.launch = unitOr(Vec3d(born.launch.x, born.launch.y, 0), Vec3d(0, 1, 0));
  }
  return born;
}

Birth placeBirth(const EmissionPlan& plan, std::uint64_t birth, double time, const Origin* origin,
                 ParticleStore& particles, std::size_t index) {
  const Birth born = birthOf(plan, birth, time, origin);
  for (int axis = 0; axis < 3; ++axis) {
    particles.field(static_cast<ParticleStore::Field>(ParticleStore::PositionX + axis))[index] =
        static_cast<float>(born.position[axis]);
    particles.field(static_cast<ParticleStore::Field>(ParticleStore::VelocityX + axis))[index] =
        static_cast<float>(born.velocity[axis]);
  }
  // What is born after the common end does not live at all.
  const double lifetime =
      plan.life.endsTogether
          ? std::max(0.0, plan.life.left - time)
          : std::max(kShortestLife,
                     plan.life.lifetime.pick(RandomSource(plan.randomKey).signedUnit(birth, Draw::Lifetime),
                                             birthMoment(birth, born.position)));
  particles.field(ParticleStore::Age)[index] = origin ? static_cast<float>(origin->age) : 0.0F;
  particles.field(ParticleStore::Lifetime)[index] = static_cast<float>(lifetime);
  particles.ids()[index] = particleId(plan.emitter, birth);
  if (origin) setLineage(particles, index, origin->lineage);
  return born;
}

std::vector<ExpectedBirths> expectedBirths(const Item& emitter, const FrameRange& range, double frameRate) {
  std::vector<ExpectedBirths> births(static_cast<std::size_t>(range.count()));
  if (!emitter.chooses("birth_trigger", "own")) return births;
  for (int frame = range.first + 1; frame <= range.last; ++frame) {
    EmissionPlan window;
    window.length = 1 / frameRate;
    setWindow(window, emitter, frame - 1, frameRate);
    births[static_cast<std::size_t>(frame - range.first)].fromRate =
        0.5 *
        (rateAt(emitter, frame - 1 + window.emitsFrom * frameRate, 0) +
         rateAt(emitter, frame - 1 + window.emitsUntil * frameRate, 0)) *
        (window.emitsUntil - window.emitsFrom);
  }
  for (const Burst& burst : std::get<BurstList>(emitter.value("bursts").base)) {
    const int repeats = burst.every > 0 ? burst.times : 1;
    for (int repeat = 0; repeat < repeats; ++repeat) {
      const double moment = burst.frame + repeat * burst.every;
      const int frame = static_cast<int>(std::ceil(moment));
      if (frame > range.last) break;
      if (burst.duration > 0)
        expectSpread(emitter, burst, moment, range, births);
      else if (frame >= range.first && emitsAt(emitter, moment))
        births[static_cast<std::size_t>(frame - range.first)].fromBursts += burst.count;
    }
  }
  return births;
}

std::vector<double> expectedLiving(const Item& emitter, const FrameRange& range, double frameRate,
                                   bool isLoop) {
  std::vector<ExpectedBirths> births = expectedBirths(emitter, range, frameRate);
  // The first frame follows the last one.
  if (isLoop) births.front().fromRate = births.back().fromRate;
  std::vector<double> living(births.size(), 0.0);
  for (std::size_t born = 0; born < births.size(); ++born) {
    const double frame = range.first + static_cast<double>(born);
    const LifeSpan life = lifeSpanOf(emitter, frame, frame, frameRate);
    // What has an end in common does not outlive a round.
    const bool wraps = isLoop && !life.endsTogether;
    for (std::size_t at = born; (wraps || at < living.size()) && births[born].all() > 0; ++at) {
      const double age = static_cast<double>(at - born) / frameRate;
      const double fraction =
          life.endsTogether ? (age < life.left ? 1.0 : 0.0) : livingFraction(life.lifetime, age);
      if (fraction <= 0) break;
      living[at % living.size()] += births[born].all() * fraction;
    }
  }
  if (const double max = emitter.number("max_particles", 0); max > 0)
    for (double& count : living) count = std::min(count, max);
  return living;
}

}  // namespace comet
