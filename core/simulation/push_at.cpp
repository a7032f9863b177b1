#include "simulation/push_at.h"

#include "simulation/loop.h"
#include "simulation/plan.h"

#include <algorithm>

namespace comet {
namespace {

// Positions of some of the places. Zeroed: whole vectors are read.
class PlaceSamples {
 public:
  Samples from(const std::vector<Vec3d>& places, std::size_t first) {
    Samples samples;
    samples.count = std::min(kChunkSize, places.size() - first);
    for (int axis = 0; axis < 3; ++axis) {
      for (std::size_t i = 0; i < samples.count; ++i)
        axes_[axis][i] = static_cast<float>(places[first + i][axis]);
      samples.positions[axis] = axes_[axis].data();
    }
    return samples;
  }

 private:
  alignas(64) std::array<ChunkArray, 3> axes_{};
};

PushField pushOfAll(const std::vector<ActingInfluence>& influences, bool displaces, const Substep& now,
                    const std::vector<Vec3d>& places) {
  PushField field;
  field.isDisplacement = displaces;
  field.vectors.resize(places.size());
  const auto room = std::make_unique<PlaceSamples>();
  const auto forces = std::make_unique<Forces>();
  const auto weightRoom = std::make_unique<ChunkArray>();
  for (std::size_t first = 0; first < places.size(); first += kChunkSize) {
    const Samples samples = room->from(places, first);
    forces->clear();
    for (const ActingInfluence& acting : influences) {
      const InfluenceAction& action = acting.action();
      const Weights weights = acting.weights(samples, now, *weightRoom);
      if (displaces)
        action.addDisplacement(forces->force, samples, now.start, weights);
      else
        action.addTo(*forces, samples, now, weights);
    }
    for (std::size_t i = 0; i < samples.count; ++i)
      field.vectors[first + i] = displaces ? forces->force.of(i) : forces->accelerationOn(i, Vec3d(0.0), 1);
  }
  return field;
}

// At a moment instead of during a step.
FrameTime momentOf(const Scene& scene, double frame) {
  FrameTime time;
  time.frame = static_cast<int>(frame);
  time.start = scene.settings().clock.seconds(frame);
  time.period = loopPeriod(scene);
  return time;
}

std::optional<ActingInfluence> acting(const Item& influence, const FrameTime& time, double percent) {
  auto planned = planInfluence(influence, time);
  if (!planned) return std::nullopt;
  return ActingInfluence(std::move(planned), {percent}, 0, 0);
}

}  // namespace

PushField pushOf(const Scene& scene, ItemId influence, double frame, const std::vector<Vec3d>& places) {
  const FrameTime time = momentOf(scene, frame);
  std::vector<ActingInfluence> all;
  if (auto one = acting(*scene.find(influence), time, kFullResponse)) all.push_back(std::move(*one));
  const bool displaces = !all.empty() && all.front().action().displaces();
  return pushOfAll(all, displaces, {time.start, 0}, places);
}

PushField pushOn(const Scene& scene, ItemId emitter, double frame, const std::vector<Vec3d>& places) {
  const FrameTime time = momentOf(scene, frame);
  std::vector<ActingInfluence> all;
  for (const Scene::ItemPtr& influence : scene.itemsOf(ItemFamily::Influence)) {
    const double percent = scene.response(emitter, influence->id).percent.value_or(0);
    if (percent == 0) continue;
    if (auto one = acting(*influence, time, percent)) all.push_back(std::move(*one));
  }
  return pushOfAll(all, false, {time.start, 0}, places);
}

}  // namespace comet
