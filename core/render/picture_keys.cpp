#include "render/picture_keys.h"

#include "params/value_digest.h"

#include <algorithm>
#include <set>
#include <string>

namespace comet {
namespace {

// What acts through the states of particles and gas alone.
bool isInStatesOnly(const Value& value) {
  return std::holds_alternative<BurstList>(value) || std::holds_alternative<RuleList>(value) ||
         std::holds_alternative<Data>(value) || std::holds_alternative<MarkerList>(value);
}

std::set<std::string> viewNames() {
  std::set<std::string> names;
  for (const ParamSpec& spec : viewParams(Affects::View)) names.insert(spec.id);
  return names;
}

bool isSeen(const Item& item, const ParamSpec& spec, const ParamValue& value) {
  if (isInStatesOnly(value.base)) return false;
  // The camera of a picture is its view's.
  static const std::set<std::string> ofCamera = viewNames();
  if (item.kind->family() == ItemFamily::Camera) return ofCamera.count(spec.id) == 0;
  // How the program works. The memory for frames decides which surfaces are too large to be drawn.
  if (item.kind->family() == ItemFamily::Settings && spec.affectedPart == Affects::View)
    return spec.id == std::string_view("frame_cache");
  return true;
}

void describeAt(double frame, const Item& item, std::size_t index, Hasher& hasher) {
  const auto& param = item.kind->params()[index].id;
  const Value& base = item.values[index].base;
  if (std::holds_alternative<double>(base))
    hasher << item.number(param, frame);
  else if (std::holds_alternative<Vec3d>(base))
    hasher << item.vector(param, frame);
  else
    describe(item.values[index].at(frame), hasher);
}

}  // namespace

PictureKeys::PictureKeys(Scene drawn) : scene_(std::move(drawn)) {
  const Clock& clock = scene_.settings().clock;
  Hasher hasher;
  hasher << clock.firstFrame << clock.rate;
  for (const Scene::ItemPtr& item : scene_.items()) {
    if (item->kind->family() == ItemFamily::Bake) continue;
    hasher << item->id << std::string_view(item->kind->id()) << item->enabled;
    for (std::size_t i = 0; i < item->values.size(); ++i) {
      const ParamValue& value = item->values[i];
      if (!isSeen(*item, item->kind->params()[i], value)) continue;
      if (value.changesInTime())
        changing_.emplace_back(item.get(), i);
      else
        describe(value.base, hasher);
      hasher << value.variation << value.input << value.fastest << std::string_view(value.formula)
             << value.overAge.has_value();
      if (value.overAge) describe(*value.overAge, hasher);
    }
  }
  constant_ = hasher.digest();
}

Digest PictureKeys::of(int frame, const Digest& states, std::size_t past, const CameraView& view) const {
  Hasher hasher;
  hasher << constant_ << frame << states << past;
  for (const auto& [item, index] : changing_) describeAt(frame, *item, index, hasher);
  const Camera& camera = view.camera;
  hasher << camera.projection << camera.place << camera.aim << camera.fieldOfView << camera.height
         << view.size.width << view.size.height << view.withBackdrop;
  return hasher.digest();
}

}  // namespace comet
