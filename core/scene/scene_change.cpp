#include "scene/scene_change.h"

#include <algorithm>
#include <map>

namespace comet {
namespace {

void addParam(const ParamSpec& spec, SceneChange& change) {
  change.simulation |= spec.affectedPart == Affects::Simulation || spec.isSimulatedToo;
  change.look |= spec.affectedPart == Affects::Look;
  change.view |= spec.affectedPart == Affects::View;
  change.bake |= spec.affectedPart == Affects::Bake;
}

// An item that came, went, was turned on or off, or took another place in the order.
void addWhole(const Item& item, SceneChange& change) {
  const bool isBake = item.kind->family() == ItemFamily::Bake;
  change.bake |= isBake;
  change.simulation |= !isBake && item.kind->family() != ItemFamily::Light;
  change.look |= !isBake;
}

void addDifference(const Item& before, const Item& after, SceneChange& change) {
  if (before.kind != after.kind || before.enabled != after.enabled) {
    addWhole(before, change);
    addWhole(after, change);
  }
  // The clock is the settings', whose own parameters say what becomes of it; it is in all items alike.
  change.simulation |= !(before.clock == after.clock);
  if (before.kind != after.kind) return;
  for (std::size_t i = 0; i < before.values.size(); ++i)
    if (before.values[i] != after.values[i]) addParam(before.kind->params()[i], change);
}

bool isSame(const Item& a, const Item& b) {
  return a.kind == b.kind && a.enabled == b.enabled && a.name == b.name && a.clock == b.clock &&
         a.values == b.values;
}

void addResponses(const Scene& before, const Scene& after, SceneChange& change) {
  if (before.responses() == after.responses()) return;
  for (const Scene* scene : {&before, &after})
    for (const auto& [key, response] : scene->responses()) {
      const Scene::ItemPtr target = scene->find(key.second);
      if (!target || before.response(key.first, key.second) == after.response(key.first, key.second))
        continue;
      const bool isBake = target->kind->family() == ItemFamily::Bake;
      change.bake |= isBake;
      change.simulation |= !isBake;
      change.items.push_back(key.second);
    }
}

std::vector<ItemId> orderOf(const Scene& scene) {
  std::vector<ItemId> order;
  for (const Scene::ItemPtr& item : scene.items()) order.push_back(item->id);
  return order;
}

}  // namespace

SceneChange changeBetween(const Scene& before, const Scene& after) {
  SceneChange change;
  const bool isSameOrder = orderOf(before) == orderOf(after);
  for (const Scene::ItemPtr& item : before.items()) {
    const Scene::ItemPtr now = after.find(item->id);
    if (now == item) continue;
    if (now && isSame(*item, *now)) continue;
    change.items.push_back(item->id);
    if (now)
      addDifference(*item, *now, change);
    else
      addWhole(*item, change);
  }
  if (!isSameOrder) {
    for (const Scene::ItemPtr& item : after.items()) {
      if (before.find(item->id)) continue;
      change.items.push_back(item->id);
      addWhole(*item, change);
    }
    // Moved ones: emitters are served, and drawn, in their order.
    if (change.items.empty()) change.simulation = change.look = change.bake = true;
  }
  addResponses(before, after, change);
  std::sort(change.items.begin(), change.items.end());
  change.items.erase(std::unique(change.items.begin(), change.items.end()), change.items.end());
  return change;
}

}  // namespace comet
