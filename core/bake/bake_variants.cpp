#include "bake/bake_variants.h"

#include "bake/bake_kind.h"
#include "base/error.h"
#include "scene/item_edit.h"

#include <fmt/format.h>

namespace comet {
namespace {

const char* const kSeed = "seed";

std::vector<BakeVariant> ofSeeds(const Scene& scene, int count) {
  std::vector<BakeVariant> variants;
  variants.reserve(static_cast<std::size_t>(count));
  for (int i = 0; i < count; ++i)
    variants.push_back({i == 0 ? "Seed as it is" : fmt::format("Seed +{}", i), withSeedsRaised(scene, i)});
  return variants;
}

std::vector<BakeVariant> ofValues(const Scene& scene, const Item& bake) {
  const auto& wanted = std::get<std::string>(bake.value("varied").base);
  try {
    const Sweep sweep(scene, {axisFromText(scene, wanted)});
    std::vector<BakeVariant> variants;
    for (std::size_t i = 0; i < sweep.size(); ++i) variants.push_back({sweep.label(i), sweep.scene(i)});
    return variants;
  } catch (const Error& error) {
    throw Error(ErrorKind::Input, fmt::format("flipbook \"{}\", Varied values", bake.name),
                fmt::format("“{}” {}", wanted, error.problem()),
                error.remedy().empty()
                    ? "Write ITEM.PARAMETER=VALUE, VALUE … or ITEM.PARAMETER=FROM..TO/COUNT"
                    : error.remedy());
  }
}

}  // namespace

std::vector<std::string> suggestedVariedValues(const Scene& scene) {
  std::vector<std::string> suggested;
  for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter))
    for (const char* param : {"rate", "speed", "size", "lifetime"}) {
      const double now = emitter->number(param, frameRange(scene).first);
      if (now > 0)
        suggested.push_back(
            fmt::format("{}.{}={:.4g}, {:.4g}, {:.4g}", emitter->name, param, 0.5 * now, now, 2 * now));
    }
  return suggested;
}

Scene withVariedBake(const Scene& scene, const SweepAxis& axis) {
  std::string text = fmt::format("{}.{}=", scene.find(axis.item)->name, axis.param);
  for (std::size_t i = 0; i < axis.values.size(); ++i) {
    text += (i > 0 ? ", " : "") + axis.texts[i];
    if (axis.values[i].variation != 0) text += fmt::format("±{:.6g}", axis.values[i].variation);
  }
  const auto bakes = scene.itemsOf(ItemFamily::Bake);
  Scene varied = bakes.empty() ? scene.withAdded(newBake(scene.freeName("flipbook"))) : scene;
  const ItemId bake = varied.itemsOf(ItemFamily::Bake).front()->id;
  varied = withBase(varied, bake, "variants", std::string("values"));
  return withBase(varied, bake, "varied", std::move(text));
}

Scene withSeedsRaised(const Scene& scene, int by) {
  if (by == 0) return scene;
  Scene raised = scene;
  for (const Scene::ItemPtr& item : scene.items()) {
    if (!item->kind->find(kSeed)) continue;
    ParamValue value = item->value(kSeed);
    value.base = std::get<double>(value.base) + by;
    for (Key& key : value.keys) key.value = std::get<double>(key.value) + by;
    raised = raised.withParam(item->id, kSeed, std::move(value));
  }
  return raised;
}

std::vector<BakeVariant> bakeVariants(const Scene& scene, const Item& bake) {
  if (bake.chooses("variants", "seeds"))
    return ofSeeds(scene, bake.integer("variant_count", frameRange(scene).first));
  if (bake.chooses("variants", "values")) return ofValues(scene, bake);
  return {{"", scene}};
}

}  // namespace comet
