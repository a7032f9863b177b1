#include "simulation/card_step.h"

#include "simulation/card_room.h"
#include "simulation/motion/integrate.h"

#include <algorithm>
#include <glm/gtc/quaternion.hpp>

namespace comet {
namespace {

// Cards without a body of this kind are given one.
void makeBodies(const CardRule& rule, Chunk& cards) {
  const std::size_t each = CardBody::numbers(rule.grid());
  const bool fits = cards.bodies.size() == cards.count * each;
  if (!fits) cards.bodies.assign(cards.count * each, 0.0F);
  for (std::size_t i = 0; i < cards.count; ++i) {
    float* body = cards.bodies.data() + i * each;
    if (fits && body[each - 1] == static_cast<float>(rule.grid().across)) continue;
    rule.place(cards.ids[i], cards.position(i), cards.velocity(i), unitOr(cards.velocity(i), {0, 1, 0}),
               body);
  }
}

template <typename Arrays>
std::array<const float*, 3> dataOf(const Arrays& arrays, std::size_t first) {
  return {arrays[first].data(), arrays[first + 1].data(), arrays[first + 2].data()};
}

const float* stillOf(const Chunk& cards) {
  return cards.present.has(ParticleStore::Still) ? cards.field(ParticleStore::Still) : nullptr;
}

// What points gain by influences in a small step.
void push(CardRoom& room) {
  Chunk& chunk = room.points.chunk;
  const auto dragOf = [&](std::size_t axis, std::size_t i, float speed) {
    return room.drag[axis][i] + (room.isSlowed ? room.dragBySpeed[i] * speed : 0.0F);
  };
  std::array<float, kChunkSize> speeds{};
  for (std::size_t first = 0; first < chunk.count; first += room.row) {
    for (std::size_t lane = 0; room.isSlowed && lane < room.row; ++lane) {
      const std::size_t i = first + lane;
      const Vec3d air(room.air[0][i], room.air[1][i], room.air[2][i]);
      speeds[lane] = static_cast<float>(glm::length(air - chunk.velocity(i)));
    }
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const float *position = chunk.fields[axis].data() + first, *middle = chunk.middle[axis].data() + first;
      float* velocity = chunk.fields[ParticleStore::VelocityX + axis].data() + first;
      for (std::size_t lane = 0; lane < room.row; ++lane) {
        const std::size_t i = first + lane;
        const float time = room.lanes.duration[lane], drag = dragOf(axis, i, speeds[lane]);
        float pull = room.pull[axis][i] + drag * room.air[axis][i];
        if (room.hasSprings) pull -= room.stiffness[i] * (position[lane] - middle[lane]);
        velocity[lane] = (velocity[lane] + time * pull) / (1 + time * drag);
      }
    }
  }
  for (std::size_t i = 0; room.isTurned && i < chunk.count; ++i) {
    const Vec3d turn = room.points.forces.turn.of(i) * static_cast<double>(room.lanes.duration[i % room.row]);
    if (const double angle = glm::length(turn); angle > 0)
      chunk.setVelocity(i, glm::angleAxis(angle, turn / angle) * chunk.velocity(i));
  }
}

// Where points come by their velocities. These are those at the end of the small step, so that what rests
// stays where it is.
void predict(CardRoom& room) {
  Chunk& chunk = room.points.chunk;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const float* velocity = chunk.fields[ParticleStore::VelocityX + axis].data();
    float *position = chunk.fields[axis].data(), *predicted = room.predicted[axis].data();
    for (std::size_t first = 0; first < chunk.count; first += room.row)
      for (std::size_t lane = 0; lane < room.row; ++lane) {
        const std::size_t i = first + lane;
        position[i] += room.lanes.duration[lane] * velocity[i];
        predicted[i] = position[i];
      }
  }
}

