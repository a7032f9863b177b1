#include "scene/scene.h"

#include "scene/snapshot.h"

#include <algorithm>
#include <cassert>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <stdexcept>

namespace comet {
namespace {

bool sameFields(const std::shared_ptr<const nlohmann::json>& a,
                const std::shared_ptr<const nlohmann::json>& b) {
  return a == b || (a && b && *a == *b);
}

bool sameItem(const Item& a, const Item& b) {
  return a.id == b.id && a.kind == b.kind && a.name == b.name && a.enabled == b.enabled &&
         a.values == b.values && sameFields(a.unknownFields, b.unknownFields);
}

}  // namespace

std::vector<Scene::ItemPtr> Scene::itemsOf(ItemFamily family) const {
  std::vector<ItemPtr> found;
  std::copy_if(items_.begin(), items_.end(), std::back_inserter(found),
               [family](const ItemPtr& item) { return item->kind->family() == family; });
  return found;
}

Scene::ItemPtr Scene::find(ItemId id) const {
  const auto found =
      std::find_if(items_.begin(), items_.end(), [id](const ItemPtr& item) { return item->id == id; });
  return found == items_.end() ? nullptr : *found;
}

Scene::ItemPtr Scene::findByName(std::string_view name) const {
  const auto found =
      std::find_if(items_.begin(), items_.end(), [name](const ItemPtr& item) { return item->name == name; });
  return found == items_.end() ? nullptr : *found;
}

const Item& Scene::theOnly(ItemFamily family) const {
  for (const ItemPtr& item : items_)
    if (item->kind->family() == family) return *item;
  throw std::logic_error(fmt::format("the scene has no {}", toString(family)));
}

Response Scene::response(ItemId emitter, ItemId influence) const {
  const auto found = responses_->find({emitter, influence});
  return found == responses_->end() ? Response{kFullResponse} : found->second;
}

std::string Scene::freeName(const std::string& wanted) const {
  std::string name = wanted;
  for (int number = 2; findByName(name); ++number) name = fmt::format("{} {}", wanted, number);
  return name;
}

Scene Scene::withAdded(Item item) const {
  assert(!findByName(item.name));
  assert(item.id == 0 || !find(item.id));
  if (item.id == 0) {
    for (const ItemPtr& other : items_) item.id = std::max(item.id, other->id);
    ++item.id;
  }
  Scene scene = *this;
  scene.items_.push_back(std::make_shared<const Item>(std::move(item)));
  scene.settle();
  return scene;
}

void Scene::settle() {
  setClocks();
  setReferences();
}

void Scene::setReferences() {
  const auto upToDate = [this](const ItemRef& reference) {
    if (reference.name.empty()) return reference;
    const ItemPtr named = reference.id ? find(reference.id) : findByName(reference.name);
    if (named) return ItemRef{named->name, named->id};
    // One that was removed is gone; one that is not here yet may still come.
    return reference.id ? ItemRef() : reference;
  };
  for (ItemPtr& item : items_) {
    for (const std::size_t i : item->kind->references()) {
      bool isStale = false;
      forEachReference(item->values[i].base, [&](const ItemRef& reference) {
        const ItemRef now = upToDate(reference);
        isStale = isStale || now != reference || now.id != reference.id;
      });
      if (!isStale) continue;
      Item told = *item;
      forEachReference(told.values[i].base, [&](ItemRef& reference) { reference = upToDate(reference); });
      item = std::make_shared<const Item>(std::move(told));
    }
  }
}

void Scene::setClocks() {
  const std::vector<ItemPtr> settings = itemsOf(ItemFamily::Settings);
  if (settings.empty()) return;
  const Clock clock{static_cast<double>(frameRange(*this).first), frameRate(*this)};
  for (ItemPtr& item : items_) {
    if (item->clock == clock) continue;
    Item told = *item;
    told.clock = clock;
    item = std::make_shared<const Item>(std::move(told));
  }
}

std::size_t Scene::indexOf(ItemId id) const {
  for (std::size_t i = 0; i < items_.size(); ++i)
    if (items_[i]->id == id) return i;
  throw std::logic_error(fmt::format("the scene has no item {}", id));
}

Scene Scene::withDuplicate(ItemId original, Item copy) const {
  copy.id = 0;
  copy.name = freeName(copy.name);
  Scene next = withAdded(std::move(copy));
  const ItemId id = next.items().back()->id;
  for (const auto& [key, response] : responses()) {
    if (key.first == original) next = next.withResponse(id, key.second, response);
    if (key.second == original) next = next.withResponse(key.first, id, response);
  }
  return next;
}

Scene Scene::withReplaced(Item item) const {
  Scene scene = *this;
  Scene::ItemPtr& place = scene.items_[indexOf(item.id)];
  place = std::make_shared<const Item>(std::move(item));
  scene.settle();
  return scene;
}

Scene Scene::withoutItem(ItemId id) const {
  Scene scene = *this;
  scene.items_.erase(scene.items_.begin() + static_cast<std::ptrdiff_t>(indexOf(id)));
  auto responses = *responses_;
  for (auto entry = responses.begin(); entry != responses.end();)
    entry = entry->first.first == id || entry->first.second == id ? responses.erase(entry) : std::next(entry);
  scene.responses_ = std::make_shared<const std::map<ResponseKey, Response>>(std::move(responses));
  scene.settle();
  return scene;
}

Scene Scene::withMoved(ItemId id, ItemId target) const {
  Scene scene = *this;
  const std::size_t from = indexOf(id), to = indexOf(target);
  const auto begin = scene.items_.begin();
  if (from < to)
    std::rotate(begin + from, begin + from + 1, begin + to + 1);
  else
    std::rotate(begin + to, begin + from, begin + from + 1);
  return scene;
}

template <typename Change>
Scene Scene::changed(ItemId id, const Change& change) const {
  Item item = *items_[indexOf(id)];
  change(item);
  return withReplaced(std::move(item));
}

Scene Scene::withParam(ItemId id, std::string_view param, ParamValue value) const {
  return changed(id, [&](Item& item) { item.values[item.kind->indexOf(param)] = std::move(value); });
}

Scene Scene::withName(ItemId id, const std::string& name) const {
  return changed(id, [&](Item& item) { item.name = name; });
}

Scene Scene::withEnabled(ItemId id, bool enabled) const {
  return changed(id, [&](Item& item) { item.enabled = enabled; });
}

Scene Scene::withResponse(ItemId emitter, ItemId influence, const Response& response) const {
  auto responses = *responses_;
  if (response == Response{kFullResponse})
    responses.erase({emitter, influence});
  else
    responses[{emitter, influence}] = response;
  Scene scene = *this;
  scene.responses_ = std::make_shared<const std::map<ResponseKey, Response>>(std::move(responses));
  return scene;
}

Scene Scene::withSnapshots(std::vector<SnapshotPtr> snapshots) const {
  Scene scene = *this;
  scene.snapshots_ = std::move(snapshots);
  return scene;
}

Scene Scene::withUnknownFields(std::shared_ptr<const nlohmann::json> fields) const {
  Scene scene = *this;
  scene.unknownFields_ = std::move(fields);
  return scene;
}

bool Scene::operator==(const Scene& other) const {
  return items_.size() == other.items_.size() &&
         std::equal(items_.begin(), items_.end(), other.items_.begin(),
                    [](const ItemPtr& a, const ItemPtr& b) { return a == b || sameItem(*a, *b); }) &&
         (responses_ == other.responses_ || *responses_ == *other.responses_) &&
         std::equal(snapshots_.begin(), snapshots_.end(), other.snapshots_.begin(), other.snapshots_.end(),
                    [](const SnapshotPtr& a, const SnapshotPtr& b) { return a == b || *a == *b; }) &&
         sameFields(unknownFields_, other.unknownFields_);
}

FrameRange frameRange(const Scene& scene) {
  const Item& settings = scene.settings();
  const int first = settings.integer("first_frame", 0);
  return {first, std::max(first, settings.integer("last_frame", 0))};
}

FrameRange playedRange(const Scene& scene) {
  const FrameRange all = frameRange(scene);
  const Item& settings = scene.settings();
  if (!settings.flag("use_playback_range")) return all;
  const int first = std::clamp(settings.integer("playback_first", 0), all.first, all.last);
  return {first, std::clamp(settings.integer("playback_last", 0), first, all.last)};
}

double frameRate(const Scene& scene) { return scene.settings().number("frame_rate", 0); }

}  // namespace comet
