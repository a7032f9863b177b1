#include "scene/scene_merge.h"

#include <algorithm>
#include <map>
#include <set>

namespace comet {
namespace {

using Counterparts = std::map<ItemId, ItemId>;  // items of the other scene, and what they are here

bool isInfluenceItem(const Item& item) { return item.kind->family() == ItemFamily::Influence; }

bool refersToAny(const Item& item) {
  bool refers = false;
  for (const std::size_t i : item.kind->references())
    forEachReference(item.values[i].base,
                     [&](const ItemRef& reference) { refers |= !reference.name.empty(); });
  return refers;
}

// What refers to others does so in its own scene.
bool isSameInfluence(const Item& a, const Item& b) {
  return a.kind == b.kind && a.enabled == b.enabled && a.values == b.values && !refersToAny(a);
}

const Item* sameInfluence(const Scene& scene, const Item& wanted) {
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Influence))
    if (isSameInfluence(*item, wanted)) return item.get();
  return nullptr;
}

// The references of what was added name items of the other scene until now.
Scene withReferences(Scene scene, const Scene& other, const Counterparts& counterparts,
                     const std::vector<ItemId>& added) {
  for (const auto& [theirs, here] : counterparts) {
    if (std::find(added.begin(), added.end(), here) == added.end()) continue;
    const Scene::ItemPtr original = other.find(theirs);
    Item item = *scene.find(here);
    for (const std::size_t i : item.kind->references()) {
      item.values[i] = original->values[i];
      forEachReference(item.values[i].base, [&](ItemRef& reference) {
        const auto found = counterparts.find(reference.id);
        reference =
            found == counterparts.end() ? ItemRef() : ItemRef{scene.find(found->second)->name, found->second};
      });
    }
    scene = scene.withReplaced(std::move(item));
  }
  return scene;
}

Item withoutReferences(Item item) {
  for (const std::size_t i : item.kind->references())
    forEachReference(item.values[i].base, [](ItemRef& reference) { reference = {}; });
  return item;
}

// Of what was here to the influences that came.
Scene leftAlone(Scene scene, const Scene& before, const std::set<ItemId>& added) {
  for (const Scene::ItemPtr& item : before.items())
    if (responds(item->kind->family()))
      for (const ItemId id : added)
        if (isInfluenceItem(*scene.find(id))) scene = scene.withResponse(item->id, id, {});
  return scene;
}

// Of what came to all influences.
Scene withItsResponses(Scene scene, const Scene& before, const Scene& other,
                       const Counterparts& counterparts) {
  const auto influences = other.itemsOf(ItemFamily::Influence);
  const bool bringsDeflectors = std::any_of(influences.begin(), influences.end(),
                                            [](const auto& item) { return item->kind->traits().deflects; });
  std::set<ItemId> shared;  // influences that were here and that it has as well
  for (const auto& [theirs, here] : counterparts)
    if (before.find(here)) shared.insert(here);
  for (const Scene::ItemPtr& item : other.items()) {
    if (!responds(item->kind->family())) continue;
    const ItemId here = counterparts.at(item->id);
    for (const Scene::ItemPtr& influence : influences)
      scene =
          scene.withResponse(here, counterparts.at(influence->id), other.response(item->id, influence->id));
    for (const Scene::ItemPtr& influence : before.itemsOf(ItemFamily::Influence))
      if (shared.count(influence->id) == 0 && (bringsDeflectors || !influence->kind->traits().deflects))
        scene = scene.withResponse(here, influence->id, {});
  }
  return scene;
}

}  // namespace

Merged withItemsOf(const Scene& scene, const Scene& other) {
  Merged merged{scene, {}};
  Counterparts counterparts;
  for (const Scene::ItemPtr& item : other.items()) {
    if (!canBeOff(item->kind->family())) continue;
    if (const Item* here = isInfluenceItem(*item) ? sameInfluence(scene, *item) : nullptr) {
      counterparts[item->id] = here->id;
      continue;
    }
    Item copy = withoutReferences(*item);
    copy.id = 0;
    copy.name = merged.scene.freeName(copy.name);
    merged.scene = merged.scene.withAdded(std::move(copy));
    const ItemId id = merged.scene.items().back()->id;
    counterparts[item->id] = id;
    merged.added.push_back(id);
  }
  merged.scene = withReferences(merged.scene, other, counterparts, merged.added);
  merged.scene = leftAlone(merged.scene, scene, {merged.added.begin(), merged.added.end()});
  merged.scene = withItsResponses(merged.scene, scene, other, counterparts);
  return merged;
}

}  // namespace comet
