#include "scene/item_reference.h"

#include "base/error.h"

#include <fmt/format.h>
#include <set>

namespace comet {
namespace {

const ItemRef* referenceIn(const Item& item, std::size_t param) {
  return std::get_if<ItemRef>(&item.values[param].base);
}

bool isOfRightKind(const ParamSpec& spec, const Item& candidate) {
  if (spec.refersTo == RefersTo::Placed) return candidate.kind->find("place").has_value();
  return candidate.kind->family() == ItemFamily::Emitter;
}

std::string inWords(RefersTo what) { return what == RefersTo::Placed ? "item with a place" : "emitter"; }

}  // namespace

Scene::ItemPtr followingItem(const Scene& scene, const Scene::ItemPtr& item) {
  const auto follows = item->kind->find("place_of");
  const Scene::ItemPtr followed = follows ? scene.find(item->reference("place_of")) : nullptr;
  if (!followed || !item->applies(*follows)) return item;
  Item following = *item;
  following.values[item->kind->indexOf("place")] = followed->value("place");
  return std::make_shared<const Item>(std::move(following));
}

std::vector<ItemId> sourcesOf(const Item& emitter) {
  std::vector<ItemId> sources;
  for (std::size_t i = 0; i < emitter.values.size(); ++i) {
    if (emitter.kind->params()[i].refersTo != RefersTo::Source || !emitter.applies(i)) continue;
    if (const ItemRef* reference = referenceIn(emitter, i); reference && reference->id != 0)
      sources.push_back(reference->id);
  }
  return sources;
}

bool comesFrom(const Scene& scene, ItemId emitter, ItemId source) {
  std::set<ItemId> seen;
  std::vector<ItemId> left{emitter};
  while (!left.empty()) {
    const Scene::ItemPtr item = scene.find(left.back());
    left.pop_back();
    if (!item) continue;
    for (const ItemId id : sourcesOf(*item)) {
      if (id == source) return true;
      if (seen.insert(id).second) left.push_back(id);
    }
  }
  return false;
}

std::vector<Scene::ItemPtr> referable(const Scene& scene, const Item& item, std::size_t param) {
  const ParamSpec& spec = item.kind->params()[param];
  std::vector<Scene::ItemPtr> found;
  for (const Scene::ItemPtr& candidate : scene.items()) {
    if (!isOfRightKind(spec, *candidate)) continue;
    const bool isCircle = spec.refersTo == RefersTo::Source &&
                          (candidate->id == item.id || comesFrom(scene, candidate->id, item.id));
    if (!isCircle) found.push_back(candidate);
  }
  return found;
}

std::optional<std::string> problemWithReference(const Scene& scene, const Item& item, std::size_t param) {
  const ItemRef* reference = referenceIn(item, param);
  if (!reference || reference->name.empty()) return std::nullopt;
  const ParamSpec& spec = item.kind->params()[param];
  const Scene::ItemPtr named = scene.find(reference->id);
  if (!named || !isOfRightKind(spec, *named))
    return fmt::format("\"{}\" is no {} of this scene", reference->name, inWords(spec.refersTo));
  if (spec.refersTo != RefersTo::Source) return std::nullopt;
  if (named->id == item.id) return fmt::format("\"{}\" cannot give births to itself", item.name);
  if (comesFrom(scene, named->id, item.id))
    return fmt::format("\"{}\" itself comes from \"{}\": births would lead round a circle", named->name,
                       item.name);
  return std::nullopt;
}

void checkReferences(const Scene& scene) {
  for (const Scene::ItemPtr& item : scene.items())
    for (std::size_t i = 0; i < item->values.size(); ++i)
      if (const auto problem = problemWithReference(scene, *item, i))
        throw Error(ErrorKind::Input, fmt::format("{}.{}", item->name, item->kind->params()[i].id), *problem,
                    "Name another one, or none");
}

}  // namespace comet
