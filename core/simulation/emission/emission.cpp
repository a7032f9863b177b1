#include "simulation/emission/emission.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

// Into how many straight pieces the path of a keyed shape is cut within a frame.
constexpr int kPathPieces = 8;

double rateAt(const Item& emitter, double frame, double variationUnit) {
  return std::max(0.0, emitter.number("rate", frame) + emitter.value("rate").variation * variationUnit);
}

// The births of one burst that fall into the step that leads to `time.frame`. A burst on a frame is seen on
// it.
void addBurst(const Burst& burst, std::size_t burstIndex, const RandomSource& random, double frameRate,
              const FrameTime& time, std::vector<BurstNow>& now) {
  const double lastFrame = time.frame;
  const double startFrame = time.length > 0 ? lastFrame - 1 : lastFrame;
  const int repeats = burst.every > 0 ? burst.times : 1;
  // Repeats before the step are passed over at once: a burst may have a million of them.
  const double passed = burst.every > 0 ? std::floor((startFrame - burst.frame) / burst.every) : 0;
  for (int repeat = static_cast<int>(std::clamp(passed, 0.0, static_cast<double>(repeats))); repeat < repeats;
       ++repeat) {
    const double frame = burst.frame + repeat * burst.every;
    if (frame > lastFrame) break;
    if (time.length > 0 ? frame <= startFrame : frame < startFrame) continue;
    const std::uint64_t identity =
        (static_cast<std::uint64_t>(burstIndex) << 32) | static_cast<std::uint32_t>(repeat);
    const double count = burst.count + burst.variation * random.signedUnit(identity, Draw::BurstCount);
    const auto births = static_cast<std::uint64_t>(std::max(0.0, std::round(count)));
    now.push_back({std::max(0.0, (frame - startFrame) / frameRate), births});
  }
}

// The moment at which `births` have been born since the step's start, with the rate changing evenly.
double timeOfBirth(const EmissionPlan& plan, double births) {
  const double change = (plan.rateAtEnd - plan.rateAtStart) / plan.length;
  const double root = std::sqrt(std::max(0.0, plan.rateAtStart * plan.rateAtStart + 2 * change * births));
  return std::clamp(2 * births / (plan.rateAtStart + root), 0.0, plan.length);
}

template <typename Sample>
auto between(const std::vector<Sample>& samples, double share) {
  if (samples.size() == 1) return samples.front();
  const double position = share * static_cast<double>(samples.size() - 1);
  const std::size_t i = std::min(static_cast<std::size_t>(position), samples.size() - 2);
  const double t = position - static_cast<double>(i);
  return samples[i] * (1 - t) + samples[i + 1] * t;
}

// Uniform over the cap of the sphere around `axis`.
Vec3d directionInCone(const Vec3d& axis, double cone, double a, double b) {
  if (cone <= 0) return axis;
  const double cosine = 1 - a * (1 - std::cos(cone));
  const double sine = std::sqrt(std::max(0.0, 1 - cosine * cosine));
  Vec3d first, second;
  perpendiculars(axis, first, second);
  return axis * cosine + (first * std::cos(2 * kPi * b) + second * std::sin(2 * kPi * b)) * sine;
}

}  // namespace

void EmissionPlan::describe(Hasher& hasher) const {
  hasher << emitter << randomKey << length << rateAtStart << rateAtEnd << bursts.size();
  for (const BurstNow& burst : bursts) hasher << burst.time << burst.count;
  shape.describe(hasher);
  for (const Vec3d& place : places) hasher << place.x << place.y << place.z;
  for (const Mat3d& turn : turns)
    for (int column = 0; column < 3; ++column) hasher << turn[column].x << turn[column].y << turn[column].z;
  hasher << direction.x << direction.y << direction.z << cone << speed.value << speed.variation
         << lifetime.value << lifetime.variation;
}

