#include "support/edits.h"

namespace comet::test {
namespace {

std::size_t below(std::size_t count, std::mt19937& random) {
  return std::uniform_int_distribution<std::size_t>(0, count - 1)(random);
}

double fraction(std::mt19937& random) { return std::uniform_real_distribution<double>(0, 1)(random); }

}  // namespace

ParamValue anotherValue(const ParamSpec& spec, ParamValue value, int lastFrame, std::mt19937& random) {
  const auto last = static_cast<std::size_t>(lastFrame);
  if (auto* number = std::get_if<double>(&value.base)) {
    *number = spec.usualMin + fraction(random) * (spec.usualMax - spec.usualMin);
    if (spec.canBeKeyed && below(2, random) == 0) {
      value.keys = withKey({}, {1.0 + static_cast<double>(below(last, random)), value.base});
      value.keys = withKey(value.keys, {3.0 + static_cast<double>(below(last, random)), spec.usualMax});
    }
    if (spec.takesFormula() && below(4, random) == 0)
      value.formula = spec.isPerParticle ? "value*(1+0.2*rand(id))" : "value*(1+0.1*sin(time*9))";
  } else if (auto* vector = std::get_if<Vec3d>(&value.base)) {
    *vector += Vec3d(fraction(random), fraction(random), fraction(random)) - 0.5;
  } else if (auto* flag = std::get_if<bool>(&value.base)) {
    *flag = !*flag;
  } else if (spec.type == ParamType::Choice) {
    value.base = spec.choices[below(spec.choices.size(), random)].id;
  }
  return nearestValid(spec, value);
}

Scene edited(const Scene& scene, int lastFrame, std::mt19937& random) {
  const auto influences = scene.itemsOf(ItemFamily::Influence);
  const Scene::ItemPtr influence = influences[below(influences.size(), random)];
  switch (below(6, random)) {
    case 0:
      return scene.withResponse(scene.itemsOf(ItemFamily::Emitter).front()->id, influence->id,
                                {fraction(random) * 300 - 100});
    case 1:
      return scene.withEnabled(influence->id, !influence->enabled);
    default:
      break;
  }
  const Scene::ItemPtr item = scene.items()[below(scene.items().size(), random)];
  const std::size_t index = below(item->kind->params().size(), random);
  const ParamSpec& spec = item->kind->params()[index];
  // The range and its warm-up say which frames there are.
  if (spec.id == "first_frame" || spec.id == "last_frame" || spec.id == "warm_up" || spec.id == "rate" ||
      spec.id == "frame_cache")
    return scene;
  return scene.withParam(item->id, spec.id, anotherValue(spec, item->values[index], lastFrame, random));
}

}  // namespace comet::test
