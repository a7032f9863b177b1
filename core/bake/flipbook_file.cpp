#include "bake/flipbook_file.h"

#include "bake/cell_balance.h"
#include "bake/fill_outward.h"
#include "bake/flipbook_texture.h"
#include "bake/seen.h"
#include "base/parallel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

using nlohmann::ordered_json;

std::string_view sampleType(PictureFormat format) {
  switch (format) {
    case PictureFormat::Png8:
    case PictureFormat::Tga8:
      return "uint8";
    case PictureFormat::Png16:
    case PictureFormat::Tiff16:
      return "uint16";
    case PictureFormat::ExrHalf:
      return "half";
    case PictureFormat::ExrFloat:
      return "float";
  }
  return "";
}

std::string_view nameOf(PictureEncoding encoding) {
  return encoding == PictureEncoding::Linear ? "linear" : "srgb";
}

// Of one of several sheets, counted from 0, with its number.
std::string fileOf(const FlipbookLayout& layout, const std::string& layer, PictureFormat format,
                   int sheet = 0) {
  // An OpenEXR file has a part for each layer.
  return layout.name + (layer == "color" || isFloat(format) ? "" : "." + layer) +
         (layout.sheets() > 1 ? "." + std::to_string(sheet + 1) : "") + std::string(extensionOf(format));
}

std::string textureFileOf(const std::string& pictureFile) {
  return std::filesystem::path(pictureFile).replace_extension(".ktx2").string();
}

// What says which files hold a layer.
void setImages(ordered_json& object, const FlipbookLayout& layout, const std::string& layer,
               PictureFormat format, PictureChannels channels) {
  if (layout.texture) {
    const BlockFormat blocks = blockFormatOf(*layout.texture, layer, channels);
    object["texture"] = {{"file", textureFileOf(fileOf(layout, layer, format))},
                         {"compression", traitsOf(blocks).name},
                         {"levels", mipLevelsOf(layout, blocks)}};
    for (int sheet = 0; layout.sheets() > 1 && sheet < layout.sheets(); ++sheet)
      object["texture"]["files"].push_back(textureFileOf(fileOf(layout, layer, format, sheet)));
  }
  object["image"] = fileOf(layout, layer, format);
  if (isFloat(format)) object["part"] = layer;
  if (layout.sheets() == 1) return;
  object["images"] = ordered_json::array();
  for (int sheet = 0; sheet < layout.sheets(); ++sheet)
    object["images"].push_back(fileOf(layout, layer, format, sheet));
}

// A sheet a row of cells at once: make(first, count) is asked for its pixels.
template <typename Make>
PictureRows cellRows(const FlipbookLayout& layout, const Make& make) {
  return {layout.width(), layout.height(), layout.rowHeight(), make};
}

void nameFiles(FlipbookPart& part, const FlipbookLayout& layout, int sheet = 0) {
  part.file = fileOf(layout, part.layer, part.format, sheet);
  if (layout.texture) part.textureFile = textureFileOf(part.file);
}

// The rows of a part that are on one of several sheets; below the last there is nothing.
FlipbookPart pageOf(const FlipbookPart& part, const FlipbookLayout& layout, int sheet) {
  FlipbookPart page = part;
  nameFiles(page, layout, sheet);
  page.rows.height = layout.sheetHeight();
  page.rows.make = [whole = part.rows, top = sheet * layout.sheetHeight()](int first, int count) {
    return top + first < whole.height ? whole.make(top + first, count) : Picture(whole.width, count);
  };
  return page;
}

// How a data sheet is stored: depth and age in sixteen bits in any case, for they are there to be computed
// with.
struct LayerTraits {
  PictureFormat format;
  PictureChannels channels;
  const char* unit;
  std::vector<std::string> channelNames;  // in OpenEXR files
};

