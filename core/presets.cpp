#include "presets.h"

#include "base/error.h"
#include "catalog.h"
#include "demos.h"
#include "scene/item_edit.h"
#include "scene/item_reference.h"
#include "scene/scene_file.h"
#include "scene_files.h"
#include "simulation/emission/rearrange.h"
#include "simulation/influences/influences.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>

namespace comet {
namespace {

using nlohmann::json;

constexpr const char* kField = "preset";

std::string readable(std::string_view fileName) {
  std::string name(fileName);
  std::replace(name.begin(), name.end(), '_', ' ');
  return name;
}

std::string textIn(const json& object, const char* field) {
  const auto found = object.find(field);
  return found != object.end() && found->is_string() ? found->get<std::string>() : std::string();
}

Preset presetFrom(const std::string& name, Scene scene) {
  Preset preset{name, {}, {}, std::move(scene)};
  const auto& rest = preset.scene.unknownFields();
  if (!rest || !rest->contains(kField) || !(*rest)[kField].is_object()) return preset;
  preset.category = textIn((*rest)[kField], "category");
  preset.words = textIn((*rest)[kField], "words");
  return preset;
}

std::vector<Preset> readBuiltIn() {
  std::vector<Preset> presets;
  for (const Demo& file : presetScenes())
    presets.push_back(presetFrom(readable(file.name),
                                 withFilesRead(sceneFromText(file.sceneText, catalog()), {}, nullptr)));
  std::stable_sort(presets.begin(), presets.end(),
                   [](const Preset& a, const Preset& b) { return a.category < b.category; });
  return presets;
}

bool givesBirthsItself(const Item& item) {
  return item.kind->family() == ItemFamily::Emitter && item.chooses("birth_trigger", "own");
}

// Where an item's mesh is, as the emitter's shape.
Item withMeshOf(Item emitter, const Item& meshItem) {
  const auto copy = [&](const char* param) {
    emitter.values[emitter.kind->indexOf(param)] = meshItem.value(param);
  };
  setBase(emitter, "shape", std::string("mesh"));
  setBase(emitter, "mesh_emit_from", std::string("surface"));
  copy("mesh");
  copy("position");
  copy("rotation");
  if (meshItem.kind->find("scale"))
    copy("scale");
  else
    setBase(emitter, "scale", Vec3d(meshItem.number("mesh_scale", meshItem.clock.firstFrame)));
  return emitter;
}

}  // namespace

const std::vector<Preset>& builtInPresets() {
  static const std::vector<Preset> presets = readBuiltIn();
  return presets;
}

const Preset* findBuiltInPreset(const std::string& name) {
  const auto& all = builtInPresets();
  const auto found = std::find_if(all.begin(), all.end(), [wanted = readable(name)](const Preset& preset) {
    return preset.name == wanted;
  });
  return found == all.end() ? nullptr : &*found;
}

Preset openPreset(const std::filesystem::path& path, const FileReaderPtr& files, const Progress& progress) {
  Preset preset = presetFrom(readable(path.stem().string()), openScene(path, files, progress));
  if (preset.scene.itemsOf(ItemFamily::Emitter).empty() && preset.scene.itemsOf(ItemFamily::Gas).empty())
    refuseInput(path.string(), "holds no emitter", "Keep an emitter as a preset, or choose another file");
  return preset;
}

void writePreset(const std::filesystem::path& path, const Preset& preset) {
  json rest = preset.scene.unknownFields() ? *preset.scene.unknownFields() : json::object();
  rest[kField] = {{"category", preset.category}, {"words", preset.words}};
  writeScene(path, preset.scene.withUnknownFields(std::make_shared<const json>(std::move(rest))));
}

Preset presetOf(const Scene& scene, ItemId emitter) {
  std::set<ItemId> kept{emitter};
  for (const Scene::ItemPtr& other : scene.itemsOf(ItemFamily::Emitter))
    if (comesFrom(scene, other->id, emitter)) kept.insert(other->id);
  const std::set<ItemId> emitters = kept;
  for (const Scene::ItemPtr& influence : scene.itemsOf(ItemFamily::Influence))
    for (const ItemId id : emitters)
      if (influence->enabled && canActOn(*scene.find(id), *influence->kind) &&
          scene.response(id, influence->id).acts())
        kept.insert(influence->id);
  Scene alone = scene.withSnapshots({}).withUnknownFields(nullptr);
  for (const Scene::ItemPtr& item : scene.items()) {
    const bool isScenes =
        item->kind->family() == ItemFamily::Settings || item->kind->family() == ItemFamily::Camera;
    if (!isScenes && kept.count(item->id) == 0) alone = alone.withoutItem(item->id);
  }
  return {scene.find(emitter)->name, {}, {}, alone};
}

Merged withPreset(const Scene& scene, const Preset& preset, const Vec3d& offset) {
  Merged merged = withItemsOf(scene, preset.scene);
  if (offset == Vec3d(0.0)) return merged;
  for (const ItemId id : merged.added)
    merged.scene = merged.scene.withReplaced(shiftedInSpace(*merged.scene.find(id), offset));
  return merged;
}

Merged withPresetOn(const Scene& scene, const Preset& preset, ItemId meshItem) {
  const Scene::ItemPtr mesh = scene.find(meshItem);
  Merged merged = withPreset(scene, preset, mesh->vector("position", mesh->clock.firstFrame));
  for (const ItemId id : merged.added)
    if (const Scene::ItemPtr item = merged.scene.find(id); givesBirthsItself(*item))
      merged.scene = merged.scene.withReplaced(withMeshOf(*item, *mesh));
  return merged;
}

}  // namespace comet
