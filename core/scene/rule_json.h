// Rules in scene files.
#pragma once

#include "params/rule.h"

#include <nlohmann/json_fwd.hpp>
#include <string>

namespace comet {

// Throws Error(Input) that names the place.
RuleList rulesFromJson(const nlohmann::json& value, const std::string& place);
nlohmann::json jsonFromRules(const RuleList& rules);
// A JSON Schema of a list of rules.
nlohmann::ordered_json rulesSchema();

}  // namespace comet
