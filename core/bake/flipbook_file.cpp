#include "bake/flipbook_file.h"

#include "bake/fill_outward.h"
#include "bake/flipbook_player.h"
#include "bake/seen.h"
#include "base/file.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

using nlohmann::ordered_json;

template <typename Change>
Picture changed(const Picture& picture, const Change& change) {
  Picture result = picture;
  for (int y = 0; y < result.height(); ++y)
    for (int x = 0; x < result.width(); ++x) result.at(x, y) = change(result.at(x, y));
  return result;
}

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

// Of one of several sheets, counted from 0, with its number.
std::string fileOf(const FlipbookLayout& layout, const std::string& layer, PictureFormat format,
                   int sheet = 0) {
  // An OpenEXR file has a part for each layer.
  return layout.name + (layer == "color" || isFloat(format) ? "" : "." + layer) +
         (layout.sheets() > 1 ? "." + std::to_string(sheet + 1) : "") + std::string(extensionOf(format));
}

// What says which files hold a layer.
void setImages(ordered_json& object, const FlipbookLayout& layout, const std::string& layer,
               PictureFormat format) {
  object["image"] = fileOf(layout, layer, format);
  if (isFloat(format)) object["part"] = layer;
  if (layout.sheets() == 1) return;
  object["images"] = ordered_json::array();
  for (int sheet = 0; sheet < layout.sheets(); ++sheet)
    object["images"].push_back(fileOf(layout, layer, format, sheet));
}

// The rows of a part that are on one of several sheets.
FlipbookPart pageOf(const FlipbookPart& part, const FlipbookLayout& layout, int sheet) {
  FlipbookPart page = part;
  page.file = fileOf(layout, part.layer, part.format, sheet);
  const int top = sheet * layout.sheetHeight();
  page.picture = Picture(layout.width(), layout.sheetHeight());
  for (int y = 0; y < std::min(layout.sheetHeight(), part.picture.height() - top); ++y)
    std::copy_n(part.picture.row(top + y), layout.width(), page.picture.row(y));
  return page;
}

