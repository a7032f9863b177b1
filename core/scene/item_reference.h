// Which item a parameter may name, and what is wrong with the ones that it names.
#pragma once

#include "scene/scene.h"

#include <optional>
#include <string>
#include <vector>

namespace comet {

// The items that parameter `param` of an item may name, in the scene's order.
std::vector<Scene::ItemPtr> referable(const Scene& scene, const Item& item, std::size_t param);

// An item whose parameter "follow" names another one, with that one's place as its own; other items as they
// are.
Scene::ItemPtr followingItem(const Scene& scene, const Scene::ItemPtr& item);

// The emitters that an emitter's particles are born from, by its own parameters or by their rules. Empty for
// one that gives births on its own.
std::vector<ItemId> sourcesOf(const Scene& scene, const Item& emitter);
// Their names in quotes, for people: "pods", "moths". Empty for none.
std::string sourceNames(const Scene& scene, const Item& emitter);
// Whether one of an emitter's rules gives births to another one.
bool rulesGiveBirthsTo(const Item& emitter, ItemId child);
// Whether an emitter's particles come from another one's, over any number of generations.
bool comesFrom(const Scene& scene, ItemId emitter, ItemId source);

// The items that a clause of an emitter's rules may name.
std::vector<Scene::ItemPtr> referable(const Scene& scene, const Item& emitter, RuleItem what);

// Why a parameter cannot name what it names; nothing if it can, or names nothing.
std::optional<std::string> problemWithReference(const Scene& scene, const Item& item, std::size_t param);

// Throws Error(Input) for the first reference of the scene that is wrong.
void checkReferences(const Scene& scene);

// Where an item stands in the scene's file, as a JSON pointer.
std::string placeOf(const Scene& scene, const Item& item);

}  // namespace comet
