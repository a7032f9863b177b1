// Packing: one more sheet, each of whose channels is taken from another one.
#pragma once

#include "params/schema.h"

#include <array>
#include <optional>
#include <string_view>
#include <vector>

namespace comet {

enum class DataLayer;

// Where a channel of a packed sheet comes from.
struct PackSource {
  std::string_view id;
  std::string_view label;
  std::optional<DataLayer> layer;  // nothing for the colours, or for a constant
  int channel = -1;                // of it, or of the colours; -1 for a constant
  float constant = 0;
};

// All there are; the first is nothing.
const std::vector<PackSource>& packSources();
// Null if there is none of this id.
const PackSource* packSource(std::string_view id);

// In the order of the channels.
constexpr std::array<std::string_view, 4> kPackChannels{"red", "green", "blue", "alpha"};
using Packing = std::array<const PackSource*, 4>;

// The parameters of a packed sheet.
std::vector<ParamSpec> packingParams();

}  // namespace comet
