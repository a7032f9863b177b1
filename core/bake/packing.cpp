#include "bake/packing.h"

#include "bake/flipbook.h"

#include <algorithm>

namespace comet {

const std::vector<PackSource>& packSources() {
  static const std::vector<PackSource> kSources{
      {"nothing", "Nothing", std::nullopt, -1, 0},
      {"full", "Full", std::nullopt, -1, 1},
      {"red", "Red", std::nullopt, 0},
      {"green", "Green", std::nullopt, 1},
      {"blue", "Blue", std::nullopt, 2},
      {"alpha", "Alpha", std::nullopt, 3},
      {"motion_right", "Motion to the right", DataLayer::Motion, 0},
      {"motion_down", "Motion down", DataLayer::Motion, 1},
      {"depth", "Depth", DataLayer::Depth, 0},
      {"age", "Age", DataLayer::Age, 0},
      {"density", "Density", DataLayer::Density, 0},
      {"temperature", "Temperature", DataLayer::Temperature, 0},
      {"normal_right", "Normal to the right", DataLayer::Normal, 0},
      {"normal_up", "Normal up", DataLayer::Normal, 1},
      {"normal_ahead", "Normal to the viewer", DataLayer::Normal, 2},
      {"light_right", "Light from the right", DataLayer::LightA, 0},
      {"light_top", "Light from the top", DataLayer::LightA, 1},
      {"light_back", "Light from behind", DataLayer::LightA, 2},
      {"light_left", "Light from the left", DataLayer::LightB, 0},
      {"light_below", "Light from below", DataLayer::LightB, 1},
      {"light_front", "Light from the front", DataLayer::LightB, 2},
  };
  return kSources;
}

const PackSource* packSource(std::string_view id) {
  const auto& all = packSources();
  const auto found =
      std::find_if(all.begin(), all.end(), [id](const PackSource& source) { return source.id == id; });
  return found == all.end() ? nullptr : &*found;
}

namespace {

std::string tipOf(const PackSource& source) {
  if (source.layer)
    return "As the sheet \"" + std::string(kLayerNames[static_cast<std::size_t>(*source.layer)]) +
           "\" holds it.";
  if (source.channel >= 0) return "Of the colours, in linear light and multiplied with alpha.";
  return source.constant > 0 ? "1 everywhere." : "0 everywhere.";
}

}  // namespace

std::vector<ParamSpec> packingParams() {
  std::vector<ParamSpec> params{
      flag("channel_packing", "Channel packing", false)
          .in("Channel packing")
          .tip("Writes one more sheet, 8 bit and linear, each of whose channels is taken from another sheet, "
               "as materials want them together."),
  };
  std::vector<ChoiceOption> options;
  for (const PackSource& source : packSources())
    options.push_back({std::string(source.id), std::string(source.label), tipOf(source)});
  constexpr std::array<const char*, 4> kLabels{"Red channel", "Green channel", "Blue channel",
                                               "Alpha channel"};
  for (std::size_t i = 0; i < kPackChannels.size(); ++i)
    params.push_back(choice("pack_" + std::string(kPackChannels[i]), kLabels[i], options)
                         .in("Channel packing")
                         .when("channel_packing", {"true"})
                         .tip("The content of this channel of the packed sheet."));
  return params;
}

}  // namespace comet