EmissionPlan planEmission(const Item& emitter, std::uint64_t sceneSeed, double frameRate,
                          const FrameTime& time) {
  EmissionPlan plan;
  plan.emitter = emitter.id;
  plan.randomKey = combineKeys(combineKeys(sceneSeed, emitter.id),
                               static_cast<std::uint64_t>(emitter.number("seed", time.frame)));
  plan.length = time.length;
  const RandomSource random(plan.randomKey);
  const double startFrame = time.length > 0 ? time.frame - 1.0 : time.frame;
  const double rateUnit = random.signedUnit(static_cast<std::uint32_t>(time.frame), Draw::Rate);
  plan.rateAtStart = rateAt(emitter, startFrame, rateUnit);
  plan.rateAtEnd = rateAt(emitter, time.frame, rateUnit);
  const auto& bursts = std::get<BurstList>(emitter.value("bursts").base);
  for (std::size_t i = 0; i < bursts.size(); ++i)
    addBurst(bursts[i], i, random, frameRate, time, plan.bursts);

  const double middle = time.middleFrame();
  plan.shape = shapeOf(emitter, middle);
  const bool rests = emitter.value("place").keys.empty() && emitter.value("turn").keys.empty();
  const int pieces = rests ? 0 : kPathPieces;
  for (int i = 0; i <= pieces; ++i) {
    const double frame = pieces == 0 ? time.frame : startFrame + (time.frame - startFrame) * i / pieces;
    plan.places.push_back(emitter.vector("place", frame));
    plan.turns.push_back(rotationFromDegrees(emitter.vector("turn", frame)));
  }
  plan.direction = unitOr(emitter.vector("direction", middle), Vec3d(0, 1, 0));
  plan.cone = radians(emitter.number("cone", middle));
  plan.speed = {emitter.number("speed", middle), emitter.value("speed").variation};
  plan.lifetime = {emitter.number("lifetime", middle), emitter.value("lifetime").variation};
  return plan;
}

BirthTimes birthTimes(const EmissionPlan& plan, const BirthState& before, std::uint64_t most) {
  BirthTimes result;
  const double due = before.carry + 0.5 * (plan.rateAtStart + plan.rateAtEnd) * plan.length;
  const double whole = std::floor(due);
  const auto fromRate = static_cast<std::uint64_t>(whole);
  result.wanted = fromRate;
  for (const BurstNow& burst : plan.bursts) result.wanted += burst.count;
  result.times.reserve(std::min(most, result.wanted));
  for (std::uint64_t i = 1; i <= std::min(most, fromRate); ++i)
    result.times.push_back(timeOfBirth(plan, static_cast<double>(i) - before.carry));
  for (const BurstNow& burst : plan.bursts)
    result.times.insert(result.times.end(), std::min(burst.count, most - result.times.size()), burst.time);
  result.after = {before.next + result.wanted, due - whole};
  return result;
}

void placeBirth(const EmissionPlan& plan, std::uint64_t birth, double time, ParticleStore& particles,
                std::size_t index) {
  const RandomSource random(plan.randomKey);
  const double share = plan.length > 0 ? time / plan.length : 1.0;
  const Vec3d place = between(plan.places, share);
  const Mat3d turn = between(plan.turns, share);
  const Vec3d numbers(random.unit(birth, Draw::ShapeA), random.unit(birth, Draw::ShapeB),
                      random.unit(birth, Draw::ShapeC));
  const Vec3d position = place + turn * pointOn(plan.shape, numbers);
  const Vec3d direction =
      unitOr(turn * directionInCone(plan.direction, plan.cone, random.unit(birth, Draw::DirectionA),
                                    random.unit(birth, Draw::DirectionB)),
             Vec3d(0, 1, 0));
  const Vec3d velocity = direction * plan.speed.pick(random.signedUnit(birth, Draw::Speed));
  for (int axis = 0; axis < 3; ++axis) {
    const auto offset = static_cast<ParticleStore::Field>(axis);
    particles.field(static_cast<ParticleStore::Field>(ParticleStore::PositionX + offset))[index] =
        static_cast<float>(position[axis]);
    particles.field(static_cast<ParticleStore::Field>(ParticleStore::VelocityX + offset))[index] =
        static_cast<float>(velocity[axis]);
  }
  // A variation larger than the value must not make lives that are over before they begin.
  constexpr double kShortestLife = 1e-3;
  const double lifetime =
      std::max(kShortestLife, plan.lifetime.pick(random.signedUnit(birth, Draw::Lifetime)));
  particles.field(ParticleStore::Age)[index] = 0.0F;
  particles.field(ParticleStore::Lifetime)[index] = static_cast<float>(lifetime);
  particles.ids()[index] = particleId(plan.emitter, birth);
}

std::vector<ExpectedBirths> expectedBirths(const Item& emitter, const FrameRange& range, double frameRate) {
  std::vector<ExpectedBirths> births(static_cast<std::size_t>(range.count()));
  for (int frame = range.first + 1; frame <= range.last; ++frame)
    births[static_cast<std::size_t>(frame - range.first)].fromRate =
        0.5 * (rateAt(emitter, frame - 1, 0) + rateAt(emitter, frame, 0)) / frameRate;
  for (const Burst& burst : std::get<BurstList>(emitter.value("bursts").base)) {
    const int repeats = burst.every > 0 ? burst.times : 1;
    for (int repeat = 0; repeat < repeats; ++repeat) {
      const int frame = static_cast<int>(std::ceil(burst.frame + repeat * burst.every));
      if (frame > range.last) break;
      if (frame >= range.first)
        births[static_cast<std::size_t>(frame - range.first)].fromBursts += burst.count;
    }
  }
  return births;
}

}  // namespace comet
