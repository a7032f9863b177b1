#include "simulation/gas/gas_edits.h"

#include "scene/item_edit.h"
#include "simulation/gas/gas_kind.h"
#include "simulation/gas/source_kind.h"
#include "simulation/influences/influences.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

Scene withGas(const Scene& scene, Item item) {
  Scene next = scene.withAdded(std::move(item));
  const Scene::ItemPtr gas = next.items().back();
  for (const Scene::ItemPtr& influence : scene.itemsOf(ItemFamily::Influence))
    if (influenceKindOf(*influence).group == InfluenceGroup::Force)
      next = next.withResponse(gas->id, influence->id, {});
  return withNewSource(next, *gas);
}

// Fine and fast, and thin enough for its swirls to be seen: nothing of them lies behind each other.
Item flatGas(const Scene& scene) {
  Item gas = newItem(gasKind(), scene.freeName(gasKind().id()));
  setBase(gas, "dimensions", std::string("2d"));
  setBase(gas, "size", Vec3d(6, 6, 1));
  setBase(gas, "resolution", 512.0);
  setBase(gas, "preview_resolution", std::string("half"));
  setBase(gas, "opacity", 1.5);
  return gas;
}

// A fire that is tall and narrow, with thin smoke above its flames.
Item burningGas(const Scene& scene) {
  Item gas = newItem(gasKind(), scene.freeName("fire"));
  setBase(gas, "position", Vec3d(0, 2.4, 0));
  setBase(gas, "size", Vec3d(3.2, 4.8, 3.2));
  setBase(gas, "preview_resolution", std::string("half"));
  setBase(gas, "buoyancy", 2.0);
  setBase(gas, "vorticity", 0.6);
  setBase(gas, "turbulence", 4.0);
  setBase(gas, "turbulence_scale", 0.6);
  setBase(gas, "dissipation", 2.5);
  setBase(gas, "cooling", 1.0);
  setBase(gas, "burning", std::string("on"));
  setBase(gas, "opacity", 3.0);
  setBase(gas, "color", Gradient({{0, {0.09, 0.08, 0.075}}, {1, {0.05, 0.045, 0.04}}}));
  setBase(gas, "fire_color", std::string("ramp"));
  return gas;
}

}  // namespace

std::vector<Scene::ItemPtr> sourcesOfGas(const Scene& scene, ItemId gas) {
  std::vector<Scene::ItemPtr> sources;
  for (const Scene::ItemPtr& source : scene.itemsOf(ItemFamily::Source))
    if (source->reference("gas") == gas) sources.push_back(source);
  return sources;
}

Scene withNewSource(const Scene& scene, const Item& gas) {
  Item source = newItem(sourceKind(), scene.freeName(sourceKind().id()));
  const Vec3d size = gas.vector("size", 0);
  const double across = isFlat(gas) ? size.x : std::min(size.x, size.z);
  setBase(source, "gas", ItemRef{gas.name, gas.id});
  setBase(source, "shape", std::string("disc"));
  setBase(source, "radius", shortened(0.15 * across));
  setBase(source, "thickness", shortened(0.05 * across));
  setBase(source, "position", gas.vector("position", 0) - Vec3d(0, shortened(0.42 * size.y), 0));
  return scene.withAdded(std::move(source));
}

Scene withNewGas(const Scene& scene) {
  return withGas(scene, newItem(gasKind(), scene.freeName(gasKind().id())));
}

Scene withNewFire(const Scene& scene) {
  const Scene next = withGas(scene, burningGas(scene));
  Item source = *next.items().back();
  setBase(source, "amount", std::string("held"));
  setBase(source, "density", 0.0);
  setBase(source, "temperature", 600.0);
  setBase(source, "fuel", 1.0);
  setBase(source, "noise_speed", 2.0);
  return next.withReplaced(std::move(source));
}

Scene withNewFlatGas(const Scene& scene) { return withGas(scene, flatGas(scene)); }

Scene withGasOfPicture(const Scene& scene) {
  Item gas = flatGas(scene);
  setBase(gas, "color_by", std::string("source"));
  const Scene next = withGas(scene, std::move(gas));
  Item source = *next.items().back();
  setBase(source, "shape", std::string("picture"));
  setBase(source, "picture_width", 3.0);
  setBase(source, "position", next.items()[next.items().size() - 2]->vector("position", 0) - Vec3d(0, 1, 0));
  setBase(source, "gives_color", std::string("picture"));
  setBase(source, "amount", std::string("held"));
  setBase(source, "density", 1.0);
  setBase(source, "temperature", 100.0);
  return next.withReplaced(std::move(source));
}

Scene withDuplicatedGas(const Scene& scene, const Item& gas) {
  Scene next = scene.withDuplicate(gas.id, gas);
  const Scene::ItemPtr copy = next.items().back();
  for (const Scene::ItemPtr& source : sourcesOfGas(scene, gas.id)) {
    Item own = *source;
    setBase(own, "gas", ItemRef{copy->name, copy->id});
    next = next.withDuplicate(source->id, std::move(own));
  }
  return next;
}

Scene withEnlargedGas(const Scene& scene, const Item& gas, unsigned walls) {
  Vec3d size = gas.vector("size", 0), position = gas.vector("position", 0);
  const double voxel = gasGridOf(gas).voxel;
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (std::size_t side = 0; side < 2; ++side) {
      if ((walls & GasGrid::wallBit(axis, side)) == 0) continue;
      const auto i = static_cast<int>(axis);
      const double more = shortened(0.25 * gas.vector("size", 0)[i]);
      size[i] += more;
      position[i] += (side == 1 ? 0.5 : -0.5) * more;
    }
  Item enlarged = gas;
  setBase(enlarged, "size", size);
  setBase(enlarged, "position", position);
  setBase(enlarged, "resolution", std::round(std::max({size.x, size.y, size.z}) / voxel));
  return scene.withReplaced(std::move(enlarged));
}

Scene withoutGas(const Scene& scene, ItemId gas) {
  Scene next = scene;
  for (const Scene::ItemPtr& source : sourcesOfGas(scene, gas)) next = next.withoutItem(source->id);
  return next.withoutItem(gas);
}

}  // namespace comet
