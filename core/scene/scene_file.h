// Scenes as JSON text. The format is described in docs/scene-format.md.
//
// Reading checks everything before a scene is made: on any fault it throws Error(Input) whose place is a JSON
// pointer, and no scene. Fields that this version does not know are kept and written back.
#pragma once

#include "scene/scene.h"

#include <filesystem>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>

namespace comet {

constexpr int kSceneVersion = 1;

Scene sceneFromText(std::string_view text, const Catalog& catalog);
std::string textFromScene(const Scene& scene);

// As above, with the file's name put before the place of an error.
Scene readScene(const std::filesystem::path& path, const Catalog& catalog);
void writeScene(const std::filesystem::path& path, const Scene& scene);

// A scene that has what each scene must have (settings, camera), and nothing else.
Scene bareScene(const Catalog& catalog);

// The value of one parameter. `place` is the JSON pointer to it, for messages.
ParamValue paramFromJson(const ParamSpec& spec, const nlohmann::json& json, const std::string& place);
Curve curveFromJson(const nlohmann::json& json, const std::string& place);
nlohmann::json jsonFromCurve(const Curve& curve);
nlohmann::json jsonFromParam(const ParamSpec& spec, const ParamValue& value);

}  // namespace comet
