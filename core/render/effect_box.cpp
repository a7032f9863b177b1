#include "render/effect_box.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace comet {
namespace {

// What is left free at each side, as a fraction of what is filled.
constexpr double kMargin = 0.1;
// Of so many particles, one on each side may be a stray.
constexpr std::size_t kForEachStray = 100;
// Around a mere place.
constexpr double kPlaceRadius = 1;

void add(std::optional<Box>& all, const Vec3d& min, const Vec3d& max) {
  all = all ? Box{glm::min(all->min, min), glm::max(all->max, max)} : Box{min, max};
}

void addParticles(const Item& emitter, const SceneFrame& frame, std::optional<Box>& all) {
  const ParticleGroup* group = frame.particles->find(emitter.id);
  if (!group || group->particles.size() == 0) return;
  const ParticleStore& particles = group->particles;
  const std::size_t strays = particles.size() / kForEachStray;
  const ParamValue& size = emitter.value("size");
  const double radius = 0.5 * (emitter.number("size", frame.number) + size.variation);
  Vec3d min, max;
  std::vector<double> along(particles.size());
  for (int axis = 0; axis < 3; ++axis) {
    for (std::size_t i = 0; i < along.size(); ++i) along[i] = particles.shownPosition(i)[axis];
    std::sort(along.begin(), along.end());
    min[axis] = along[strays] - radius;
    max[axis] = along[along.size() - 1 - strays] + radius;
  }
  add(all, min, max);
}

void addItem(const Item& item, const SceneFrame& frame, bool isWanted, std::optional<Box>& all) {
  if (item.kind->family() == ItemFamily::Emitter) {
    addParticles(item, frame, all);
  } else if (item.kind->family() == ItemFamily::Gas) {
    const Vec3d middle = item.vector("position", frame.number);
    const Vec3d half = 0.5 * item.vector("size", frame.number);
    add(all, middle - half, middle + half);
  } else if (isWanted && item.kind->find("position") && item.kind->family() != ItemFamily::Camera) {
    const Vec3d place = item.vector("position", frame.number);
    add(all, place - kPlaceRadius, place + kPlaceRadius);
  }
}

}  // namespace

std::optional<Box> effectBox(const Scene& scene, const SceneFrame& frame, ItemId only) {
  std::optional<Box> all;
  for (const Scene::ItemPtr& item : scene.items())
    if (item->enabled && (only == 0 || item->id == only)) addItem(*item, frame, only != 0, all);
  return all;
}

Camera fittedTo(const Box& box, Camera camera, double aspect) {
  const Camera::Frame frame = camera.frame();
  const Vec3d middle = 0.5 * (box.min + box.max);
  const double tangent = std::tan(0.5 * radians(camera.fieldOfView));
  double distance = 2 * Projector::kNearest, height = 1e-3;
  for (int corner = 0; corner < 8; ++corner) {
    const Vec3d at(corner & 1 ? box.max.x : box.min.x, corner & 2 ? box.max.y : box.min.y,
                   corner & 4 ? box.max.z : box.min.z);
    const Vec3d offset = at - middle;
    const double half = (1 + kMargin) * std::max(std::abs(glm::dot(offset, frame.up)),
                                                 std::abs(glm::dot(offset, frame.right)) / aspect);
    distance = std::max(distance, half / tangent - glm::dot(offset, frame.forward));
    height = std::max(height, 2 * half);
  }
  const bool isPerspective = camera.projection == Camera::Projection::Perspective;
  // Without perspective it only has to stay before all that is seen.
  const double away = isPerspective ? distance : std::max(10.0, 2 * glm::length(box.max - box.min));
  camera.height = height;
  camera.aim = middle;
  camera.place = middle - frame.forward * away;
  return camera;
}

}  // namespace comet
