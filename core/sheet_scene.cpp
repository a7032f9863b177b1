#include "sheet_scene.h"

#include "bake/bake_kind.h"
#include "bake/light_hue.h"
#include "base/cell_order.h"
#include "base/color.h"
#include "base/error.h"
#include "base/file.h"
#include "catalog.h"
#include "io/picture_content.h"
#include "render/lights.h"
#include "scene/item_edit.h"
#include "scene/scene_file.h"
#include "scene_files.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <optional>
#include <vector>

namespace comet {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;

constexpr const char* kExportAgain = "Bake the flipbook and export it again";
// Of a cell, units.
constexpr double kSize = 1.2;

struct Sheet {
  std::string name;
  fs::path colors;
  std::vector<std::pair<std::string, fs::path>> lights;  // names and pictures of what is added
  int columns = 1, rows = 1, padding = 0;
  int variants = 1, cells = 1;  // and the cells of each
  std::string order;
  double seconds = 1;  // that playing all cells of a variant takes
  std::string alpha;
  bool loops = false, canRotate = false;
};

// The picture of a sheet or of one of its layers.
fs::path pictureOf(const json& sheet, const fs::path& folder) {
  if (sheet.contains("images") && sheet.at("images").size() > 1)
    refuseInput("/images", fmt::format("the flipbook is spread over {} pictures", sheet.at("images").size()),
                "Bake it with fewer or smaller cells, or a larger sheet limit");
  return folder / sheet.at("image").get<std::string>();
}

Sheet sheetFrom(const json& description, const fs::path& folder) {
  if (description.at("format") != "tawny-comet-flipbook")
    refuseInput("/format", "describes no flipbook", kExportAgain);
  Sheet sheet;
  sheet.name = description.at("name");
  sheet.colors = pictureOf(description, folder);
  sheet.columns = description.at("columns");
  sheet.rows = description.at("rows");
  sheet.variants = static_cast<int>(description.value("variants", json::array({""})).size());
  sheet.cells = static_cast<int>(description.at("cells").size()) / std::max(1, sheet.variants);
  sheet.padding = description.at("cell").at("padding");
  sheet.order = description.at("order");
  const double rate = description.at("frames_per_second");
  if (!(rate > 0)) refuseInput("/frames_per_second", "has to be more than 0", kExportAgain);
  sheet.seconds = sheet.cells / rate;
  sheet.alpha = description.at("alpha");
  sheet.loops = description.at("loop").at("kind") != "none";
  sheet.canRotate = description.value("random_rotation", false);
  const json layers = description.value("layers", json::object());
  for (const char* name : {"fire", "glow"}) {
    if (!layers.contains(name)) continue;
    if (layers.at(name).contains("part"))
      refuseInput(fmt::format("/layers/{}", name), "is a part of an OpenEXR file, which sprites do not read",
                  "Export the flipbook as PNG, TGA or TIFF");
    sheet.lights.emplace_back(name, pictureOf(layers.at(name), folder));
  }
  return sheet;
}

Sheet readSheet(const fs::path& path) {
  constexpr std::size_t kLargest = std::size_t{64} << 20;
  try {
    return sheetFrom(json::parse(readFile(path, kLargest)), path.parent_path());
  } catch (const json::exception& error) {
    refuseInput(path.string(), fmt::format("is no description of a flipbook ({})", error.what()),
                kExportAgain);
  } catch (const Error& error) {
    throw error.place().rfind(path.string(), 0) == 0 ? error : error.within(path.string());
  }
}

Item newItemOf(const char* kind, const Scene& scene, const std::string& name) {
  return newItem(*catalog().find(kind), scene.freeName(problemWithName(name).empty() ? name : kind));
}

// Loops begin and end in the midst of things.
Curve opacityOver(const Sheet& sheet) {
  if (!sheet.loops) return Curve::constant(1);
  return Curve({{0, 0, Interpolation::Smooth},
                {0.15, 1, Interpolation::Smooth},
                {0.7, 1, Interpolation::Smooth},
                {1, 0, Interpolation::Smooth}});
}

Scene withPlayer(const Scene& scene, const Sheet& sheet, const std::string& name, const fs::path& picture,
                 bool shines) {
  Item emitter = newItemOf("emitter", scene, name);
  const auto overAge = [&emitter](const char* param, Curve curve) {
    emitter.values[emitter.kind->indexOf(param)].overAge = std::move(curve);
  };
  setBase(emitter, "rate", 30.0);
  setBase(emitter, "shape", std::string("disc"));
  setBase(emitter, "radius", 0.1);
  setBase(emitter, "position", Vec3d(0, 0.6, 0));
  setBase(emitter, "direction", Vec3d(0, 1, 0));
  setBase(emitter, "cone", 12.0);
  setVaried(emitter, "speed", 1.2, 0.4);
  setVaried(emitter, "lifetime", shortened(sheet.seconds), shortened(0.2 * sheet.seconds));
  setBase(emitter, "sprite", std::string("flipbook"));
  setBase(emitter, "picture", FileRef{picture.string(), nullptr, {}});
  setBase(emitter, "picture_alpha",
          std::string(sheet.alpha == "premultiplied" ? "premultiplied" : "straight"));
  setBase(emitter, "flipbook_columns", static_cast<double>(sheet.columns));
  setBase(emitter, "flipbook_rows", static_cast<double>(sheet.rows));
  setBase(emitter, "flipbook_cells", static_cast<double>(sheet.cells));
  setBase(emitter, "flipbook_variants", static_cast<double>(sheet.variants));
  setBase(emitter, "flipbook_padding", static_cast<double>(sheet.padding));
  setBase(emitter, "flipbook_order", sheet.order);
  setBase(emitter, "blend", std::string(shines ? "additive" : "normal"));
  setBase(emitter, "lit", !shines);
  setVaried(emitter, "size", kSize, 0.25 * kSize);
  overAge("size", Curve({{0, 0.5, Interpolation::Smooth}, {1, 1, Interpolation::Smooth}}));
  overAge("opacity", opacityOver(sheet));
  if (sheet.canRotate) {
    setVaried(emitter, "sprite_rotation", 0, 180);
    setVaried(emitter, "spin", 0, 20);
  }
  return scene.withAdded(std::move(emitter));
}

// A light that follows the emitter and flickers as a torch does.
Scene withTorchLight(const Scene& scene, const Item& emitter) {
  Item light = newItemOf("light", scene, "light");
  setBase(light, "follow", ItemRef{emitter.name, emitter.id});
  setBase(light, "follow_offset", Vec3d(0, 0.5, 0));
  setBase(light, "strength", 2.0);
  setBase(light, "full_distance", 0.8);
  setBase(light, "flicker", 45.0);
  setBase(light, "flicker_rate", 8.0);
  return scene.withAdded(std::move(light));
}

// At dusk, over a ground that shows the light.
Scene withStage(Scene scene) {
  const ItemId settings = scene.settings().id;
  const auto set = [&scene](ItemId item, const char* param, Value value) {
    scene = withBase(scene, item, param, std::move(value));
  };
  set(settings, "frame_rate", 30.0);
  set(settings, "last_frame", 150.0);
  set(settings, "light_strength", 0.05);
  set(settings, "ambient_color", Vec3d(0.02, 0.025, 0.035));
  set(scene.camera().id, "position", Vec3d(0, 1.5, 5));
  set(scene.camera().id, "aim", Vec3d(0, 1.15, 0));
  Item drag = newItemOf("drag", scene, "drag");
  setBase(drag, "rate", 1.0);
  scene = scene.withAdded(std::move(drag));
  Item ground = newItemOf("deflector", scene, "ground");
  setBase(ground, "shape", std::string("plane"));
  setBase(ground, "render_display", std::string("visible"));
  setBase(ground, "surface_color", Vec3d(0.35, 0.31, 0.27));
  return scene.withAdded(std::move(ground));
}

// The light has the colour of what shines.
Scene withLightColored(const Scene& scene, ItemId emitter) {
  const auto content = scene.find(emitter)->content<PictureContent>("picture");
  const auto hue = content ? hueOf(*content->at(1, StoredAlpha::Premultiplied)) : std::nullopt;
  if (!hue) return scene;
  return withBase(scene, scene.itemsOf(ItemFamily::Light).front()->id, "color",
                  Vec3d(shortened(hue->x), shortened(hue->y), shortened(hue->z)));
}

}  // namespace

Scene sceneOfSheet(const fs::path& description, const FileReaderPtr& reader, const Progress& progress) {
  const Sheet sheet = readSheet(fs::absolute(description));
  Scene scene = withStage(bareScene(catalog()));
  const bool addsOnly = sheet.alpha == "on_black";
  scene = withPlayer(scene, sheet, sheet.name, sheet.colors, addsOnly);
  ItemId shining = scene.items().back()->id;
  for (const auto& [name, picture] : sheet.lights) {
    scene = withPlayer(scene, sheet, name, picture, true);
    if (&name == &sheet.lights.front().first) shining = scene.items().back()->id;
  }
  scene = withTorchLight(scene, *scene.find(shining));
  scene = scene.withAdded(newBake(scene.freeName("flipbook")));
  return withLightColored(withFilesRead(scene, {}, reader, progress), shining);
}

}  // namespace comet