bool isLinear(const FlipbookLayout& layout) {
  return isFloat(layout.format) || layout.encoding == PictureEncoding::Linear;
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
      return {in(PictureFormat::Png16), PictureChannels::Grey, "share_of_life", {"age"}};
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
SampleCode codeOf(DataLayer layer, const Flipbook& book) {
  const DataSheet& sheet = book.data.at(layer);
  if (!isSigned(layer)) {
    const double span = sheet.to > sheet.from ? sheet.to - sheet.from : 1;
    return {-sheet.from / span, span};
  }
  const MotionCode code = motionCode(layer == DataLayer::Motion ? book.layout.motion : MotionBits::Eight);
  return {code.zero, sheet.to / code.perRange};
}

// As their file holds them: floats are the values themselves.
SampleCode fileCodeOf(DataLayer layer, const Flipbook& book) {
  return isFloat(book.layout.format) ? SampleCode() : codeOf(layer, book);
}

FlipbookPart dataPart(DataLayer layer, const Flipbook& book) {
  const LayerTraits traits = traitsOf(layer, book.layout);
  const SampleCode code = fileCodeOf(layer, book);
  FlipbookPart part;
  part.layer = kLayerNames[static_cast<std::size_t>(layer)];
  part.format = traits.format;
  part.channels = traits.channels;
  part.channelNames = traits.channelNames;
  part.encoding = PictureEncoding::Linear;
  part.picture = changed(book.data.at(layer).values, [&](const Vec4& value) {
    Vec4 sample = value / static_cast<float>(code.scale) + static_cast<float>(code.zero);
    // How much is seen is no value.
    sample.w = value.w;
    if (layer == DataLayer::Motion) sample.z = value.w;
    return sample;
  });
  return part;
}

FlipbookPart packedPart(const Packing& packing, const Flipbook& book) {
  FlipbookPart part;
  part.layer = "packed";
  part.encoding = PictureEncoding::Linear;
  part.picture = Picture(book.color.width(), book.color.height());
  for (std::size_t i = 0; i < packing.size(); ++i) {
    const PackSource& source = *packing[i];
    const SampleCode code = source.layer ? codeOf(*source.layer, book) : SampleCode();
    const Picture& values = source.layer ? book.data.at(*source.layer).values : book.color;
    for (int y = 0; y < values.height(); ++y)
      for (int x = 0; x < values.width(); ++x)
        part.picture.at(x, y)[static_cast<int>(i)] =
            source.channel < 0 ? source.constant
                               : values.at(x, y)[source.channel] / static_cast<float>(code.scale) +
                                     static_cast<float>(code.zero);
  }
  return part;
}

ordered_json packedLayer(const Packing& packing, const Flipbook& book) {
  ordered_json layer = {{"sample_type", sampleType(PictureFormat::Png8)}};
  setImages(layer, book.layout, "packed", PictureFormat::Png8);
  for (std::size_t i = 0; i < packing.size(); ++i) {
    const SampleCode code = packing[i]->layer ? codeOf(*packing[i]->layer, book) : SampleCode();
    layer["channels"][std::string(kPackChannels[i])] = {
        {"holds", packing[i]->id}, {"zero", code.zero}, {"scale", code.scale}};
  }
  return layer;
}

ordered_json cellsOf(const Flipbook& book) {
  const FlipbookLayout& layout = book.layout;
  ordered_json cells = ordered_json::array();
  for (std::size_t i = 0; i < layout.cells.size(); ++i) {
    const CellPlan& plan = layout.cells[i];
    ordered_json cell = {
        {"x", layout.cellX(i)}, {"y", layout.cellY(i) % layout.sheetHeight()}, {"frame", plan.frame}};
    if (layout.sheets() > 1) cell["sheet"] = layout.cellY(i) / layout.sheetHeight();
    if (plan.fadedShare > 0) cell["fades_to"] = {{"frame", plan.fadesTo}, {"share", plan.fadedShare}};
    cells.push_back(std::move(cell));
  }
  return cells;
}

// Of the sheets beside the colours, by their names.
ordered_json layersOf(const Flipbook& book) {
  const FlipbookLayout& layout = book.layout;
  ordered_json layers = ordered_json::object();
  if (layout.glowApart) {
    layers["glow"] = {{"color_space", isLinear(layout) ? "linear" : "srgb"},
                      {"sample_type", sampleType(layout.format)}};
    setImages(layers["glow"], layout, "glow", layout.format);
  }
  for (const DataLayer layer : layout.ownSheets) {
    const LayerTraits traits = traitsOf(layer, layout);
    const SampleCode code = fileCodeOf(layer, book);
    const std::string name(kLayerNames[static_cast<std::size_t>(layer)]);
    layers[name] = {{"sample_type", sampleType(traits.format)},
                    {"unit", traits.unit},
                    {"zero", code.zero},
                    {"scale", code.scale}};
    setImages(layers[name], layout, name, traits.format);
  }
  if (layout.packing) layers["packed"] = packedLayer(*layout.packing, book);
  return layers;
}

// Each cell as a picture of its own.
void writeCells(const Flipbook& book, const std::filesystem::path& folder, const Progress& progress,
                std::vector<std::filesystem::path>& written) {
  const FlipbookLayout& layout = book.layout;
  const bool isLinearFile = isLinear(layout) || layout.alpha == AlphaKind::Opacity;
  for (std::size_t cell = 0; cell < layout.cells.size(); ++cell) {
    progress.stopIfCancelled();
    written.push_back(folder / fmt::format("{}.{:04}{}", layout.name, cell + 1, extensionOf(layout.format)));
    writePicture(written.back(), withAlphaKind(cellOf(book.color, layout, cell), layout.alpha), layout.format,
                 layout.channels(), isLinearFile ? PictureEncoding::Linear : PictureEncoding::Srgb);
  }
}

}  // namespace

MotionCode motionCode(MotionBits bits) {
  const double most = bits == MotionBits::Sixteen ? 65535 : 255;
  const double half = (most + 1) / 2;
  return {half / most, (half - 1) / most};
}

Picture withAlphaKind(const Picture& picture, AlphaKind alpha) {
  switch (alpha) {
    case AlphaKind::Premultiplied:
      return picture;
    case AlphaKind::Straight:
      return withStraightAlpha(
          changed(picture, [](const Vec4& pixel) { return Vec4(Vec3(pixel), coverOf(pixel)); }));
    case AlphaKind::OnBlack:
      return changed(picture, [](const Vec4& pixel) { return Vec4(Vec3(pixel), 1); });
    case AlphaKind::Opacity:
      return changed(picture, [](const Vec4& pixel) { return Vec4(coverOf(pixel)); });
  }
  return picture;
}

Picture withAlphaKind(const Picture& sheet, const FlipbookLayout& layout) {
  if (layout.alpha != AlphaKind::Straight) return withAlphaKind(sheet, layout.alpha);
  // Colours may not go on from one cell into another.
  Picture result(sheet.width(), sheet.height());
  for (std::size_t cell = 0; cell < layout.cells.size(); ++cell) {
    const int x = layout.cellX(cell), y = layout.cellY(cell);
    result.pasteReduced(withAlphaKind(cellOf(sheet, layout, cell), layout.alpha), 1, x, y);
    if (layout.padding > 0) bleedEdge(result, x, y, layout.cellWidth, layout.cellHeight, layout.padding);
    if (!layout.edgeBleed)
      for (int j = y - layout.padding; j < y + layout.cellHeight + layout.padding; ++j)
        for (int i = x - layout.padding; i < x + layout.cellWidth + layout.padding; ++i)
          if (i < x || j < y || i >= x + layout.cellWidth || j >= y + layout.cellHeight)
            result.at(i, j).w = 0;
  }
  return result;
}

