#include "io/texture.h"

#include <algorithm>
#include <bit>
#include <initializer_list>
#include <string>

namespace comet {
namespace {

static_assert(std::endian::native == std::endian::little, "The file's numbers begin with their lowest byte.");

constexpr std::string_view kIdentifier("\xABKTX 20\xBB\r\n\x1A\n", 12);
constexpr std::size_t kHeaderBytes = 80, kLevelBytes = 24;

// Numbers of the formats in the graphics interface's list, for linear samples; those of colours follow each.
std::uint32_t formatNumber(BlockFormat format, PictureEncoding encoding) {
  const std::uint32_t isSrgb = encoding == PictureEncoding::Srgb ? 1 : 0;
  switch (format) {
    case BlockFormat::Bc1:
      return 131 + isSrgb;
    case BlockFormat::Bc3:
      return 137 + isSrgb;
    case BlockFormat::Bc4:
      return 139;
    case BlockFormat::Bc5:
      return 141;
    case BlockFormat::Astc4:
      return 157 + isSrgb;
    case BlockFormat::Astc6:
      return 165 + isSrgb;
  }
  return 0;
}

// Of the data format descriptor (Khronos Group, "Khronos Data Format Specification", version 1.3).
enum ColorModel : std::uint32_t { kBc1 = 128, kBc3 = 130, kBc4 = 131, kBc5 = 132, kAstc = 162 };
constexpr std::uint32_t kAlphaChannel = 15, kLinearSample = 16;

struct SampleRange {
  std::uint32_t bit, bits, channel;
};

struct Descriptor {
  ColorModel model;
  std::vector<SampleRange> samples;
};

Descriptor descriptorOf(BlockFormat format, bool isSrgb) {
  switch (format) {
    case BlockFormat::Bc1:
      return {kBc1, {{0, 64, 0}}};
    case BlockFormat::Bc3:
      return {kBc3, {{0, 64, kAlphaChannel | (isSrgb ? kLinearSample : 0)}, {64, 64, 0}}};
    case BlockFormat::Bc4:
      return {kBc4, {{0, 64, 0}}};
    case BlockFormat::Bc5:
      return {kBc5, {{0, 64, 0}, {64, 64, 1}}};
    case BlockFormat::Astc4:
    case BlockFormat::Astc6:
      return {kAstc, {{0, 128, 0}}};
  }
  return {};
}

class Bytes {
 public:
  template <typename Integer>
  void number(Integer value) {
    text_.append(reinterpret_cast<const char*>(&value), sizeof value);
  }
  void numbers(std::initializer_list<std::uint32_t> values) {
    for (const std::uint32_t value : values) number(value);
  }
  void append(std::string_view more) { text_.append(more); }
  void alignTo(std::size_t multiple) { text_.resize((text_.size() + multiple - 1) / multiple * multiple); }
  std::size_t size() const { return text_.size(); }
  std::string take() { return std::move(text_); }

 private:
  std::string text_;
};

std::string describedFormat(const Texture& texture) {
  const bool isSrgb = texture.encoding == PictureEncoding::Srgb;
  const BlockTraits& traits = traitsOf(texture.format);
  const Descriptor descriptor = descriptorOf(texture.format, isSrgb);
  const auto blockBytes = static_cast<std::uint32_t>(24 + 16 * descriptor.samples.size());
  constexpr std::uint32_t kBasic = 0, kVersion = 2, kPrimaries = 1;
  const std::uint32_t transfer = isSrgb ? 2 : 1, flags = texture.isPremultiplied ? 1 : 0;
  const auto side = static_cast<std::uint32_t>(traits.side - 1);
  Bytes bytes;
  bytes.numbers({blockBytes + 4, kBasic, kVersion | blockBytes << 16,
                 descriptor.model | kPrimaries << 8 | transfer << 16 | flags << 24, side | side << 8,
                 static_cast<std::uint32_t>(traits.bytes), 0});
  for (const SampleRange& sample : descriptor.samples)
    bytes.numbers({sample.bit | (sample.bits - 1) << 16 | sample.channel << 24, 0, 0, 0xFFFFFFFFU});
  return bytes.take();
}

// In the order of the names.
std::string keysAndValues() {
  Bytes bytes;
  for (const std::string_view entry :
       {std::string_view("KTXorientation\0rd\0", 18), std::string_view("KTXwriter\0Tawny Comet\0", 22)}) {
    bytes.number(static_cast<std::uint32_t>(entry.size()));
    bytes.append(entry);
    bytes.alignTo(4);
  }
  return bytes.take();
}

}  // namespace

std::string ktx2Of(const Texture& texture) {
  const std::string format = describedFormat(texture), values = keysAndValues();
  const std::size_t count = texture.levels.size();
  const std::size_t formatAt = kHeaderBytes + kLevelBytes * count, valuesAt = formatAt + format.size();
  const std::size_t block = traitsOf(texture.format).bytes;
  // Small levels come first, so that a reader has something to show early.
  std::vector<std::uint64_t> offsets(count);
  std::size_t end = valuesAt + values.size();
  for (std::size_t level = count; level-- > 0;) {
    end = (end + block - 1) / block * block;
    offsets[level] = end;
    end += texture.levels[level].size();
  }

  Bytes bytes;
  bytes.append(kIdentifier);
  // Number of the format, size of its units, width, height, depth, layers, faces, levels, no further packing.
  bytes.numbers({formatNumber(texture.format, texture.encoding), 1, static_cast<std::uint32_t>(texture.width),
                 static_cast<std::uint32_t>(texture.height), 0, 0, 1, static_cast<std::uint32_t>(count), 0});
  bytes.numbers({static_cast<std::uint32_t>(formatAt), static_cast<std::uint32_t>(format.size()),
                 static_cast<std::uint32_t>(valuesAt), static_cast<std::uint32_t>(values.size())});
  bytes.number(std::uint64_t{0});
  bytes.number(std::uint64_t{0});
  for (std::size_t level = 0; level < count; ++level) {
    const std::uint64_t size = texture.levels[level].size();
    bytes.number(offsets[level]);
    bytes.number(size);
    bytes.number(size);
  }
  bytes.append(format);
  bytes.append(values);
  for (std::size_t level = count; level-- > 0;) {
    bytes.alignTo(block);
    bytes.append({reinterpret_cast<const char*>(texture.levels[level].data()), texture.levels[level].size()});
  }
  return bytes.take();
}

}  // namespace comet
