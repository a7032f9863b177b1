#include "bake/flipbook_file.h"

#include "bake/fill_outward.h"
#include "base/file.h"

#include <algorithm>
#include <array>
#include <cmath>
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

// Light that covers nothing counts as covering as much as it is bright.
Vec4 withCover(const Vec4& pixel) {
  const float brightest = std::max({pixel.x, pixel.y, pixel.z});
  return Vec4(Vec3(pixel), std::max(pixel.w, std::min(1.0F, brightest)));
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

std::string fileOf(const FlipbookLayout& layout, const std::string& layer, PictureFormat format) {
  return layout.name + (layer == "color" ? "" : "." + layer) + std::string(extensionOf(format));
}

bool isLinear(const FlipbookLayout& layout) {
  return isFloat(layout.format) || layout.encoding == PictureEncoding::Linear;
}

PictureFormat motionFormat(const FlipbookLayout& layout) {
  return layout.motion == MotionBits::Sixteen ? PictureFormat::Png16 : PictureFormat::Png8;
}

FlipbookPart motionPart(const Flipbook& book) {
  const MotionCode code = motionCode(book.layout.motion);
  FlipbookPart part;
  part.layer = "motion";
  part.format = motionFormat(book.layout);
  part.channels = PictureChannels::Rgb;
  part.encoding = PictureEncoding::Linear;
  part.picture = changed(book.motion.values, [&](const Vec4& value) {
    const Vec2 share = Vec2(value) / static_cast<float>(book.motion.to);
    return Vec4(static_cast<float>(code.zero) + share * static_cast<float>(code.perRange), value.w, 1);
  });
  return part;
}

// Sixteen bits in any case: the values are there to be computed with.
FlipbookPart dataPart(const DataSheet& sheet, const char* layer) {
  FlipbookPart part;
  part.layer = layer;
  part.format = PictureFormat::Png16;
  part.channels = PictureChannels::Grey;
  part.encoding = PictureEncoding::Linear;
  const auto from = static_cast<float>(sheet.from), span = static_cast<float>(sheet.to - sheet.from);
  part.picture = changed(sheet.values, [from, span](const Vec4& value) {
    return Vec4(span > 0 ? (value.x - from) / span : 0.0F);
  });
  return part;
}

ordered_json cellsOf(const Flipbook& book) {
  const FlipbookLayout& layout = book.layout;
  ordered_json cells = ordered_json::array();
  for (std::size_t i = 0; i < layout.cells.size(); ++i) {
    const CellPlan& plan = layout.cells[i];
    ordered_json cell = {{"x", layout.cellX(i)}, {"y", layout.cellY(i)}, {"frame", plan.frame}};
    if (plan.fadedShare > 0) cell["fades_to"] = {{"frame", plan.fadesTo}, {"share", plan.fadedShare}};
    cells.push_back(std::move(cell));
  }
  return cells;
}

// Of the sheets beside the colours, by their names.
ordered_json layersOf(const Flipbook& book) {
  const FlipbookLayout& layout = book.layout;
  ordered_json layers = ordered_json::object();
  if (layout.glowApart)
    layers["glow"] = {{"image", fileOf(layout, "glow", layout.format)},
                      {"color_space", isLinear(layout) ? "linear" : "srgb"},
                      {"sample_type", sampleType(layout.format)}};
  if (layout.motion != MotionBits::None) {
    const PictureFormat format = motionFormat(layout);
    const MotionCode code = motionCode(layout.motion);
    layers["motion"] = {{"image", fileOf(layout, "motion", format)},
                        {"sample_type", sampleType(format)},
                        {"unit", "pixels_to_the_next_cell"},
                        {"zero", code.zero},
                        {"scale", book.motion.to / code.perRange}};
  }
  const auto addData = [&](bool isWanted, const char* name, const char* unit, const DataSheet& sheet) {
    if (isWanted)
      layers[name] = {{"image", fileOf(layout, name, PictureFormat::Png16)},
                      {"sample_type", sampleType(PictureFormat::Png16)},
                      {"unit", unit},
                      {"from", sheet.from},
                      {"to", sheet.to}};
  };
  addData(layout.withDepth, "depth", "scene_units_from_the_viewer", book.depth);
  addData(layout.withAge, "age", "share_of_life", book.age);
  return layers;
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
      return withStraightAlpha(changed(picture, withCover));
    case AlphaKind::OnBlack:
      return changed(picture, [](const Vec4& pixel) { return Vec4(Vec3(pixel), 1); });
    case AlphaKind::Opacity:
      return changed(picture, [](const Vec4& pixel) { return Vec4(withCover(pixel).w); });
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
  if (!book.motion.values.empty()) parts.push_back(motionPart(book));
  if (!book.depth.values.empty()) parts.push_back(dataPart(book.depth, "depth"));
  if (!book.age.values.empty()) parts.push_back(dataPart(book.age, "age"));
  for (FlipbookPart& part : parts) part.file = fileOf(layout, part.layer, part.format);
  return parts;
}

std::string describeFlipbook(const Flipbook& book) {
  const FlipbookLayout& layout = book.layout;
  ordered_json root = {
      {"format", "tawny-comet-flipbook"},
      {"version", 1},
      {"name", layout.name},
      {"image", fileOf(layout, "color", layout.format)},
      {"width", layout.width()},
      {"height", layout.height()},
      {"columns", layout.columns},
      {"rows", layout.rows},
      {"cell", {{"width", layout.cellWidth}, {"height", layout.cellHeight}, {"padding", layout.padding}}},
      {"order", "rows_from_top_left"},
      {"frames_per_second", layout.framesPerSecond},
      {"frame_range", {{"first", layout.firstFrame}, {"last", layout.lastFrame}, {"step", layout.step}}},
      {"loop", {{"kind", kLoopNames[static_cast<std::size_t>(layout.loop)]}}},
      {"alpha", kAlphaNames[static_cast<std::size_t>(layout.alpha)]},
      {"color_space", isLinear(layout) || layout.alpha == AlphaKind::Opacity ? "linear" : "srgb"},
      {"sample_type", sampleType(layout.format)}};
  if (layout.loop == LoopKind::Exact) root["loop"]["verified"] = book.isExact;
  if (const ordered_json layers = layersOf(book); !layers.empty()) root["layers"] = layers;
  root["cells"] = cellsOf(book);
  return root.dump(2) + "\n";
}

std::vector<std::filesystem::path> writeFlipbook(const Flipbook& book, const std::filesystem::path& folder) {
  makeFolder(folder);
  std::vector<std::filesystem::path> written;
  for (const FlipbookPart& part : flipbookParts(book)) {
    written.push_back(folder / part.file);
    writePicture(written.back(), part.picture, part.format, part.channels, part.encoding);
  }
  written.push_back(folder / (book.layout.name + ".json"));
  writeFileAtomically(written.back(), describeFlipbook(book));
  return written;
}

}  // namespace comet