LayerTraits traitsOf(DataLayer layer, const FlipbookLayout& layout) {
  const auto in = [&layout](PictureFormat whole) { return isFloat(layout.format) ? layout.format : whole; };
  switch (layer) {
    case DataLayer::Motion:
      return {in(layout.motion == MotionBits::Sixteen ? PictureFormat::Png16 : PictureFormat::Png8),
              PictureChannels::Rgb,
              "pixels_to_the_next_cell",
              {"motion.X", "motion.Y", "motion.seen"}};
    case DataLayer::Depth:
      return {in(PictureFormat::Png16), PictureChannels::Grey, "scene_units_from_the_viewer", {"Z"}};
    case DataLayer::Age:
      return {in(PictureFormat::Png16), PictureChannels::Grey, "fraction_of_life", {"age"}};
    case DataLayer::Density:
      return {in(PictureFormat::Png16), PictureChannels::Grey, "density", {"density"}};
    case DataLayer::Temperature:
      return {in(PictureFormat::Png16), PictureChannels::Grey, "kelvin_above_the_air", {"temperature"}};
    case DataLayer::Normal:
      return {in(PictureFormat::Png8), PictureChannels::Rgb, "right_up_to_the_viewer", {"N.X", "N.Y", "N.Z"}};
    case DataLayer::LightA:
      return {in(PictureFormat::Png8),
              PictureChannels::Rgba,
              "light_from_right_top_back",
              {"light.right", "light.top", "light.back", "A"}};
    case DataLayer::LightB:
      return {in(PictureFormat::Png8),
              PictureChannels::Rgba,
              "light_from_left_bottom_front",
              {"light.left", "light.bottom", "light.front", "A"}};
  }
  return {PictureFormat::Png8, PictureChannels::Rgb, "", {}};
}

// Whether zero lies in the middle of what a sample can hold.
bool isSigned(DataLayer layer) { return layer == DataLayer::Motion || layer == DataLayer::Normal; }

// From values to samples, 0 to 1: (sample - zero) * scale are the values.
struct SampleCode {
  double zero = 0, scale = 1;
};

// As whole numbers hold them.
SampleCode codeOf(DataLayer layer, const Flipbook& book, const FlipbookLayout& layout) {
  const DataSheet& sheet = book.data.at(layer);
  if (!isSigned(layer)) {
    const double span = sheet.to > sheet.from ? sheet.to - sheet.from : 1;
    return {-sheet.from / span, span};
  }
  const MotionCode code = motionCode(layer == DataLayer::Motion ? layout.motion : MotionBits::Eight);
  return {code.zero, sheet.to / code.perRange};
}

// As their file holds them: floats are the values themselves.
SampleCode fileCodeOf(DataLayer layer, const Flipbook& book, const FlipbookLayout& layout) {
  return isFloat(layout.format) ? SampleCode() : codeOf(layer, book, layout);
}

FlipbookPart dataPart(DataLayer layer, const Flipbook& book, const FlipbookLayout& layout) {
  const LayerTraits traits = traitsOf(layer, layout);
  const SampleCode code = fileCodeOf(layer, book, layout);
  FlipbookPart part;
  part.layer = kLayerNames[static_cast<std::size_t>(layer)];
  part.format = traits.format;
  part.channels = traits.channels;
  part.channelNames = traits.channelNames;
  part.encoding = PictureEncoding::Linear;
  part.rows = cellRows(layout, [layer, code, &values = book.data.at(layer).values](int first, int count) {
    return changed(values.rows(first, count), [&](const Vec4& value) {
      Vec4 sample = value / static_cast<float>(code.scale) + static_cast<float>(code.zero);
      // How much is seen is no value.
      sample.w = value.w;
      if (layer == DataLayer::Motion) sample.z = value.w;
      return sample;
    });
  });
  return part;
}

// One channel of the packed sheet.
struct PackedChannel {
  const Picture* values = nullptr;
  int channel = -1;  // of the values; below 0, all are the constant
  float constant = 0;
  SampleCode code{};

  float at(int x, int y) const {
    if (channel < 0) return constant;
    return values->at(x, y)[channel] / static_cast<float>(code.scale) + static_cast<float>(code.zero);
  }
};

FlipbookPart packedPart(const Packing& packing, const Flipbook& book, const FlipbookLayout& layout) {
  FlipbookPart part;
  part.layer = "packed";
  part.encoding = PictureEncoding::Linear;
  std::array<PackedChannel, std::tuple_size_v<Packing>> channels;
  for (std::size_t i = 0; i < packing.size(); ++i) {
    const PackSource& source = *packing[i];
    channels[i] = {source.layer ? &book.data.at(*source.layer).values : &book.color, source.channel,
                   source.constant, source.layer ? codeOf(*source.layer, book, layout) : SampleCode()};
  }
  part.rows = cellRows(layout, [channels, width = layout.width()](int first, int count) {
    Picture rows(width, count);
    parallelFor(static_cast<std::size_t>(count), [&](std::size_t row) {
      const int y = static_cast<int>(row);
      for (int x = 0; x < width; ++x)
        for (std::size_t i = 0; i < channels.size(); ++i)
          rows.at(x, y)[static_cast<int>(i)] = channels[i].at(x, first + y);
    });
    return rows;
  });
  return part;
}

