#include "simulation/arrivals/arrive.h"

#include "geometry/assignment.h"
#include "particles/rolling.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// Goes on by some seconds: as a fraction of the travel time, and then in seconds.
double advanced(double progress, double seconds, double travelTime) {
  if (progress >= 1) return progress + seconds;
  progress += seconds / travelTime;
  return progress > 1 ? 1 + (progress - 1) * travelTime : progress;
}

// Of a particle that may be arrived at; too high ones are left out.
std::optional<std::uint32_t> numberOf(ParticleId id) {
  const std::uint64_t number = birthOfId(withoutCycle(id));
  if (number > kMaxArrivalPoint) return std::nullopt;
  return static_cast<std::uint32_t>(number);
}

std::vector<OpenPoint> withoutTaken(std::vector<OpenPoint> points, std::vector<std::uint32_t> taken) {
  std::sort(taken.begin(), taken.end());
  points.erase(std::remove_if(points.begin(), points.end(),
                              [&](const OpenPoint& point) {
                                return std::binary_search(taken.begin(), taken.end(), point.number);
                              }),
               points.end());
  return points;
}

}  // namespace

ArrivalRules::ArrivalRules(const Item& influence, const FrameTime& step, const Progress& progress)
    : self(influence.id),
      time(step),
      travel(influence, step.middleFrame()),
      tag(influence.integer("only_tag", step.middleFrame())),
      facesSurface(influence.flag("face_surface")),
      hold(influence.choiceAs<Hold>("hold", std::array<std::string_view, 3>{"forever", "time", "speed"})),
      holdSeconds{influence.number("hold_time", step.middleFrame()), influence.value("hold_time").variation},
      holdSpeed(influence.number("hold_speed", step.middleFrame())),
      released(influence.number("release", step.middleFrame()) / 100),
      random(mixBits(influence.id)) {
  if (influence.chooses("target", "shape"))
    shape.emplace(influence, step, progress);
  else
    targets = influence.reference("target_emitter");
}

void ArrivalRules::describe(Hasher& hasher) const {
  hasher << self << shape.has_value() << targets << tag << facesSurface << hold << holdSpeed << released
         << random.key();
  if (shape) shape->describe(hasher);
  travel.describe(hasher);
  holdSeconds.describe(hasher);
}

std::vector<OpenPoint> Arrive::pointsOf(const ArrivalRules& rules, const ParticleState& particles,
                                        double fraction) {
  std::vector<OpenPoint> points;
  if (rules.shape) {
    const ShapePoints::Moment moment = rules.shape->moment(fraction);
    for (std::size_t i = 0; i < rules.shape->size(); ++i)
      points.push_back({static_cast<std::uint32_t>(i), rules.shape->at(i, moment)});
  } else if (const ParticleGroup* group = particles.find(rules.targets)) {
    for (std::size_t i = 0; i < group->particles.size(); ++i)
      if (const auto number = numberOf(group->particles.ids()[i]))
        points.push_back({*number, group->particles.position(i)});
  }
  return points;
}

std::shared_ptr<const InfluenceAction> Arrive::seeing(const Surroundings& around) const {
  const auto answering = around.answering.find(rules_->self);
  if (answering == around.answering.end()) return nullptr;
  std::vector<ParticleId> waiting;
  std::vector<Vec3d> from;
  std::vector<std::uint32_t> taken;
  for (const ItemId emitter : answering->second) {
    const ParticleGroup* group = around.particles.find(emitter);
    if (!group || !group->particles.fields().has(ParticleStore::ArriveBy)) continue;
    const ParticleStore& particles = group->particles;
    for (std::size_t i = 0; i < particles.size(); ++i) {
      const Arrival arrival = arrivalOf(particles, i);
      if (arrival.influence != rules_->self) continue;
      if (arrival.stage == ArrivalStage::Led) taken.push_back(arrival.point);
      if (arrival.stage != ArrivalStage::Waiting) continue;
      waiting.push_back(particles.ids()[i]);
      from.push_back(particles.position(i));
    }
  }
  Seen seen;
  if (const ParticleGroup* group = around.particles.find(rules_->targets); group && !rules_->shape)
    for (std::size_t i = 0; i < group->particles.size(); ++i)
      if (const auto number = numberOf(group->particles.ids()[i]))
        seen.targets[*number] = {group->particles.position(i), group->particles.velocity(i)};
  if (!waiting.empty()) {
    const std::vector<OpenPoint> open =
        withoutTaken(pointsOf(*rules_, around.particles, 0), std::move(taken));
    std::vector<Vec3d> places(open.size());
    std::transform(open.begin(), open.end(), places.begin(), [](const OpenPoint& point) { return point.at; });
    const Assignment assignment = assignPlaces(from, places, around.progress);
    for (std::size_t i = 0; i < waiting.size(); ++i)
      if (assignment.places[i] != Assignment::kNone)
        seen.points[waiting[i]] = open[assignment.places[i]].number;
  }
  return std::shared_ptr<const Arrive>(new Arrive(rules_, std::move(seen)));
}

