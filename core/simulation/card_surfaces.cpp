#include "simulation/card_surfaces.h"

#include "simulation/card_room.h"
#include "simulation/deflectors/met_deflector.h"
#include "simulation/deflectors/near_deflector.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// Beside its speed a point may be thrown about by the rest of its card, by so much of its size in a substep.
constexpr double kThrown = 0.25;

// What influences push a point by, units/s².
double pullOn(const CardRoom& room, std::size_t point) {
  return glm::length(Vec3d(room.pull[0][point], room.pull[1][point], room.pull[2][point]));
}

// Where points may come in a substep, each around where it is.
void setReaches(const Substep& substep, const CardRoom& room, ChunkArray& reaches) {
  const Chunk& chunk = room.points.chunk;
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const double flown = substep.length * (glm::length(chunk.velocity(i)) + substep.length * pullOn(room, i));
    reaches[i] = static_cast<float>(flown + kThrown * static_cast<double>(room.numbers.sizes[i % room.row]));
  }
}

}  // namespace

bool CardSurfaces::suffice(const Schedule& schedule) {
  return std::all_of(
      schedule.deflecting.begin(), schedule.deflecting.end(), [](const ActingInfluence* acting) {
        const SurfaceRule& rule = acting->action().deflector()->rule();
        const bool keeps =
            rule.onHit == SurfaceRule::OnHit::Bounce || rule.onHit == SurfaceRule::OnHit::Slide;
        return keeps && rule.roughness == 0;
      });
}

void CardSurfaces::find(const Schedule& schedule, const Substep& substep, const CardRule& rule,
                        CardRoom& room) {
  start_ = substep.start;
  planes_.clear();
  const Chunk& chunk = room.points.chunk;
  for (std::size_t axis = 0; axis < 3; ++axis)
    std::copy_n(chunk.fields[axis].data(), chunk.count, begun_[axis].data());
  if (schedule.deflecting.empty()) return;
  setDeflectors(schedule, substep, room.points);
  ChunkArray reaches;
  setReaches(substep, room, reaches);
  for (const ActingDeflector& acting : room.points.deflectors) {
    const Deflector& deflector = *acting.deflector;
    const SurfaceRule& surface = deflector.rule();
    const PosedDeflector posed(acting, substep.start, substep.length);
    const Met met{&posed, deflector.skin() + 0.5 * rule.thickness() * surface.ownSize};
    DeflectorMasks masks;
    std::fill_n(masks.begin(), chunk.count, 0);
    markNear(deflector, met.clearance, deflector.fractionAt(substep.middle()), substep.length,
             {{chunk.fields[0].data(), chunk.fields[1].data(), chunk.fields[2].data()}, reaches.data()},
             chunk.count, 1, masks);
    for (std::size_t i = 0; i < chunk.count; ++i) {
      const ParticleId id = chunk.ids[i];
      if (masks[i] == 0 || i % room.row >= room.cards || acting.weights.of(i) == 0 || deflector.letsPass(id))
        continue;
      const Vec3d at = chunk.position(i);
      const SurfaceDistance gap = met.gapAt(at, substep.start, static_cast<double>(reaches[i]));
      if (!(gap.distance <= static_cast<double>(reaches[i]))) continue;
      const double bounce = surface.bounce.pick(deflector.hitRandom(0).signedUnit(id, Draw::Bounce));
      const double kept = surface.onHit == SurfaceRule::OnHit::Slide ? 0.0 : std::max(0.0, bounce);
      planes_.push_back({&acting, static_cast<std::uint32_t>(i), static_cast<std::uint32_t>(i % room.row),
                         Vec3(gap.normal), Vec3(met.velocityAt(at, substep.start)),
                         static_cast<float>(gap.distance), static_cast<float>(2 * met.touching()),
                         static_cast<float>(surface.friction), static_cast<float>(kept),
                         gap.distance <= 2 * met.touching()});
    }
  }
}