ordered_json packedLayer(const Packing& packing, const Flipbook& book, const FlipbookLayout& layout) {
  ordered_json layer = {{"sample_type", sampleType(PictureFormat::Png8)}};
  setImages(layer, layout, "packed", PictureFormat::Png8, PictureChannels::Rgba);
  for (std::size_t i = 0; i < packing.size(); ++i) {
    const SampleCode code = packing[i]->layer ? codeOf(*packing[i]->layer, book, layout) : SampleCode();
    layer["channels"][std::string(kPackChannels[i])] = {
        {"holds", packing[i]->id}, {"zero", code.zero}, {"scale", code.scale}};
  }
  return layer;
}

ordered_json cellsOf(const FlipbookLayout& layout) {
  ordered_json cells = ordered_json::array();
  for (std::size_t i = 0; i < layout.cells.size(); ++i) {
    const CellPlan& plan = layout.cells[i];
    ordered_json cell = {
        {"x", layout.cellX(i)}, {"y", layout.cellY(i) % layout.sheetHeight()}, {"frame", plan.frame}};
    if (layout.sheets() > 1) cell["sheet"] = layout.cellY(i) / layout.sheetHeight();
    if (plan.fadedFraction > 0)
      cell["fades_to"] = {{"frame", plan.fadesTo}, {"fraction", plan.fadedFraction}};
    cells.push_back(std::move(cell));
  }
  return cells;
}

// Where the cells of each variant are.
ordered_json variantsOf(const FlipbookLayout& layout) {
  ordered_json variants = ordered_json::array();
  for (std::size_t i = 0; i < layout.variants.size(); ++i)
    variants.push_back({{"label", layout.variants[i]},
                        {"first_cell", i * layout.cellsEach()},
                        {"cells", layout.cellsEach()}});
  return variants;
}

// A sheet of light that is added to the colour.
struct LightSheet {
  std::string name;
  const Picture* picture;
};

std::vector<LightSheet> lightSheetsOf(const Flipbook& book) {
  std::vector<LightSheet> sheets;
  if (!book.glow.empty()) sheets.push_back({"glow", &book.glow});
  if (!book.fire.empty()) sheets.push_back({"fire", &book.fire});
  return sheets;
}

// Of the sheets beside the colours, by their names.
ordered_json layersOf(const Flipbook& book, const FlipbookLayout& layout) {
  ordered_json layers = ordered_json::object();
  for (const LightSheet& sheet : lightSheetsOf(book)) {
    layers[sheet.name] = {{"color_space", nameOf(layout.lightEncoding())},
                          {"sample_type", sampleType(layout.format)}};
    setImages(layers[sheet.name], layout, sheet.name, layout.format, PictureChannels::Rgb);
  }
  for (const DataLayer layer : layout.ownSheets) {
    const LayerTraits traits = traitsOf(layer, layout);
    const SampleCode code = fileCodeOf(layer, book, layout);
    const std::string name(kLayerNames[static_cast<std::size_t>(layer)]);
    layers[name] = {{"sample_type", sampleType(traits.format)},
                    {"unit", traits.unit},
                    {"zero", code.zero},
                    {"scale", code.scale}};
    setImages(layers[name], layout, name, traits.format, traits.channels);
  }
  if (layout.packing) layers["packed"] = packedLayer(*layout.packing, book, layout);
  return layers;
}

// Colours with straight alpha, which may not go on from one cell into another. The row of cells begins at
// `top`.
Picture straightRow(const Picture& sheet, const FlipbookLayout& layout, int top, int height) {
  Picture result(sheet.width(), height);
  const int padding = layout.padding;
  for (std::size_t cell = 0; cell < layout.cells.size(); ++cell) {
    if (layout.rowOf(cell) != top / layout.rowHeight()) continue;
    const int x = layout.cellX(cell), y = padding;
    result.pasteReduced(withAlphaKind(cellOf(sheet, layout, cell), AlphaKind::Straight), 1, x, y);
    if (padding > 0) bleedEdge(result, x, y, layout.cellWidth, layout.cellHeight, padding);
    if (!layout.edgeBleed)
      for (int j = 0; j < height; ++j)
        for (int i = x - padding; i < x + layout.cellWidth + padding; ++i)
          if (i < x || j < y || i >= x + layout.cellWidth || j >= y + layout.cellHeight)
            result.at(i, j).w = 0;
  }
  return result;
}

