#include "bake/flipbook_texture.h"

#include "bake/seen.h"
#include "base/color.h"
#include "base/parallel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace comet {
namespace {

AlphaWeight weightOf(const FlipbookPart& part, const FlipbookLayout& layout) {
  return part.layer == "color" && layout.alpha == AlphaKind::Straight ? AlphaWeight::Straight
                                                                      : AlphaWeight::None;
}

// Half as large. Colours apart from alpha count as much as they cover.
Picture halved(const Picture& picture, AlphaWeight weight) {
  if (weight == AlphaWeight::None) return reduced(picture, 2);
  const Picture plain = reduced(picture, 2);
  Picture covered =
      reduced(changed(picture, [](const Vec4& pixel) { return Vec4(Vec3(pixel) * pixel.w, pixel.w); }), 2);
  for (int y = 0; y < covered.height(); ++y)
    for (int x = 0; x < covered.width(); ++x) {
      Vec4& pixel = covered.at(x, y);
      pixel = pixel.w > 0 ? Vec4(Vec3(pixel) / pixel.w, pixel.w) : plain.at(x, y);
    }
  return covered;
}

// The levels as samples, the largest first, made a row of cells at once.
std::vector<ByteImage> levelsOf(const FlipbookPart& part, const FlipbookLayout& layout, int count,
                                const Progress& progress) {
  std::vector<ByteImage> levels(static_cast<std::size_t>(count));
  for (int i = 0; i < count; ++i)
    levels[static_cast<std::size_t>(i)] = {part.rows.width >> i, part.rows.height >> i, {}};
  const AlphaWeight weight = weightOf(part, layout);
  for (int first = 0; first < part.rows.height; first += part.rows.atOnce) {
    Picture rows = part.rows.make(first, std::min(part.rows.atOnce, part.rows.height - first));
    for (std::size_t i = 0; i < levels.size(); ++i) {
      if (i > 0) rows = halved(rows, weight);
      const ByteImage samples = byteImage(viewOf(rows), part.channels, part.encoding);
      levels[i].samples.insert(levels[i].samples.end(), samples.samples.begin(), samples.samples.end());
    }
    progress.step(first / part.rows.atOnce, part.rows.steps());
  }
  return levels;
}

Texture textureOf(const std::vector<ByteImage>& levels, BlockFormat format, const FlipbookPart& part,
                  const FlipbookLayout& layout, const Progress& progress) {
  Texture texture;
  texture.format = format;
  texture.width = levels.front().width;
  texture.height = levels.front().height;
  texture.encoding = part.encoding;
  texture.isPremultiplied = part.layer == "color" && layout.alpha == AlphaKind::Premultiplied;
  for (const ByteImage& level : levels)
    texture.levels.push_back(compressed(level, format, part.encoding, weightOf(part, layout), progress));
  return texture;
}

// The sum of the squares of what differs, over one cell's first channels.
double squaredError(const ByteImage& a, const ByteImage& b, const FlipbookLayout& layout, std::size_t cell,
                    int channels) {
  double sum = 0;
  for (int y = layout.cellY(cell); y < layout.cellY(cell) + layout.cellHeight; ++y)
    for (int x = layout.cellX(cell); x < layout.cellX(cell) + layout.cellWidth; ++x) {
      const std::size_t at =
          4 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(a.width) + static_cast<std::size_t>(x));
      for (std::size_t c = 0; c < static_cast<std::size_t>(channels); ++c)
        sum += std::pow(static_cast<double>(a.samples[at + c]) - b.samples[at + c], 2);
    }
  return sum;
}

// Peak signal-to-noise ratio.
double decibels(double squaredError, double samples) {
  constexpr double kSame = 99;  // where nothing differs
  return squaredError > 0 ? std::min(kSame, 10 * std::log10(255 * 255 * samples / squaredError)) : kSame;
}