void CardSurfaces::meet(const Substep& small, CardRoom& room) {
  Chunk& chunk = room.points.chunk;
  const auto tripleOf = [](const auto& arrays, std::size_t first, std::size_t i) {
    return Vec3(arrays[first][i], arrays[first + 1][i], arrays[first + 2][i]);
  };
  const auto passed = static_cast<float>(small.start + small.length - start_);
  for (Plane& plane : planes_) {
    const std::size_t i = plane.point;
    const float time = room.lanes.duration[plane.lane];
    if (!(time > 0)) continue;
    Vec3 at = tripleOf(chunk.fields, ParticleStore::PositionX, i);
    const Vec3 gone = at - tripleOf(begun_, 0, i) - plane.velocity * passed;
    const float depth = -plane.gap - glm::dot(gone, plane.normal);
    if (depth <= 0) {
      plane.isTouched = plane.isTouched && depth > -plane.near;
      continue;
    }
    at += plane.normal * depth;
    Vec3 over = tripleOf(chunk.fields, ParticleStore::VelocityX, i) - plane.velocity;
    const float against = std::max(0.0F, -glm::dot(over, plane.normal));
    // What comes down no faster than it would in a small step from rest lies there, and does not bounce.
    const bool rests = plane.isTouched || against <= 1.01F * static_cast<float>(pullOn(room, i)) * time;
    const float bounce = rests ? 0 : plane.bounce;
    over += plane.normal * ((1 + bounce) * against);
    const Vec3 path = at - tripleOf(room.begun, ParticleStore::PositionX, i) - plane.velocity * time;
    const Vec3 along = path - plane.normal * glm::dot(path, plane.normal);
    const float length = glm::length(along), most = plane.friction * (1 + bounce) * against * time;
    if (length > most) {
      at -= along * (most / length);
      over -= along * (most / (length * time));
    } else {
      at -= along;
      over = plane.normal * glm::dot(over, plane.normal);
    }
    if (!rests) note(plane, small.start + small.length, against, at, chunk.ids[i]);
    plane.isTouched = bounce == 0;
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const int k = static_cast<int>(axis);
      chunk.fields[ParticleStore::PositionX + axis][i] = at[k];
      chunk.fields[ParticleStore::VelocityX + axis][i] = over[k] + plane.velocity[k];
    }
  }
}

void CardSurfaces::note(const Plane& plane, double time, float against, const Vec3& at, ParticleId id) {
  DeflectionCount& count = *plane.acting->count;
  ++count.hits;
  count.list.push_back({time, id, plane.acting->id, against, at, plane.normal});
}

void CardSurfaces::finish(const Schedule& schedule, const Substep& substep, const Durations& durations,
                          CardRoom& room) const {
  Chunk& chunk = room.points.chunk;
  SubstepStart& start = room.points.substepStart;
  std::array<ChunkArray, 6> ends;
  std::copy_n(chunk.fields.begin(), ends.size(), ends.begin());
  for (std::size_t axis = 0; axis < 3; ++axis)
    std::copy_n(begun_[axis].data(), chunk.count, start.fields[axis].data());
  start.arePushed = false;
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const double time = durations.of(i);
    const Vec3d straight = time > 0 ? (chunk.position(i) - start.position(i)) / time : Vec3d(0.0);
    for (std::size_t axis = 0; axis < 3; ++axis)
      start.fields[3 + axis][i] = static_cast<float>(straight[static_cast<int>(axis)]);
  }
  meetSurfaces(schedule, substep, durations, room.points);
  double skin = 0;
  for (const ActingInfluence* acting : schedule.deflecting)
    skin = std::max(skin, acting->action().deflector()->skin());
  // What planes had told already is left as it was.
  for (std::size_t i = 0; i < chunk.count; ++i) {
    const Vec3d end(ends[0][i], ends[1][i], ends[2][i]);
    if (schedule.keepsDepth || glm::length(chunk.position(i) - end) > 2 * skin) continue;
    for (std::size_t field = 0; field < ends.size(); ++field) chunk.fields[field][i] = ends[field][i];
  }
}

}  // namespace comet