std::vector<FlipbookPart> flipbookParts(const Flipbook& book) {
  const FlipbookLayout& layout = book.layout;
  const auto encoding = isLinear(layout) ? PictureEncoding::Linear : PictureEncoding::Srgb;
  std::vector<FlipbookPart> parts;
  parts.push_back({"color", "", withAlphaKind(book.color, layout), layout.format, layout.channels(),
                   layout.alpha == AlphaKind::Opacity ? PictureEncoding::Linear : encoding});
  if (!book.glow.empty())
    parts.push_back({"glow", "", book.glow, layout.format, PictureChannels::Rgb, encoding});
  for (const DataLayer layer : layout.ownSheets) parts.push_back(dataPart(layer, book));
  if (layout.packing) parts.push_back(packedPart(*layout.packing, book));
  if (layout.sheets() == 1) {
    for (FlipbookPart& part : parts) part.file = fileOf(layout, part.layer, part.format);
    return parts;
  }
  std::vector<FlipbookPart> pages;
  for (const FlipbookPart& part : parts)
    for (int sheet = 0; sheet < layout.sheets(); ++sheet) pages.push_back(pageOf(part, layout, sheet));
  return pages;
}

std::string describeFlipbook(const Flipbook& book) {
  const FlipbookLayout& layout = book.layout;
  ordered_json root = {
      {"format", "tawny-comet-flipbook"},
      {"version", 1},
      {"name", layout.name},
      {"width", layout.width()},
      {"height", layout.sheets() > 1 ? layout.sheetHeight() : layout.height()},
      {"columns", layout.columns},
      {"rows", layout.rows},
      {"cell", {{"width", layout.cellWidth}, {"height", layout.cellHeight}, {"padding", layout.padding}}},
      {"order", kOrderNames[static_cast<std::size_t>(layout.order)]},
      {"frames_per_second", layout.framesPerSecond},
      {"frame_range", {{"first", layout.firstFrame}, {"last", layout.lastFrame}, {"step", layout.step}}},
      {"loop", {{"kind", kLoopNames[static_cast<std::size_t>(layout.loop)]}}},
      {"alpha", kAlphaNames[static_cast<std::size_t>(layout.alpha)]},
      {"color_space", isLinear(layout) || layout.alpha == AlphaKind::Opacity ? "linear" : "srgb"},
      {"sample_type", sampleType(layout.format)}};
  setImages(root, layout, "color", layout.format);
  if (layout.loop == LoopKind::Exact) root["loop"]["verified"] = book.isExact;
  if (const ordered_json layers = layersOf(book); !layers.empty()) root["layers"] = layers;
  root["cells"] = cellsOf(book);
  return root.dump(2) + "\n";
}

std::vector<std::filesystem::path> writeFlipbook(const Flipbook& book, const std::filesystem::path& folder,
                                                 const Progress& progress) {
  makeFolder(folder);
  const FlipbookLayout& layout = book.layout;
  std::vector<std::filesystem::path> written;
  const std::vector<FlipbookPart> parts = flipbookParts(book);
  for (const FlipbookPart& part : parts) {
    progress.stopIfCancelled();
    const std::filesystem::path path = folder / part.file;
    if (std::find(written.begin(), written.end(), path) != written.end()) continue;
    written.push_back(path);
    if (!isFloat(part.format)) {
      writePicture(path, part.picture, part.format, part.channels, part.encoding);
      continue;
    }
    std::vector<PicturePart> together;
    for (const FlipbookPart& other : parts)
      if (other.file == part.file)
        together.push_back({other.layer, other.channelNames, other.channels, &other.picture});
    writePictureParts(path, together, part.format);
  }
  if (layout.asSequence) writeCells(book, folder, progress, written);
  if (layout.film) {
    written.push_back(folder / (layout.name + std::string(extensionOf(*layout.film))));
    const Video video{layout.cellWidth, layout.cellHeight, layout.framesPerSecond,
                      static_cast<int>(layout.cells.size()), [&book](int cell) {
                        return withAlphaKind(cellOf(book.color, book.layout, static_cast<std::size_t>(cell)),
                                             AlphaKind::Straight);
                      }};
    writeVideo(written.back(), video, *layout.film, progress);
  }
  if (layout.withPlayer) {
    written.push_back(folder / (layout.name + ".html"));
    writeFileAtomically(written.back(), flipbookPlayer(book));
  }
  written.push_back(folder / (layout.name + ".json"));
  writeFileAtomically(written.back(), describeFlipbook(book));
  return written;
}

}  // namespace comet
