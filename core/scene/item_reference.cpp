#include "scene/item_reference.h"

#include "base/error.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>
#include <unordered_map>
#include <vector>

namespace comet {
namespace {

const ItemRef* referenceIn(const Item& item, std::size_t param) {
  return std::get_if<ItemRef>(&item.values[param].base);
}

bool isOfRightKind(const ParamSpec& spec, const Item& candidate) {
  if (spec.refersTo == RefersTo::Placed) return candidate.kind->find("position").has_value();
  return candidate.kind->family() == (spec.refersTo == RefersTo::Gas ? ItemFamily::Gas : ItemFamily::Emitter);
}

// Calls `visit(parameter, source)` for each emitter that a parameter names as a source of births, whether it
// applies or not.
template <typename Visit>
void forNamedSources(const Item& emitter, const Visit& visit) {
  for (const std::size_t i : emitter.kind->references()) {
    if (emitter.kind->params()[i].refersTo != RefersTo::Source) continue;
    const ItemRef* reference = referenceIn(emitter, i);
    if (reference && reference->id != 0) visit(i, reference->id);
  }
}

template <typename Visit>
void forChildrenOfRules(const Item& emitter, const Visit& visit) {
  const auto index = emitter.kind->find("rules");
  if (!index) return;
  for (const Rule& rule : std::get<RuleList>(emitter.values[*index].base))
    for (const RuleClause& clause : rule.then)
      if (actionForms()[clause.form].item == RuleItem::Child) visit(clause.item.id);
}

// From which emitters the births of each may come, also if other choices were made.
using Sources = std::unordered_map<ItemId, std::vector<ItemId>>;
Sources possibleSources(const Scene& scene) {
  Sources sources;
  for (const Scene::ItemPtr& emitter : scene.items()) {
    if (emitter->kind->family() != ItemFamily::Emitter) continue;
    forNamedSources(*emitter, [&](std::size_t, ItemId source) { sources[emitter->id].push_back(source); });
    forChildrenOfRules(*emitter, [&](ItemId child) { sources[child].push_back(emitter->id); });
  }
  return sources;
}

std::string inWords(RuleItem what) {
  switch (what) {
    case RuleItem::Deflector:
      return "deflector";
    case RuleItem::Region:
      return "influence";
    case RuleItem::None:
    case RuleItem::Emitter:
    case RuleItem::Child:
      break;
  }
  return "emitter";
}

// Why a clause cannot name an item.
std::optional<std::string> problemWithRuleItem(const Scene& scene, const Item& emitter, const Item& named,
                                               RuleItem what) {
  const ItemFamily family = named.kind->family();
  const bool isRight = what == RuleItem::Deflector ? named.kind->traits().deflects
                       : what == RuleItem::Region  ? family == ItemFamily::Influence
                                                   : family == ItemFamily::Emitter;
  if (!isRight) return fmt::format("\"{}\" is no {}", named.name, inWords(what));
  if (what != RuleItem::Child) return std::nullopt;
  if (named.id == emitter.id) return fmt::format("\"{}\" cannot give births to itself", named.name);
  if (comesFrom(scene, emitter.id, named.id))
    return fmt::format("\"{}\" itself comes from \"{}\": births would form a cycle", emitter.name,
                       named.name);
  return std::nullopt;
}

std::optional<std::string> problemWithRules(const Scene& scene, const Item& emitter, const RuleList& rules) {
  std::optional<std::string> problem;
  const auto check = [&](const RuleClause& clause, const RuleForm& form) {
    if (problem || clause.item.name.empty()) return;
    const Scene::ItemPtr named = scene.find(clause.item.id);
    problem = named ? problemWithRuleItem(scene, emitter, *named, form.item)
                    : fmt::format("\"{}\" is no {} of this scene", clause.item.name, inWords(form.item));
  };
  for (const Rule& rule : rules) {
    for (const RuleClause& clause : rule.when) check(clause, conditionForms()[clause.form]);
    for (const RuleClause& clause : rule.then) check(clause, actionForms()[clause.form]);
  }
  return problem;
}

std::string inWords(RefersTo what) {
  return what == RefersTo::Placed ? "item with a place" : what == RefersTo::Gas ? "gas" : "emitter";
}

}  // namespace

Scene::ItemPtr followingItem(const Scene& scene, const Scene::ItemPtr& item) {
  const auto follows = item->kind->find("follow");
  const Scene::ItemPtr followed = follows ? scene.find(item->reference("follow")) : nullptr;
  if (!followed || !item->applies(*follows)) return item;
  Item following = *item;
  following.values[item->kind->indexOf("position")] = followed->value("position");
  return std::make_shared<const Item>(std::move(following));
}

bool rulesGiveBirthsTo(const Item& emitter, ItemId child) {
  bool gives = false;
  forChildrenOfRules(emitter, [&](ItemId named) { gives = gives || named == child; });
  return gives;
}

std::vector<ItemId> sourcesOf(const Scene& scene, const Item& emitter) {
  std::vector<ItemId> sources;
  forNamedSources(emitter, [&](std::size_t param, ItemId source) {
    if (emitter.applies(param)) sources.push_back(source);
  });
  for (const Scene::ItemPtr& other : scene.itemsOf(ItemFamily::Emitter))
    if (rulesGiveBirthsTo(*other, emitter.id)) sources.push_back(other->id);
  // Each once, also a parent that gives births by a rule too.
  std::sort(sources.begin(), sources.end());
  sources.erase(std::unique(sources.begin(), sources.end()), sources.end());
  return sources;
}

std::string sourceNames(const Scene& scene, const Item& emitter) {
  std::string names;
  for (const ItemId id : sourcesOf(scene, emitter))
    if (const Scene::ItemPtr source = scene.find(id))
      names += fmt::format("{}\"{}\"", names.empty() ? "" : ", ", source->name);
  return names;
}

bool comesFrom(const Scene& scene, ItemId emitter, ItemId source) {
  const Sources sources = possibleSources(scene);
  std::set<ItemId> seen;
  std::vector<ItemId> left{emitter};
  while (!left.empty()) {
    const auto found = sources.find(left.back());
    left.pop_back();
    if (found == sources.end()) continue;
    for (const ItemId id : found->second) {
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
    const bool isItself = candidate->id == item.id && spec.refersTo != RefersTo::Emitter;
    const bool isCircle = spec.refersTo == RefersTo::Source && comesFrom(scene, candidate->id, item.id);
    if (!isItself && !isCircle) found.push_back(candidate);
  }
  return found;
}

std::vector<Scene::ItemPtr> referable(const Scene& scene, const Item& emitter, RuleItem what) {
  std::vector<Scene::ItemPtr> found;
  for (const Scene::ItemPtr& candidate : scene.items())
    if (!problemWithRuleItem(scene, emitter, *candidate, what)) found.push_back(candidate);
  return found;
}

std::optional<std::string> problemWithReference(const Scene& scene, const Item& item, std::size_t param) {
  if (const auto* rules = std::get_if<RuleList>(&item.values[param].base))
    return problemWithRules(scene, item, *rules);
  const ItemRef* reference = referenceIn(item, param);
  if (!reference || reference->name.empty()) return std::nullopt;
  const ParamSpec& spec = item.kind->params()[param];
  const Scene::ItemPtr named = scene.find(reference->id);
  if (!named || !isOfRightKind(spec, *named))
    return fmt::format("\"{}\" is no {} of this scene", reference->name, inWords(spec.refersTo));
  if (spec.refersTo == RefersTo::Placed && named->id == item.id)
    return fmt::format("\"{}\" cannot follow itself", item.name);
  if (spec.refersTo != RefersTo::Source) return std::nullopt;
  if (named->id == item.id) return fmt::format("\"{}\" cannot give births to itself", item.name);
  if (comesFrom(scene, named->id, item.id))
    return fmt::format("\"{}\" itself comes from \"{}\": births would form a cycle", named->name, item.name);
  return std::nullopt;
}

std::string placeOf(const Scene& scene, const Item& item) {
  const auto& items = scene.items();
  const auto found = std::find_if(items.begin(), items.end(),
                                  [&](const Scene::ItemPtr& each) { return each->id == item.id; });
  return fmt::format("/items/{}", found - items.begin());
}

void checkReferences(const Scene& scene) {
  for (const Scene::ItemPtr& item : scene.items())
    for (const std::size_t i : item->kind->references())
      if (const auto problem = problemWithReference(scene, *item, i))
        throw Error(ErrorKind::Input, placeOf(scene, *item) + "/params/" + item->kind->params()[i].id,
                    *problem, "Name another one, or none");
}

}  // namespace comet
