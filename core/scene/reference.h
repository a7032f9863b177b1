// The parameter tables as documents: for people, for programs, and for checking scene files.
#pragma once

#include "params/schema.h"

#include <nlohmann/json_fwd.hpp>
#include <string>

namespace comet {

// Every parameter of every kind, with all that its table says.
nlohmann::ordered_json referenceJson(const Catalog& catalog);

// The reference page of the user guide.
std::string referenceMarkdown(const Catalog& catalog);

// A JSON Schema (draft 2020-12) that scene files follow.
nlohmann::ordered_json sceneJsonSchema(const Catalog& catalog);

}  // namespace comet
