// An item of a scene: an emitter, an influence, the camera, a bake, the scene's settings.
//
// An item is plain data: one value for each parameter of its kind. It holds no state of a simulation.
#pragma once

#include "base/result_cache.h"
#include "params/schema.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>
#include <vector>

namespace comet {

// Stays with an item for as long as it exists, also over renaming and saving; random numbers depend on it.
using ItemId = std::uint32_t;

// How frames and seconds of a scene go together.
struct Clock {
  double firstFrame = 1;
  double rate = 24;

  double seconds(double frame) const { return (frame - firstFrame) / rate; }
  bool operator==(const Clock&) const = default;
};

struct Item {
  ItemId id = 0;
  const KindSpec* kind = nullptr;
  std::string name;
  bool enabled = true;
  std::vector<ParamValue> values;  // as kind->params()
  // Fields of the file that this version does not know; written back as they were. May be null.
  std::shared_ptr<const nlohmann::json> unknownFields;
  Clock clock;  // the scene's, which sees to it
  // What was made from its values; shared by all versions of the item, so that an edit that does not touch
  // what something was made from finds it again.
  std::shared_ptr<const ResultCache> kept = std::make_shared<const ResultCache>();

  const ParamValue& value(std::string_view param) const { return values[kind->indexOf(param)]; }
  // By the formula, if there is one. Held within the parameter's range, which formulas and free courses
  // between keys could leave; where a formula gives no number, the value is what it is without.
  // A formula that varies by particle is left out of it; see particleFormula.
  double number(std::string_view param, double frame) const;
  int integer(std::string_view param, double frame) const { return static_cast<int>(number(param, frame)); }
  // Computes the number for a particle from what number() gives; null if it is the same for all.
  std::shared_ptr<const ParticleFormula> particleFormula(std::string_view param, double frame) const;
  Vec3d vector(std::string_view param, double frame) const;
  bool flag(std::string_view param) const { return std::get<bool>(value(param).base); }
  // Of one that can be keyed.
  bool flag(std::string_view param, double frame) const { return std::get<bool>(value(param).at(frame)); }
  const std::string& choice(std::string_view param) const { return std::get<std::string>(value(param).base); }
  bool chooses(std::string_view param, std::string_view option) const { return choice(param) == option; }
  // A choice as an enumeration whose values stand in the order of `names`, its options' ids.
  template <typename Enum, std::size_t kCount>
  Enum choiceAs(std::string_view param, const std::array<std::string_view, kCount>& names) const {
    return static_cast<Enum>(std::find(names.begin(), names.end(), choice(param)) - names.begin());
  }
  // What was read from a file parameter; null if there is nothing.
  template <typename Content>
  std::shared_ptr<const Content> content(std::string_view param) const {
    return std::get<FileRef>(value(param).base).as<Content>();
  }

  // The item that a parameter names; 0 for none.
  ItemId reference(std::string_view param) const { return std::get<ItemRef>(value(param).base).id; }

  // Whether the parameter at `index` matters, given the item's choices.
  bool applies(std::size_t index) const { return unmet(index) == nullptr; }
  // The condition that has to be met first for the parameter at `index` to matter; null if it does.
  const Condition* unmet(std::size_t index) const;
  // The components of a vector that matter, given the item's choices: as in "xz".
  std::string axes(std::size_t index) const;

 private:
  bool meets(const Condition& condition) const;
};

// An item of this kind with its default values; it has no id yet.
Item newItem(const KindSpec& kind, std::string name);

// Why a text cannot be the name of an item; empty if it can. Names appear in command lines as
// ITEM.PARAM=VALUE.
std::string problemWithName(std::string_view name);

}  // namespace comet