// What holds cards together has moved points by so much: that was their velocity, too.
void takeVelocities(CardRoom& room) {
  Chunk& chunk = room.points.chunk;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const float *position = chunk.fields[axis].data(), *predicted = room.predicted[axis].data();
    float* velocity = chunk.fields[ParticleStore::VelocityX + axis].data();
    for (std::size_t first = 0; first < chunk.count; first += room.row)
      for (std::size_t lane = 0; lane < room.row; ++lane) {
        const float time = room.lanes.duration[lane];
        if (time > 0) velocity[first + lane] += (position[first + lane] - predicted[first + lane]) / time;
      }
  }
}

// For surfaces all that a point has gained happened as the small step began: it flies on straight.
void tellSurfaces(CardRoom& room) {
  const Chunk& chunk = room.points.chunk;
  SubstepStart& start = room.points.substepStart;
  std::copy(room.begun.begin(), room.begun.end(), start.fields.begin());
  start.arePushed = false;
  for (std::size_t i = 0; i < chunk.count; ++i) start.push(i, chunk.velocity(i) - start.velocity(i));
}

}  // namespace

CardStep::CardStep(const FramePlan& plan, const Schedule& schedule)
    : plan_(plan),
      schedule_(schedule),
      solver_(*schedule.emitter.card),
      takesPlanes_(CardSurfaces::suffice(schedule)) {}

std::size_t CardStep::chunkSize() const {
  return kChunkSize / solver_.grid().points() / kCardLanes * kCardLanes;
}

void CardStep::advance(const double* births, Workspace& work, ParentPath* paths) const {
  if (births) work.chunk.startInGroup.reset();
  if (paths) work.stepStart.take(work.chunk);
  if (!work.cards) work.cards = std::make_shared<CardRoom>();
  CardRoom& room = *work.cards;
  makeBodies(rule(), work.chunk);
  room.load(rule(), work.chunk);
  room.followMiddles(solver_.grid(), work.chunk);
  const Masses masses = massesOf(schedule_.emitter.emission.mass, work);
  for (int number = 0; number < plan_.substeps; ++number) move(number, births, masses, work);
  room.keep(solver_.grid(), work.chunk);
  room.noteHits(solver_.grid(), work.deflections);
  endStep(plan_, schedule_, births, work, paths);
}

void CardStep::move(int number, const double* births, const Masses& masses, Workspace& work) const {
  CardRoom& room = *work.cards;
  const SmallStep step = smallStep(plan_, number);
  const Durations durations = beginStep(schedule_, step, births, work);
  // In the first frame nothing moves yet.
  if (!(step.substep.length > 0)) return;
  askInfluences(step.substep, durations, masses, work);
  const int parts = rule().steps();
  if (takesPlanes_) room.surfaces.find(schedule_, step.substep, rule(), room);
  for (int part = 0; part < parts; ++part) {
    const SmallStep small = smallStep(plan_, number * parts + part, parts);
    // Of cards that there were, all small steps are alike.
    if (births || part == 0) setDurations(small, births, work);
    moveSmall(small, room);
  }
  if (takesPlanes_) {
    const Durations own = spread(durations, room);
    room.surfaces.finish(schedule_, step.substep, own, room);
  }
  room.setMiddles(solver_.grid(), work.chunk);
  if (schedule_.correcting.empty()) return;
  const Samples samples = work.chunk.samples();
  for (const ActingInfluence* acting : schedule_.correcting)
    acting->action().correct(work.chunk, step.substep, durations, masses,
                             acting->weights(samples, step.substep, work.weights));
  room.followMiddles(solver_.grid(), work.chunk);
}

Durations CardStep::spread(const Durations& durations, CardRoom& room) const {
  if (!durations.own) return durations;
  room.spread(solver_.grid().points(), room.durations.data(),
              [&](std::size_t card) { return durations.own[card]; });
  return {durations.all, room.durations.data()};
}

