#include "simulation/gas/gas_source.h"

#include "simulation/emission/emission.h"
#include "simulation/emission/shape_distance.h"
#include "simulation/gas/gas_kind.h"

#include <algorithm>

namespace comet {
namespace {

// In a step, the part of it in which a source gives, and the burst or frame whose variations it has.
struct Giving {
  double activity = 0;
  std::int64_t drawn = 0;
};

// Of a source that gives from one frame to another; a step of no length is a moment.
double activityWithin(const FrameTime& time, double first, double last) {
  const double until = time.frame, from = time.length > 0 ? until - 1 : until;
  if (until <= from) return until >= first && until <= last ? 1 : 0;
  return std::clamp(std::min(until, last) - std::max(from, first), 0.0, 1.0);
}

// Where bursts overlap, the one that fills more of the step counts.
Giving givingOfBursts(const Item& source, const RandomSource& random, const FrameTime& time) {
  const ParamValue &interval = source.value("burst_interval"), &length = source.value("burst_length");
  const double first = source.number("first_burst", 0), every = source.number("burst_interval", 0);
  const double longest = source.number("burst_length", 0) + length.variation;
  const int count = source.integer("burst_count", 0);
  const auto numberAt = [&](double frame) { return std::floor((frame - first) / every); };
  const auto begin =
      static_cast<std::int64_t>(std::max(0.0, numberAt(time.frame - 1 - longest - interval.variation)));
  auto end = static_cast<std::int64_t>(numberAt(time.frame + interval.variation)) + 1;
  if (count > 0) end = std::min<std::int64_t>(end, count);
  Giving giving;
  for (std::int64_t burst = begin; burst < end; ++burst) {
    const auto identity = static_cast<std::uint64_t>(burst);
    const double moved = interval.variation * random.signedUnit(identity, Draw::GasBurstStart);
    const double start = first + static_cast<double>(burst) * every + moved;
    const double lasts = source.number("burst_length", 0) +
                         length.variation * random.signedUnit(identity, Draw::GasBurstLength);
    const double activity = activityWithin(time, start, start + std::max(0.0, lasts));
    if (activity > giving.activity) giving = {activity, burst};
    if (activity >= 1) break;
  }
  return giving;
}

Giving givingOf(const Item& source, const RandomSource& random, const FrameTime& time) {
  if (source.chooses("emits", "bursts")) return givingOfBursts(source, random, time);
  const auto frame = static_cast<std::int64_t>(time.frame);
  if (source.chooses("emits", "always")) return {1, frame};
  return {activityWithin(time, source.number("emits_from", 0), source.number("emits_until", 0)), frame};
}

// Whether any source may bring the fuel in a gas to the temperature at which it burns.
bool mayIgnite(const Scene& scene, const Item& gas, double frame) {
  const double ignition = gas.number("ignition", frame);
  if (ignition <= 0 || !gas.value("ignition").keys.empty()) return true;
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Source)) {
    if (!item->enabled || item->reference("gas") != gas.id) continue;
    const ParamValue& temperature = item->value("temperature");
    if (!temperature.keys.empty()) return true;
    const double most = item->number("temperature", frame) + temperature.variation;
    // What is given each second adds up.
    if (item->chooses("amount", "held") ? most >= ignition : most > 0) return true;
  }
  return false;
}

void sitOnParticles(const Item& source, const Item& emitter, double frame, SourcePlan& plan) {
  plan.particlesOf = emitter.id;
  if (source.chooses("particle_radius_by", "size")) {
    plan.puff.radius = source.number("particle_radius_of_size", frame) / 100;
    plan.puff.size.emplace(emitter, frame);
  } else {
    plan.puff.radius = source.number("particle_radius", frame);
  }
  const auto& amount = std::get<Curve>(source.value("amount_over_life").base);
  if (amount == Curve::constant(1)) return;
  plan.puff.overLife.emplace();
  plan.puff.overLife->fill([&amount](double x) { return static_cast<float>(std::max(0.0, amount.at(x))); });
}

}  // namespace

void SourcePlan::describe(Hasher& hasher) const {
  hasher << source << particlesOf << thickness << softness;
  if (particlesOf != 0) {
    hasher << puff.radius << puff.size.has_value() << puff.overLife.has_value();
    if (puff.size) puff.size->describe(hasher);
    if (puff.overLife) hasher.bytes(&*puff.overLife, sizeof *puff.overLife);
  } else {
    hasher << strokes.size();
    for (const Stroke& stroke : strokes) {
      hasher << stroke.size();
      for (const Vec3d& point : stroke) hasher << point;
    }
    shape.describe(hasher);
    path.describe(hasher);
  }
  hasher << isHeld << density << temperature << fuel << expansion;
  hasher << noise.amount << noise.size << noise.drift << noise.pattern;
  hasher << velocity.isSet << velocity.own << velocity.outwards << velocity.inherited << activity;
  hasher << color << givesPicture;
}

