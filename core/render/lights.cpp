#include "render/lights.h"

#include "base/flicker.h"
#include "render/camera.h"
#include "render/light_kind.h"
#include "scene/item_edit.h"
#include "simulation/emission/emission.h"
#include "simulation/frame/cycles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <glm/geometric.hpp>

namespace comet {
namespace {

enum class Followed { Item, Middle, Oldest, Newest };

// Null if it has none.
const ParticleStore* particlesOf(const SceneFrame& frame, ItemId emitter) {
  const ParticleGroup* group = frame.particles->find(emitter);
  return group && group->particles.size() > 0 ? &group->particles : nullptr;
}

Vec3d middleOf(const ParticleStore& particles) {
  Vec3d sum(0.0);
  for (std::size_t i = 0; i < particles.size(); ++i) sum += particles.shownPosition(i);
  return sum / static_cast<double>(particles.size());
}

// Of those as old, the one with the least id, so that it stays the same one.
std::size_t oldestOf(const ParticleStore& particles, bool newest) {
  const float* ages = particles.field(ParticleStore::Age);
  std::size_t found = 0;
  for (std::size_t i = 1; i < particles.size(); ++i) {
    const float older = (newest ? -1.0F : 1.0F) * (ages[i] - ages[found]);
    if (older > 0 || (older == 0 && particles.ids()[i] < particles.ids()[found])) found = i;
  }
  return found;
}

// Of an emitter or a source with all that moves its shape.
Vec3d ownPlace(const Scene& scene, const Item& item, double frame) {
  const ItemFamily family = item.kind->family();
  if (family != ItemFamily::Emitter && family != ItemFamily::Source) return item.vector("position", frame);
  const std::uint64_t key = wanderKey(emissionKey(item, sceneSeed(scene), frame));
  return poseAt(item, frame, frameRate(scene), key, loopPeriod(scene)).toScene(Vec3d(0.0));
}

std::optional<Vec3d> followedPlace(const Scene& scene, const Item& light, const SceneFrame& frame) {
  const Scene::ItemPtr followed = scene.find(light.reference("follow"));
  if (!followed) return std::nullopt;
  const auto what = light.choiceAs<Followed>(
      "follow_what", std::array<std::string_view, 4>{"item", "middle", "oldest", "newest"});
  if (what == Followed::Item) return ownPlace(scene, *followed, frame.number);
  const ParticleStore* particles = particlesOf(frame, followed->id);
  if (!particles) return std::nullopt;
  return what == Followed::Middle ? middleOf(*particles)
                                  : particles->shownPosition(oldestOf(*particles, what == Followed::Newest));
}

std::optional<Light> lightOf(const Scene& scene, const Item& item, const SceneFrame& frame) {
  const double strength = item.number("strength", frame.number) * flickerOf(scene, item, frame.number);
  if (!(strength > 0)) return std::nullopt;
  Light light;
  light.color = Vec3(item.vector("color", frame.number) * strength);
  light.isShadowed = item.flag("gas_shadows");
  if (item.chooses("type", "directional")) {
    light.towards = unitOr(item.vector("direction", frame.number), Vec3d(0, 1, 0));
    return light;
  }
  const auto place = lightPlace(scene, item, frame);
  if (!place) return std::nullopt;
  const auto falloff =
      item.choiceAs<Falloff>("falloff", std::array<std::string_view, 3>{"inverse_square", "linear", "none"});
  const double full = item.number("full_distance", frame.number);
  light.point = {*place, falloff, full, std::max(full, item.number("range", frame.number))};
  return light;
}

}  // namespace

Vec3d SceneLights::on(const Vec3d& at, const Vec3d& normal) const {
  Vec3d sum = around;
  for (const Light& light : lights) {
    const Light::Arriving arriving = light.arriving(at);
    sum += Vec3d(light.color) * (arriving.fraction * std::max(0.0, glm::dot(normal, arriving.towards)));
  }
  return sum;
}

Vec3d SceneLights::at(const Vec3d& at) const {
  Vec3d sum = around;
  for (const Light& light : lights) sum += Vec3d(light.color) * light.arriving(at).fraction;
  return sum;
}

SceneLights SceneLights::fromFarAway() const {
  SceneLights far{{}, around};
  std::copy_if(lights.begin(), lights.end(), std::back_inserter(far.lights),
               [](const Light& light) { return !light.point; });
  return far;
}

SceneLights SceneLights::fromNear() const {
  SceneLights near{{}, Vec3d(0.0)};
  std::copy_if(lights.begin(), lights.end(), std::back_inserter(near.lights),
               [](const Light& light) { return light.point.has_value(); });
  return near;
}

SceneLights settingsLight(const Scene& scene, double frame) {
  const Item& settings = scene.settings();
  SceneLights lights;
  Light& light = lights.lights.emplace_back();
  light.towards = unitOr(settings.vector("light_direction", frame), Vec3d(0, 1, 0));
  light.color = Vec3(settings.vector("light_color", frame) * settings.number("light_strength", frame));
  lights.around = settings.vector("ambient_color", frame);
  return lights;
}

Scene withNewLight(const Scene& scene) {
  const Camera camera = cameraOf(scene, frameRange(scene).first);
  const Camera::Frame axes = camera.frame();
  const double height = camera.heightAtAim();
  Item light = newItem(lightKind(), scene.freeName("light"));
  // In steps that are easy to read.
  const double step = std::pow(10.0, std::floor(std::log10(height)) - 1);
  const auto rounded = [step](double x) { return std::round(x / step) * step; };
  const Vec3d place = camera.aim + height * (0.25 * axes.up - 0.25 * axes.right - 0.2 * axes.forward);
  setBase(light, "position", Vec3d(rounded(place.x), rounded(place.y), rounded(place.z)));
  setBase(light, "full_distance", std::max(step, rounded(0.15 * height)));
  setBase(light, "range", std::max(step, rounded(height)));
  return scene.withAdded(std::move(light));
}

std::string problemWithLight(const Scene& scene, const Item& light) {
  const Scene::ItemPtr followed = scene.find(light.reference("follow"));
  const bool needsParticles = followed && !light.chooses("follow_what", "item");
  if (light.chooses("type", "directional") || !needsParticles) return {};
  if (followed->kind->family() != ItemFamily::Emitter)
    return fmt::format("\"{}\" has no particles: follow its position, or follow an emitter", followed->name);
  if (!followed->enabled)
    return fmt::format("\"{}\" is off: without particles there is no light", followed->name);
  return {};
}

SceneLights lightsOf(const Scene& scene, const SceneFrame& frame) {
  SceneLights lights = settingsLight(scene, frame.number);
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Light))
    if (item->enabled)
      if (auto light = lightOf(scene, *item, frame)) lights.lights.push_back(std::move(*light));
  return lights;
}

std::optional<Vec3d> lightPlace(const Scene& scene, const Item& light, const SceneFrame& frame) {
  if (light.reference("follow") == 0) return light.vector("position", frame.number);
  const auto place = followedPlace(scene, light, frame);
  if (!place) return std::nullopt;
  return *place + light.vector("follow_offset", frame.number);
}

double flickerOf(const Scene& scene, const Item& light, double frame) {
  Flicker flicker;
  flicker.amount = light.number("flicker", frame) / 100;
  flicker.rate = light.number("flicker_rate", frame);
  flicker.seed = static_cast<std::uint64_t>(light.number("flicker_seed", frame));
  if (scene.settings().flag("exact_loop")) flicker.period = frameRange(scene).count() / light.clock.rate;
  return flicker.at(light.clock.seconds(frame));
}

}  // namespace comet