FieldSet Arrive::remembers() const {
  FieldSet fields = arrivalFields();
  if (rules_->facesSurface) fields |= rollingFields();
  return fields;
}

bool Arrive::isAsked(const Chunk& chunk, std::size_t i) const {
  if (rules_->released > 0 && rules_->random.unit(chunk.ids[i], Draw::ArriveRelease) < rules_->released)
    return false;
  if (rules_->tag == 0) return true;
  if (!chunk.present.has(ParticleStore::Tags)) return false;
  const auto tags = static_cast<std::uint32_t>(chunk.field(ParticleStore::Tags)[i]);
  return (tags >> (rules_->tag - 1) & 1U) != 0;
}

Arrive::Moment Arrive::momentAt(double seconds) const {
  Moment moment{seconds - rules_->time.start, std::nullopt};
  const double length = rules_->time.length;
  if (rules_->shape)
    moment.shape = rules_->shape->moment(length > 0 ? std::clamp(moment.since / length, 0.0, 1.0) : 1);
  return moment;
}

std::optional<Vec3d> Arrive::pointAt(std::uint32_t number, const Moment& moment) const {
  if (moment.shape) {
    if (number >= rules_->shape->size()) return std::nullopt;
    return rules_->shape->at(number, *moment.shape);
  }
  const auto target = seen_.targets.find(number);
  if (target == seen_.targets.end()) return std::nullopt;
  return target->second.at + target->second.velocity * moment.since;
}

void Arrive::correct(Chunk& chunk, const Substep& substep, const Durations& durations, const Masses&,
                     const Weights& weights) const {
  constexpr double kSameMoment = 1e-9;
  const Moment begin = momentAt(substep.start), end = momentAt(substep.start + substep.length);
  const bool isFirst = substep.start <= rules_->time.start + kSameMoment;
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const double duration = durations.of(i);
    Arrival arrival = arrivalOf(chunk, i);
    const Arrival before = arrival;
    const double weight = isAsked(chunk, i) ? weights.of(i) : 0;
    if (durations.own) {
      const Moment birth = momentAt(substep.start + substep.length - duration);
      follow(chunk, i, {birth, end, duration, weight, isFirst}, arrival);
    } else {
      follow(chunk, i, {begin, end, duration, weight, isFirst}, arrival);
    }
    if (arrival != before) setArrival(chunk, i, arrival);
  }
}

void Arrive::follow(Chunk& chunk, std::size_t i, const Way& way, Arrival& arrival) const {
  const bool isMine = arrival.influence == rules_->self;
  // Another's that has not let go is left to it, and so is one that I have let go and still act on.
  const bool isFree = arrival.influence == 0 || arrival.stage == ArrivalStage::None ||
                      (arrival.stage == ArrivalStage::Released && !isMine);
  if (way.weight > 0 && isFree) {
    arrival = {.influence = rules_->self, .stage = ArrivalStage::Waiting};
    arrival.progress = advanced(0, way.duration, rules_->travel.secondsOf(chunk.ids[i]));
    return;
  }
  if (!isMine) return;
  if (way.weight <= 0) return letGo(chunk.ids[i], way.duration, ArrivalStage::None, arrival);
  if (arrival.stage == ArrivalStage::Released)
    return letGo(chunk.ids[i], way.duration, ArrivalStage::Released, arrival);
  if (arrival.stage == ArrivalStage::Waiting) wait(chunk, i, way, arrival);
  if (arrival.stage == ArrivalStage::Led) lead(chunk, i, way, arrival);
}