SourcePlan planSource(const Scene& scene, const Item& source, const FrameTime& time) {
  SourcePlan plan;
  const double frame = time.middleFrame();
  const std::uint64_t key = emissionKey(source, sceneSeed(scene), frame);
  plan.source = source.id;
  const RandomSource random(key);
  const Giving giving = givingOf(source, random, time);
  plan.activity = giving.activity;
  plan.softness = source.number("softness", frame);
  if (source.chooses("emits_by", "particles")) {
    const Scene::ItemPtr emitter = scene.find(source.reference("particles_of"));
    if (emitter)
      sitOnParticles(source, *emitter, frame, plan);
    else
      plan.activity = 0;
  } else {
    if (source.chooses("emits_by", "strokes")) {
      plan.strokes = std::get<StrokeList>(source.value("strokes").base);
      if (plan.strokes.empty()) plan.activity = 0;
    } else {
      plan.shape = shapeOf(source, frame);
    }
    plan.path = shapePath(source, time, frameRate(scene), wanderKey(key));
    plan.thickness = source.number("thickness", frame);
  }
  plan.isHeld = source.chooses("amount", "held");
  const auto varied = [&](const char* param, Draw draw) {
    return source.number(param, frame) +
           source.value(param).variation * random.signedUnit(static_cast<std::uint64_t>(giving.drawn), draw);
  };
  plan.density = std::max(0.0, varied("density", Draw::GasDensity));
  plan.temperature = varied("temperature", Draw::GasTemperature);
  plan.fuel = std::max(0.0, varied("fuel", Draw::GasFuel));
  plan.expansion = varied("expansion", Draw::GasExpansion);
  plan.noise.amount = source.number("noise", frame) / 100;
  if (plan.noise.amount > 0) {
    plan.noise.size = source.number("noise_size", frame);
    plan.noise.drift = source.number("noise_speed", frame) * (time.start + 0.5 * time.length);
  }
  plan.noise.pattern = key;
  if (source.chooses("gives_color", "color")) plan.color = source.vector("source_color", frame);
  plan.givesPicture = source.chooses("gives_color", "picture") && plan.particlesOf == 0 &&
                      plan.shape.type == ShapeType::Picture;
  plan.velocity.isSet = source.chooses("sets_velocity", "set");
  if (plan.velocity.isSet) {
    plan.velocity.own = source.vector("velocity", frame);
    if (source.chooses("emits_by", "shape")) plan.velocity.outwards = source.number("normal_speed", frame);
    plan.velocity.inherited = source.number("inherit_velocity", frame) / 100;
  }
  return plan;
}

std::string problemWithSource(const Scene& scene, const Item& source, double frame) {
  const Scene::ItemPtr gas = scene.find(source.reference("gas"));
  if (!gas) return "gives to no gas: choose one";
  const auto mayGive = [&](const char* param) {
    return source.number(param, frame) != 0 || !source.value(param).keys.empty();
  };
  if (!mayGive("density") && !mayGive("temperature") && !mayGive("fuel") && !mayGive("expansion") &&
      !source.chooses("sets_velocity", "set"))
    return "has nothing to give: raise its density or temperature";
  if (mayGive("fuel") && !burns(*gas))
    return "gives fuel to a gas that does not burn: turn on Burning of the gas, or set the fuel to 0";
  if (mayGive("fuel") && !mayIgnite(scene, *gas, frame))
    return "gives fuel that never burns: raise its temperature above the Ignition of the gas";
  if (source.chooses("emits_by", "particles"))
    return source.reference("particles_of") == 0 ? "sits on no particles: choose an emitter" : "";
  if (source.chooses("emits_by", "strokes"))
    return std::get<StrokeList>(source.value("strokes").base).empty()
               ? "has no strokes: press Draw, and drag in the viewport"
               : "";
  if (std::string problem = problemWithShape(source, frame); !problem.empty()) return problem;
  const Shape shape = shapeOf(source, frame);
  if (!hasDistance(shape)) return {};
  const ShapePath::Placement pose = keyedPose(source, frame);
  const GasGrid grid = gasGridOf(*gas);
  Vec3d reach(source.number("thickness", frame) + source.number("wander", frame));
  for (int axis = 0; axis < 3; ++axis) reach += glm::abs(pose.frame[axis]) * halfSize(shape)[axis];
  const auto isWithin = [&](int axis) {
    return grid.corner[axis] < pose.position[axis] + reach[axis] &&
           pose.position[axis] - reach[axis] < grid.corner[axis] + grid.size()[axis];
  };
  if (isFlat(*gas) && !isWithin(2)) return "does not reach the plane of the flat gas: move it along z";
  return isWithin(0) && isWithin(1) && isWithin(2)
             ? ""
             : "lies outside of the gas's box: move it, or enlarge the box";
}

}  // namespace comet