void CardStep::askInfluences(const Substep& substep, const Durations& durations, const Masses& masses,
                             Workspace& work) const {
  CardRoom& room = *work.cards;
  Chunk& chunk = room.points.chunk;
  const Durations own = spread(durations, room);
  if (schedule_.readsAges)
    room.spread(solver_.grid().points(), chunk.middleAge.data(),
                [&](std::size_t card) { return work.chunk.middleAge[card]; });
  if (schedule_.readsPositions) predictMiddle(chunk, own);
  Forces& forces = room.points.forces;
  forces.airHolds = false;
  forces.clear();
  const Samples samples = chunk.samples();
  for (const ActingInfluence* acting : schedule_.pushing)
    acting->action().addTo(forces, samples, substep, acting->weights(samples, substep, room.points.weights));
  if (schedule_.keepsDepth) forces.flatten();
  room.hasSprings = forces.stiffness.isUsed();
  room.isSlowed = forces.dragBySpeed.isUsed();
  room.isTurned = forces.turn.all != Vec3d(0.0) || forces.turn.own.isUsed();
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const std::size_t lane = i % room.row;
    const double mass = masses.of(lane < room.cards ? lane : 0);
    const Vec3d pull = forces.acceleration.of(i) + (forces.force.of(i) + forces.spring.of(i)) / mass;
    const Vec3d air = forces.air.of(i), drag = forces.drag.of(i) / mass;
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const int k = static_cast<int>(axis);
      room.pull[axis][i] = static_cast<float>(pull[k]);
      room.air[axis][i] = static_cast<float>(air[k]);
      room.drag[axis][i] = static_cast<float>(drag[k]);
    }
    room.stiffness[i] = static_cast<float>(forces.stiffness.of(i) / mass);
    room.dragBySpeed[i] = static_cast<float>(forces.dragBySpeed.of(i) / mass);
  }
}

void CardStep::setDurations(const SmallStep& step, const double* births, Workspace& work) const {
  CardRoom& room = *work.cards;
  const float* still = stillOf(work.chunk);
  for (std::size_t lane = 0; lane < room.row; ++lane) {
    const double length = step.substep.length;
    const double born =
        births && lane < room.cards ? std::clamp(step.end() - births[lane], 0.0, length) : length;
    const bool moves = lane < room.cards && !(still && still[lane] != 0);
    room.numbers.durations[lane] = moves ? static_cast<float>(born) : 0.0F;
    for (std::size_t point = 0; point < solver_.grid().points(); ++point) {
      room.durations[point * room.row + lane] = moves ? born : 0.0;
      if (moves) continue;
      for (std::size_t axis = 0; axis < 3; ++axis)
        room.points.chunk.fields[ParticleStore::VelocityX + axis][point * room.row + lane] = 0;
    }
  }
  room.lanes = room.numbers.lanes(rule());
}

void CardStep::moveSmall(const SmallStep& step, CardRoom& room) const {
  std::copy_n(room.points.chunk.fields.begin(), room.begun.size(), room.begun.begin());
  push(room);
  predict(room);
  const CardVectors positions = room.vectors(ParticleStore::PositionX);
  solver_.solve(step.number, room.lanes, positions);
  takeVelocities(room);
  if (takesPlanes_) {
    room.surfaces.meet(step.substep, room);
  } else {
    tellSurfaces(room);
    comet::meetSurfaces(schedule_, step.substep, {step.substep.length, room.durations.data()}, room.points);
  }
  // Last, so that what lies on a surface presses it by all of its weight.
  if (rule().airDensity() > 0)
    blowOnCards(solver_.grid(),
                {dataOf(room.air, 0), dataOf(room.begun, ParticleStore::PositionX),
                 dataOf(room.begun, ParticleStore::VelocityX), rule().airDensity() / rule().massByArea(),
                 std::min(rule().width(), rule().length())},
                room.lanes, positions, room.vectors(ParticleStore::VelocityX));
}

}  // namespace comet