PictureRows storedColors(const Picture& sheet, const FlipbookLayout& layout) {
  return cellRows(layout, [&sheet, layout](int first, int count) {
    return layout.alpha == AlphaKind::Straight ? straightRow(sheet, layout, first, count)
                                               : withAlphaKind(sheet.rows(first, count), layout.alpha);
  });
}

}  // namespace

MotionCode motionCode(MotionBits bits) {
  const double max = bits == MotionBits::Sixteen ? 65535 : 255;
  const double half = (max + 1) / 2;
  return {half / max, (half - 1) / max};
}

Picture withAlphaKind(Picture picture, AlphaKind alpha, const Progress& progress) {
  switch (alpha) {
    case AlphaKind::Premultiplied:
      return picture;
    case AlphaKind::Straight:
      return withStraightAlpha(
          changed(std::move(picture), [](const Vec4& pixel) { return Vec4(Vec3(pixel), coverOf(pixel)); }),
          progress);
    case AlphaKind::OnBlack:
      return changed(std::move(picture), [](const Vec4& pixel) { return Vec4(Vec3(pixel), 1); });
    case AlphaKind::Opacity:
      return changed(std::move(picture), [](const Vec4& pixel) { return Vec4(coverOf(pixel)); });
  }
  return picture;
}

Picture withAlphaKind(const Picture& sheet, const FlipbookLayout& layout) {
  return wholePicture(storedColors(sheet, layout));
}

std::vector<FlipbookPart> flipbookParts(const Flipbook& book, const FlipbookLayout& layout) {
  std::vector<FlipbookPart> parts;
  parts.push_back({"color", "", "", storedColors(book.color, layout), layout.format, layout.channels(),
                   layout.colorEncoding()});
  for (const LightSheet& sheet : lightSheetsOf(book))
    parts.push_back({sheet.name, "", "",
                     cellRows(layout, [light = sheet.picture](
                                          int first, int count) { return light->rows(first, count); }),
                     layout.format, PictureChannels::Rgb, layout.lightEncoding()});
  for (const DataLayer layer : layout.ownSheets) parts.push_back(dataPart(layer, book, layout));
  if (layout.packing) parts.push_back(packedPart(*layout.packing, book, layout));
  if (layout.sheets() == 1) {
    for (FlipbookPart& part : parts) nameFiles(part, layout);
    return parts;
  }
  std::vector<FlipbookPart> pages;
  for (const FlipbookPart& part : parts)
    for (int sheet = 0; sheet < layout.sheets(); ++sheet) pages.push_back(pageOf(part, layout, sheet));
  return pages;
}

std::string describeFlipbook(const Flipbook& book, const FlipbookLayout& layout) {
  ordered_json root = {
      {"format", "tawny-comet-flipbook"},
      {"version", 1},
      {"name", layout.name},
      {"width", layout.width()},
      {"height", layout.sheets() > 1 ? layout.sheetHeight() : layout.height()},
      {"columns", layout.columns},
      {"rows", layout.allRows()},
      {"cell", {{"width", layout.cellWidth}, {"height", layout.cellHeight}, {"padding", layout.padding}}},
      {"order", kCellOrderNames[static_cast<std::size_t>(layout.order)]},
      {"frames_per_second", layout.framesPerSecond},
      {"frame_range", {{"first", layout.firstFrame}, {"last", layout.lastFrame}, {"step", layout.step}}},
      {"loop", {{"kind", kLoopNames[static_cast<std::size_t>(layout.loop)]}}},
      {"alpha", kAlphaNames[static_cast<std::size_t>(layout.alpha)]},
      {"color_space", nameOf(layout.colorEncoding())},
      {"sample_type", sampleType(layout.format)}};
  setImages(root, layout, "color", layout.format, layout.channels());
  if (layout.loop == LoopKind::Exact) root["loop"]["verified"] = book.isExact;
  root["random_rotation"] = balanceOf(book).canRotate();
  if (const ordered_json layers = layersOf(book, layout); !layers.empty()) root["layers"] = layers;
  if (book.losses.any())
    root["losses"] = {{"births_refused", book.losses.refused}, {"particles_lost", book.losses.lost}};
  if (layout.variants.size() > 1) root["variants"] = variantsOf(layout);
  root["cells"] = cellsOf(layout);
  return root.dump(2) + "\n";
}

}  // namespace comet