// In premultiplied linear light, from samples as they are stored.
Picture pictureOf(const ByteImage& image, const FlipbookPart& part, const FlipbookLayout& layout) {
  std::array<float, 256> value{};
  for (std::size_t i = 0; i < value.size(); ++i) {
    const double sample = static_cast<double>(i) / 255;
    value[i] = static_cast<float>(part.encoding == PictureEncoding::Srgb ? decodeSrgb(sample) : sample);
  }
  const bool isStraight = layout.alpha == AlphaKind::Straight,
             isGrey = part.channels == PictureChannels::Grey;
  Picture picture = Picture::unset(image.width, image.height);
  parallelFor(static_cast<std::size_t>(image.height), [&](std::size_t y) {
    const std::uint8_t* in = image.samples.data() + 4 * y * static_cast<std::size_t>(image.width);
    Vec4* out = picture.row(static_cast<int>(y));
    for (int x = 0; x < image.width; ++x, in += 4) {
      const float alpha = static_cast<float>(in[3]) / 255;
      if (isGrey)
        out[x] = Vec4(static_cast<float>(in[0]) / 255);
      else
        out[x] = Vec4(Vec3(value[in[0]], value[in[1]], value[in[2]]) * (isStraight ? alpha : 1.0F), alpha);
    }
  });
  return picture;
}

// With what the texture does not hold as the sheet has it: beside light over black what it covers, and beside
// opacity the colours.
Picture completed(Picture picture, const Flipbook& book) {
  const AlphaKind alpha = book.layout.alpha;
  if (alpha != AlphaKind::OnBlack && alpha != AlphaKind::Opacity) return picture;
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 0; x < picture.width(); ++x) {
      Vec4& pixel = picture.at(x, y);
      const Vec4& color = book.color.at(x, y);
      const float cover = coverOf(color);
      if (alpha == AlphaKind::OnBlack)
        pixel.w = color.w;
      else
        pixel = cover > 0 ? color * (pixel.w / cover) : Vec4(0.0F);
    }
  return picture;
}

}  // namespace

BlockFormat blockFormatOf(TextureCompression compression, std::string_view layer, PictureChannels channels) {
  if (compression == TextureCompression::Astc4) return BlockFormat::Astc4;
  if (compression == TextureCompression::Astc6) return BlockFormat::Astc6;
  if (layer == kLayerNames[static_cast<std::size_t>(DataLayer::Motion)] ||
      layer == kLayerNames[static_cast<std::size_t>(DataLayer::Normal)])
    return BlockFormat::Bc5;
  switch (channels) {
    case PictureChannels::Grey:
      return BlockFormat::Bc4;
    case PictureChannels::Rgb:
      return BlockFormat::Bc1;
    case PictureChannels::Rgba:
      return BlockFormat::Bc3;
  }
  return BlockFormat::Bc3;
}

int mipLevelsOf(const FlipbookLayout& layout, BlockFormat format) {
  const int wide = layout.cellWidth + 2 * layout.padding, high = layout.rowHeight();
  int levels = 1;
  for (int block = 2 * traitsOf(format).side; wide % block == 0 && high % block == 0; block *= 2) ++levels;
  return levels;
}

Texture textureOf(const FlipbookPart& part, const FlipbookLayout& layout, const Progress& progress) {
  const BlockFormat format = blockFormatOf(*layout.texture, part.layer, part.channels);
  return textureOf(levelsOf(part, layout, mipLevelsOf(layout, format), progress), format, part, layout,
                   progress);
}

TextureLook lookOfTexture(const Flipbook& book, const Progress& progress) {
  FlipbookLayout layout = book.layout;
  // Cells are looked at on one sheet, however many files hold them.
  layout.largestSheet = std::max(layout.width(), layout.height());
  const FlipbookPart part = flipbookParts(book, layout).front();
  const BlockFormat format = blockFormatOf(*layout.texture, part.layer, part.channels);
  const ByteImage stored = levelsOf(part, layout, 1, Progress(progress, {})).front();
  const Texture texture = textureOf({stored}, format, part, layout, Progress(progress, {}));
  const ByteImage back = decoded(texture.levels.front(), stored.width, stored.height, format, part.encoding);
  TextureLook look;
  look.format = format;
  look.levels = mipLevelsOf(layout, format);
  const int channels = part.channels == PictureChannels::Grey  ? 1
                       : part.channels == PictureChannels::Rgb ? 3
                                                               : 4;
  const double samples = static_cast<double>(channels) * layout.cellWidth * layout.cellHeight;
  double sum = 0;
  for (std::size_t cell = 0; cell < layout.cells.size(); ++cell) {
    const double error = squaredError(stored, back, layout, cell, channels);
    sum += error;
    look.cells.push_back(decibels(error, samples));
  }
  look.all = decibels(sum, samples * static_cast<double>(layout.cells.size()));
  look.picture = completed(pictureOf(back, part, layout), book);
  return look;
}

}  // namespace comet
