#include "simulation/arrivals/arrival_report.h"

#include "simulation/arrivals/arrive.h"
#include "simulation/deflectors/deflector_shape.h"
#include "simulation/influences/influences.h"

#include <algorithm>
#include <fmt/format.h>
#include <unordered_map>

namespace comet {
namespace {

// As things stand at a frame.
FrameTime momentOf(const SceneFrame& frame, const Item& influence) {
  return {.frame = frame.number, .start = influence.clock.seconds(frame.number)};
}

// Calls act(particles, index, arrival) for each particle that the influence has to do with.
template <typename Act>
void forArrivals(const SceneFrame& frame, ItemId influence, const Act& act) {
  for (const ParticleGroup& group : frame.particles->groups) {
    if (!group.particles.fields().has(ParticleStore::ArriveBy)) continue;
    for (std::size_t i = 0; i < group.particles.size(); ++i)
      if (const Arrival arrival = arrivalOf(group.particles, i); arrival.influence == influence)
        act(group.particles, i, arrival);
  }
}

ArrivalCount countOf(ItemId influence, std::size_t points, const SceneFrame& frame) {
  ArrivalCount count{.influence = influence, .points = points};
  forArrivals(frame, influence, [&](const ParticleStore&, std::size_t, const Arrival& arrival) {
    if (arrival.stage == ArrivalStage::Waiting) ++count.waiting;
    if (arrival.stage == ArrivalStage::Led) ++(arrival.isHeld() ? count.arrived : count.travelling);
  });
  return count;
}

// Every point there is in the frame.
std::vector<OpenPoint> pointsIn(const SceneFrame& frame, const Item& influence, const Progress& progress) {
  return Arrive::pointsOf(ArrivalRules(influence, momentOf(frame, influence), progress), *frame.particles, 1);
}

bool arrives(const Item& item) { return influenceKindOf(item).group == InfluenceGroup::Arrival; }

// Of the points, those that lie where a deflector lets no particle be, which meets particles that arrive.
std::string problemWithDeflector(const Scene& scene, const Item& influence, const Item& deflector,
                                 const std::vector<OpenPoint>& points, double frame) {
  const auto emitters = scene.itemsOf(ItemFamily::Emitter);
  const bool meets = std::any_of(emitters.begin(), emitters.end(), [&](const Scene::ItemPtr& emitter) {
    return scene.response(emitter->id, influence.id).acts() &&
           scene.response(emitter->id, deflector.id).acts();
  });
  if (!meets) return {};
  const DeflectorShape shape(deflector, frame);
  const Pose pose{deflector.vector("position", frame),
                  rotationFromDegrees(deflector.vector("rotation", frame))};
  const auto inside = std::count_if(points.begin(), points.end(), [&](const OpenPoint& point) {
    return shape.isInside(pose.toOwn(point.at));
  });
  if (inside == 0) return {};
  return fmt::format(
      "{} of the points lie inside {}, where particles cannot be: move the points, or empty "
      "their cell in the grid",
      inside, deflector.name);
}

}  // namespace

ArrivalCount countArrivals(const Item& influence, const SceneFrame& frame, const Progress& progress) {
  return countOf(influence.id, pointsIn(frame, influence, progress).size(), frame);
}

std::vector<ArrivalCount> countArrivals(const Scene& scene, const SceneFrame& frame,
                                        const Progress& progress) {
  std::vector<ArrivalCount> counts;
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Influence))
    if (item->enabled && arrives(*item)) counts.push_back(countArrivals(*item, frame, progress));
  return counts;
}

std::vector<std::string> notesOnArrivals(const Scene& scene, const Item& influence, const SceneFrame& frame,
                                         const Progress& progress) {
  std::vector<std::string> notes;
  if (influence.chooses("target", "shape")) {
    if (std::string problem = problemWithShape(influence, frame.number); !problem.empty())
      return {"there are no points: " + problem};
  } else if (influence.reference("target_emitter") == 0) {
    return {"there are no points: choose the emitter at whose particles they arrive"};
  }
  const std::vector<OpenPoint> points = pointsIn(frame, influence, progress);
  const ArrivalCount count = countOf(influence.id, points.size(), frame);
  // Who has begun to wait in this very frame gets a point in the next one.
  if (count.waiting > 0 && count.free() < count.waiting)
    notes.push_back(fmt::format("{} particles find no free point: take more points, or fewer particles",
                                count.waiting - count.free()));
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Influence)) {
    if (!item->enabled || influenceKindOf(*item).group != InfluenceGroup::Deflector) continue;
    std::string problem = problemWithDeflector(scene, influence, *item, points, frame.number);
    if (!problem.empty()) notes.push_back(std::move(problem));
  }
  return notes;
}

ArrivalMap mapArrivals(const Item& influence, const SceneFrame& frame, const Progress& progress) {
  ArrivalMap map;
  std::unordered_map<std::uint32_t, Vec3d> positions;
  for (const OpenPoint& point : pointsIn(frame, influence, progress)) {
    map.points.push_back(point.at);
    positions[point.number] = point.at;
  }
  forArrivals(frame, influence.id,
              [&](const ParticleStore& particles, std::size_t i, const Arrival& arrival) {
                if (arrival.stage != ArrivalStage::Led || arrival.isHeld()) return;
                if (const auto to = positions.find(arrival.point); to != positions.end())
                  map.travelling.push_back({particles.position(i), to->second});
              });
  return map;
}

}  // namespace comet