void Arrive::wait(const Chunk& chunk, std::size_t i, const Way& way, Arrival& arrival) const {
  const double seconds = rules_->travel.secondsOf(chunk.ids[i]);
  if (const auto point = seen_.points.find(chunk.ids[i]); point != seen_.points.end()) {
    arrival.stage = ArrivalStage::Led;
    arrival.point = point->second;
    arrival.speed = chunk.velocity(i);
    // The time in which it waited for the step's begin counts.
    const double since = arrival.travelled() * seconds + way.duration;
    arrival.from = chunk.position(i) - arrival.speed * since;
    return;
  }
  // None was free as the step began: its time begins when it gets one.
  if (way.isFirst) arrival.progress = 0;
  arrival.progress = advanced(arrival.progress, way.duration, seconds);
}

void Arrive::lead(Chunk& chunk, std::size_t i, const Way& way, Arrival& arrival) const {
  const ParticleId id = chunk.ids[i];
  const double duration = way.duration;
  const auto before = pointAt(arrival.point, way.begin), point = pointAt(arrival.point, way.end);
  if (!point || !before) return letGo(id, duration, ArrivalStage::None, arrival);
  const double travelledBefore = arrival.travelled();
  const Vec3d from = rules_->travel.at(id, arrival, *before);
  arrival.progress = advanced(arrival.progress, duration, rules_->travel.secondsOf(id));
  const Vec3d to = rules_->travel.at(id, arrival, *point);
  // Below 100 %, what is left after a frame's time of how far other influences have led it astray.
  const double frames = rules_->time.length > 0 ? duration / rules_->time.length : 1;
  const double pull = way.weight >= 1 ? 1 : 1 - std::pow(1 - way.weight, frames);
  chunk.setPosition(i, glm::mix(chunk.position(i), to, pull));
  if (duration > 0) chunk.setVelocity(i, glm::mix(chunk.velocity(i), (to - from) / duration, pull));
  if (rules_->facesSurface)
    turn(chunk, i, way.end.shape ? rules_->shape->normal(arrival.point, *way.end.shape) : Vec3d(0, 1, 0),
         travelledBefore, arrival.travelled());
  const Vec3d pointVelocity = duration > 0 ? (*point - *before) / duration : Vec3d(0.0);
  if (mayRelease(arrival, id, pointVelocity)) arrival.stage = ArrivalStage::Released;
}

void Arrive::turn(Chunk& chunk, std::size_t i, const Vec3d& normal, double before, double after) const {
  const double left = 1 - rules_->travel.eased(before);
  const double part = left > 1e-9 ? (rules_->travel.eased(after) - rules_->travel.eased(before)) / left : 1;
  const glm::dquat wanted = glm::quat_cast(turnedTo(normal));
  setOrientation(chunk, i, glm::slerp(orientationOf(chunk, i), wanted, std::clamp(part, 0.0, 1.0)));
}

bool Arrive::mayRelease(const Arrival& arrival, ParticleId id, const Vec3d& pointVelocity) const {
  if (arrival.progress < 1) return false;
  switch (rules_->hold) {
    case ArrivalRules::Hold::Forever:
      return false;
    case ArrivalRules::Hold::Time:
      return arrival.progress - 1 >=
             rules_->holdSeconds.pick(rules_->random.signedUnit(id, Draw::ArriveHold));
    case ArrivalRules::Hold::Speed:
      return glm::length(pointVelocity) > rules_->holdSpeed;
  }
  return false;
}

// What follows how far it has come, such as its look, goes back to the beginning as fast as it came.
void Arrive::letGo(ParticleId id, double duration, ArrivalStage stage, Arrival& arrival) const {
  arrival.stage = stage;
  arrival.progress = std::max(0.0, arrival.travelled() - duration / rules_->travel.secondsOf(id));
  if (stage == ArrivalStage::None && arrival.progress == 0) arrival.influence = 0;
}

}  // namespace comet
