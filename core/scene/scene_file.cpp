#include "scene/scene_file.h"

#include "base/base64.h"
#include "base/error.h"
#include "base/file.h"
#include "base/file_set.h"
#include "params/formula.h"
#include "scene/item_reference.h"
#include "scene/settings_kind.h"
#include "scene/snapshot.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <set>

namespace comet {
namespace {

using nlohmann::json;
using nlohmann::ordered_json;

constexpr std::string_view kFormat = "tawny-comet-scene";
constexpr std::size_t kLargestFile = 64u << 20;
constexpr int kDeepestNesting = 64;
constexpr ItemId kLargestId = 0xFFFFFF;  // a particle's identity holds it in 24 bits
constexpr std::size_t kMaxItems = 10000;

// The library says of a number that is too large only what it is, in quotes; this finds where it is.
constexpr int kNumberOverflow = 406;
std::string placeOfNumber(const std::string& words, std::string_view text) {
  const std::size_t begin = words.find('\'') + 1, end = words.rfind('\'');
  if (begin == 0 || end <= begin) return {};
  const std::size_t place = text.find(words.substr(begin, end - begin));
  if (place == std::string_view::npos) return {};
  const std::string_view before = text.substr(0, place);
  const auto line = std::count(before.begin(), before.end(), '\n') + 1;
  const std::size_t lineBegin = before.rfind('\n') + 1;  // none is the largest number
  return fmt::format(" at line {}, column {}", line, place - lineBegin + 1);
}

json parse(std::string_view text) {
  const auto limitDepth = [](int depth, json::parse_event_t, json&) {
    if (depth > kDeepestNesting) refuseInput("", fmt::format("is nested more than {} deep", kDeepestNesting));
    return true;
  };
  try {
    return json::parse(text.begin(), text.end(), limitDepth);
  } catch (const json::exception& error) {
    // The library's own words hold line and column; its error number in brackets helps nobody.
    std::string words = error.what();
    if (const auto end = words.find("] "); end != std::string::npos) words.erase(0, end + 2);
    if (error.id == kNumberOverflow) words += placeOfNumber(words, text);
    refuseInput("", "is not JSON: " + words, "Correct the text there, or open a copy");
  }
}

void checkHead(const json& root) {
  if (!root.is_object()) refuseInput("/", "must be an object");
  const auto format = root.find("format");
  if (format == root.end() || *format != kFormat)
    refuseInput("/format", fmt::format("must be \"{}\"", kFormat), "This is not a scene of Tawny Comet");
  const auto version = root.find("version");
  if (version == root.end() || !version->is_number_integer())
    refuseInput("/version", "must be a whole number");
  if (*version < 1 || *version > kSceneVersion)
    refuseInput("/version",
                fmt::format("is {}, but this program reads versions 1 to {}", version->dump(), kSceneVersion),
                "Open it with a newer program");
}

std::string textField(const json& object, const char* field, const std::string& place) {
  const auto found = object.find(field);
  if (found == object.end()) refuseInput(place, fmt::format("needs a \"{}\"", field));
  if (!found->is_string()) refuseInput(place + "/" + field, "must be a text");
  return found->get<std::string>();
}

const KindSpec& kindOf(const json& object, const Catalog& catalog, const std::string& place) {
  const std::string id = textField(object, "kind", place);
  if (const KindSpec* kind = catalog.find(id)) return *kind;
  std::string known;
  for (const KindSpec* kind : catalog.kinds()) known += (known.empty() ? "" : ", ") + kind->id();
  refuseInput(place + "/kind", fmt::format("\"{}\" is not known", id), "Known are: " + known);
}

void readParams(Item& item, const json& params, const std::string& place, json& unknown) {
  if (!params.is_object()) refuseInput(place, "must be an object");
  for (const auto& [id, value] : params.items()) {
    if (const auto index = item.kind->find(id))
      item.values[*index] = paramFromJson(item.kind->params()[*index], value, place + "/" + id);
    else
      unknown["params"][id] = value;
  }
}

Item itemFrom(const json& object, const Catalog& catalog, const std::string& place) {
  if (!object.is_object()) refuseInput(place, "must be an object");
  const KindSpec& kind = kindOf(object, catalog, place);
  Item item = newItem(kind, object.contains("name") ? textField(object, "name", place) : kind.id());
  if (const std::string problem = problemWithName(item.name); !problem.empty())
    refuseInput(place + "/name", problem);
  json unknown = json::object();
  for (const auto& [field, value] : object.items()) {
    const std::string here = place + "/" + field;
    if (field == "kind" || field == "name") continue;
    if (field == "id") {
      if (!value.is_number_unsigned() || value > kLargestId || value < 1U)
        refuseInput(here, "must be a whole number from 1 to 16777215");
      item.id = value.get<ItemId>();
    } else if (field == "enabled") {
      if (!value.is_boolean()) refuseInput(here, "must be true or false");
      item.enabled = value.get<bool>();
    } else if (field == "params") {
      readParams(item, value, here, unknown);
    } else {
      unknown[field] = value;
    }
  }
  if (!unknown.empty()) item.unknownFields = std::make_shared<const json>(std::move(unknown));
  return item;
}

Scene withItems(Scene scene, const json& list, const Catalog& catalog, const std::string& listPlace) {
  if (!list.is_array()) refuseInput(listPlace, "must be a list");
  if (list.size() > kMaxItems) refuseInput(listPlace, fmt::format("has more than {} items", kMaxItems));
  // Ids that a file leaves out come after all that it states, so that they cannot meet.
  ItemId lastId = 0;
  for (const json& object : list)
    if (object.is_object() && object.contains("id") && object["id"].is_number_unsigned())
      lastId = std::max(lastId, object["id"].get<ItemId>() & kLargestId);
  std::set<ItemFamily> single;
  for (std::size_t i = 0; i < list.size(); ++i) {
    const std::string place = fmt::format("{}/{}", listPlace, i);
    Item item = itemFrom(list[i], catalog, place);
    if (scene.findByName(item.name))
      refuseInput(place + "/name", fmt::format("\"{}\" is the name of two items", item.name),
                  "Rename one of them");
    if (item.id == 0) item.id = ++lastId;
    if (scene.find(item.id)) refuseInput(place + "/id", fmt::format("{} is used twice", item.id));
    const ItemFamily family = item.kind->family();
    if ((family == ItemFamily::Settings || family == ItemFamily::Camera) && !single.insert(family).second)
      refuseInput(place + "/kind", fmt::format("a scene has one {} only", toString(family)));
    scene = scene.withAdded(std::move(item));
  }
  return scene;
}

Scene::ItemPtr itemNamed(const Scene& scene, const std::string& name, ItemFamily family,
                         const std::string& place) {
  Scene::ItemPtr item = scene.findByName(name);
  if (!item || item->kind->family() != family)
    refuseInput(place, fmt::format("\"{}\" is not an {} of this scene", name, toString(family)));
  return item;
}

std::string responseFormulaFrom(const json& value, const std::string& place) {
  if (!value.is_string()) refuseInput(place, "must be a text");
  auto formula = value.get<std::string>();
  const auto problem = problemWithFormula(formula, FormulaScope::Particle);
  if (problem && !formula.empty())
    refuseInput(place, fmt::format("is wrong at character {}: {}", problem->position + 1, problem->message));
  return formula;
}

Response responseFrom(const json& value, const std::string& place) {
  if (value.is_null()) return {};
  if (value.is_object()) {
    Response response;
    if (const auto found = value.find("percent"); found != value.end())
      response = responseFrom(*found, place + "/percent");
    if (const auto found = value.find("over_age"); found != value.end())
      response.overAge = curveFromJson(*found, place + "/over_age");
    if (const auto found = value.find("formula"); found != value.end())
      response.formula = responseFormulaFrom(*found, place + "/formula");
    return response;
  }
  if (!value.is_number())
    refuseInput(
        place, "must be a number in percent, null for none, or an object with percent, over_age and formula");
  const double percent = value.get<double>();
  if (!(percent >= -kLargestResponse && percent <= kLargestResponse))
    refuseInput(place, fmt::format("is {:g}, but must lie between {:g} and {:g} percent", percent,
                                   -kLargestResponse, kLargestResponse));
  return {percent};
}

ordered_json jsonFromResponse(const Response& response) {
  ordered_json percent = response.percent ? ordered_json(*response.percent) : ordered_json(nullptr);
  if (!response.overAge && response.formula.empty()) return percent;
  ordered_json object = {{"percent", percent}};
  if (response.overAge) object["over_age"] = jsonFromCurve(*response.overAge);
  if (!response.formula.empty()) object["formula"] = response.formula;
  return object;
}

Scene withResponses(Scene scene, const json& table, const std::string& tablePlace) {
  if (!table.is_object()) refuseInput(tablePlace, "must be an object");
  for (const auto& [rowName, row] : table.items()) {
    const std::string rowPlace = tablePlace + "/" + rowName;
    const auto responder = scene.findByName(rowName);
    if (!responder || !responds(responder->kind->family()))
      refuseInput(rowPlace, fmt::format("\"{}\" is not an emitter or gas of this scene", rowName));
    if (!row.is_object()) refuseInput(rowPlace, "must be an object");
    for (const auto& [influenceName, value] : row.items()) {
      const std::string place = rowPlace + "/" + influenceName;
      const auto other = scene.findByName(influenceName);
      const bool isBake = other && other->kind->family() == ItemFamily::Bake;
      if (isBake && !value.is_null())
        refuseInput(place, "must be null: an emitter is in a bake or it is not");
      const auto influence = isBake ? other : itemNamed(scene, influenceName, ItemFamily::Influence, place);
      scene = scene.withResponse(responder->id, influence->id, responseFrom(value, place));
    }
  }
  return scene;
}

// Settings and camera may be left out of a file; they then have their default values.
Scene withRequiredItems(Scene scene, const Catalog& catalog) {
  for (const ItemFamily family : {ItemFamily::Settings, ItemFamily::Camera}) {
    if (!scene.itemsOf(family).empty()) continue;
    const KindSpec& kind = *catalog.kindsOf(family).front();
    scene = scene.withAdded(newItem(kind, scene.freeName(kind.id())));
  }
  return scene;
}

ordered_json jsonFromItem(const Item& item) {
  ordered_json object = {{"kind", item.kind->id()}, {"name", item.name}, {"id", item.id}};
  if (!item.enabled) object["enabled"] = false;
  ordered_json params = ordered_json::object();
  for (std::size_t i = 0; i < item.values.size(); ++i) {
    const ParamSpec& spec = item.kind->params()[i];
    if (item.values[i] != spec.defaultValue) params[spec.id] = jsonFromParam(spec, item.values[i]);
  }
  if (item.unknownFields) {
    for (const auto& [field, value] : item.unknownFields->items())
      if (field != "params") object[field] = value;
    if (const auto unknown = item.unknownFields->find("params"); unknown != item.unknownFields->end())
      for (const auto& [id, value] : unknown->items()) params[id] = value;
  }
  object["params"] = std::move(params);
  return object;
}

// Takes the fields that it knows out of the object; `place` is the JSON pointer to it.
Scene sceneFrom(json& object, const Catalog& catalog, const std::string& place) {
  Scene scene;
  if (const auto items = object.find("items"); items != object.end())
    scene = withItems(scene, *items, catalog, place + "/items");
  scene = withRequiredItems(std::move(scene), catalog);
  if (const auto table = object.find("responses"); table != object.end())
    scene = withResponses(std::move(scene), *table, place + "/responses");
  try {
    checkReferences(scene);
  } catch (const Error& error) {
    throw place.empty() ? error : error.within(place);
  }
  for (const char* known : {"items", "responses"}) object.erase(known);
  return scene;
}

// What is left of an object is kept with its scene.
Scene withRest(const Scene& scene, json rest) {
  return rest.empty() ? scene : scene.withUnknownFields(std::make_shared<const json>(std::move(rest)));
}

SnapshotPtr snapshotFrom(json& object, const Catalog& catalog, const std::string& place) {
  if (!object.is_object()) refuseInput(place, "must be an object");
  Snapshot snapshot;
  snapshot.name = textField(object, "name", place);
  if (const std::string problem = problemWithSnapshotName(snapshot.name); !problem.empty())
    refuseInput(place + "/name", problem);
  if (object.contains("picture")) {
    const auto picture = decodeBase64(textField(object, "picture", place));
    if (!picture) refuseInput(place + "/picture", "is not base64");
    if (picture->size() > kMaxSnapshotPicture)
      refuseInput(place + "/picture", fmt::format("is larger than {} bytes", kMaxSnapshotPicture));
    snapshot.picture = *picture;
  }
  for (const char* known : {"name", "picture"}) object.erase(known);
  const Scene scene = sceneFrom(object, catalog, place);
  snapshot.scene = withRest(scene, std::move(object));
  return std::make_shared<const Snapshot>(std::move(snapshot));
}

Scene withSnapshotsFrom(Scene scene, json& list, const Catalog& catalog) {
  if (!list.is_array()) refuseInput("/snapshots", "must be a list");
  if (list.size() > kMaxSnapshots)
    refuseInput("/snapshots", fmt::format("has more than {} snapshots", kMaxSnapshots));
  std::vector<SnapshotPtr> snapshots;
  for (std::size_t i = 0; i < list.size(); ++i) {
    const std::string place = fmt::format("/snapshots/{}", i);
    snapshots.push_back(snapshotFrom(list[i], catalog, place));
    scene = scene.withSnapshots(snapshots);
    if (findSnapshot(scene, snapshots.back()->name) != snapshots.back())
      refuseInput(place + "/name", fmt::format("\"{}\" is the name of two snapshots", snapshots.back()->name),
                  "Rename one of them");
  }
  return scene;
}

// Its items, responses and unknown fields go into the object.
void addScene(const Scene& scene, ordered_json& object) {
  object["items"] = ordered_json::array();
  for (const Scene::ItemPtr& item : scene.items()) object["items"].push_back(jsonFromItem(*item));
  ordered_json table = ordered_json::object();
  for (const auto& [key, response] : scene.responses()) {
    const auto emitter = scene.find(key.first), influence = scene.find(key.second);
    table[emitter->name][influence->name] = jsonFromResponse(response);
  }
  if (!table.empty()) object["responses"] = std::move(table);
  if (scene.unknownFields())
    for (const auto& [field, value] : scene.unknownFields()->items()) object[field] = value;
}

ordered_json jsonFromSnapshot(const Snapshot& snapshot) {
  ordered_json object = {{"name", snapshot.name}};
  if (!snapshot.picture.empty()) object["picture"] = encodeBase64(snapshot.picture);
  addScene(snapshot.scene, object);
  return object;
}

}  // namespace

Scene sceneFromText(std::string_view text, const Catalog& catalog) {
  json root = parse(text);
  checkHead(root);
  Scene scene = sceneFrom(root, catalog, "");
  if (const auto list = root.find("snapshots"); list != root.end())
    scene = withSnapshotsFrom(std::move(scene), *list, catalog);
  for (const char* known : {"format", "version", "snapshots"}) root.erase(known);
  return withRest(scene, std::move(root));
}

std::string textFromScene(const Scene& scene) {
  ordered_json root = {{"format", kFormat}, {"version", kSceneVersion}};
  addScene(scene, root);
  for (const SnapshotPtr& snapshot : scene.snapshots())
    root["snapshots"].push_back(jsonFromSnapshot(*snapshot));
  return root.dump(2, ' ', false, ordered_json::error_handler_t::replace) + "\n";
}

Scene readScene(const std::filesystem::path& path, const Catalog& catalog) {
  const std::string text = readFile(path, kLargestFile);
  try {
    return sceneFromText(text, catalog);
  } catch (const Error& error) {
    throw error.within(path.string()).withRemedy("Correct the file there, or open an earlier copy");
  }
}

void writeScene(const std::filesystem::path& path, const Scene& scene) {
  removeAbandonedFiles(path.parent_path());
  writeFileAtomically(path, textFromScene(scene));
}

Scene bareScene(const Catalog& catalog) { return withRequiredItems(Scene(), catalog); }

}  // namespace comet
