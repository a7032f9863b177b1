#include "io/texture.h"

#include "base/file.h"
#include "base/parallel.h"
#include "support/files.h"
#include "support/ktx2.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <cmath>
#include <cstdlib>

namespace comet {
namespace {

namespace oiio = OIIO;

constexpr std::array kFormats{BlockFormat::Bc1, BlockFormat::Bc3,   BlockFormat::Bc4,
                              BlockFormat::Bc5, BlockFormat::Astc4, BlockFormat::Astc6};

enum class Alpha { Waves, Full };

// Soft waves in every channel, as of smoke.
ByteImage waves(int width, int height, Alpha alpha = Alpha::Waves) {
  ByteImage image{width, height, {}};
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x)
      for (const double phase : {0.0, 0.3, 0.6, 0.9})
        image.samples.push_back(static_cast<std::uint8_t>(
            std::lround(127 + 120 * std::sin(0.11 * x + phase) * std::cos(0.07 * y - phase))));
  for (std::size_t i = 3; alpha == Alpha::Full && i < image.samples.size(); i += 4) image.samples[i] = 255;
  return image;
}

double meanError(const ByteImage& a, const ByteImage& b, int channels) {
  double sum = 0;
  for (std::size_t i = 0; i < a.samples.size(); ++i)
    if (static_cast<int>(i % 4) < channels) sum += std::abs(static_cast<double>(a.samples[i]) - b.samples[i]);
  return 4 * sum / (static_cast<double>(a.samples.size()) * channels);
}

// What another decoder makes of BC blocks, given as the file that it knows.
std::vector<std::uint8_t> decodedElsewhere(const std::vector<std::uint8_t>& blocks, const ByteImage& image,
                                           const char* code, int& channels) {
  std::vector<std::uint32_t> header(32, 0);
  std::memcpy(&header[0], "DDS ", 4);
  header[1] = 124;
  header[2] = 0x81007;
  header[3] = static_cast<std::uint32_t>(image.height);
  header[4] = static_cast<std::uint32_t>(image.width);
  header[5] = static_cast<std::uint32_t>(blocks.size());
  header[19] = 32;
  header[20] = 4;
  std::memcpy(&header[21], code, 4);
  header[27] = 0x1000;
  std::string file(reinterpret_cast<const char*>(header.data()), 128);
  file.append(reinterpret_cast<const char*>(blocks.data()), blocks.size());
  const test::TemporaryFolder folder;
  writeFileAtomically(folder / "a.dds", file);
  const auto in = oiio::ImageInput::open((folder / "a.dds").string());
  EXPECT_TRUE(in) << oiio::geterror();
  if (!in) return {};
  channels = in->spec().nchannels;
  std::vector<std::uint8_t> samples(static_cast<std::size_t>(image.width) *
                                    static_cast<std::size_t>(image.height) *
                                    static_cast<std::size_t>(channels));
  EXPECT_TRUE(in->read_image(0, 0, 0, channels, oiio::TypeDesc::UINT8, samples.data()));
  return samples;
}

TEST(Texture, AnotherDecoderReadsTheSameFromBcBlocks) {
  struct Case {
    BlockFormat format;
    const char* code;
  };
  for (const auto& [format, code] : {Case{BlockFormat::Bc1, "DXT1"},
                                     {BlockFormat::Bc3, "DXT5"},
                                     {BlockFormat::Bc4, "ATI1"},
                                     {BlockFormat::Bc5, "ATI2"}}) {
    const ByteImage image = waves(64, 48, format == BlockFormat::Bc1 ? Alpha::Full : Alpha::Waves);
    const auto blocks = compressed(image, format, PictureEncoding::Linear, AlphaWeight::None);
    const ByteImage back = decoded(blocks, image.width, image.height, format, PictureEncoding::Linear);
    const int kept = traitsOf(format).channels;
    EXPECT_LT(meanError(back, image, kept), 3) << code;
    int channels = 0;
    const auto samples = decodedElsewhere(blocks, image, code, channels);
    ASSERT_GE(channels, kept) << code;
    for (std::size_t pixel = 0; pixel < samples.size() / static_cast<std::size_t>(channels); ++pixel)
      for (int c = 0; c < kept; ++c)
        // Decoders may round what lies between two colours differently.
        ASSERT_NEAR(samples[pixel * static_cast<std::size_t>(channels) + static_cast<std::size_t>(c)],
                    back.samples[4 * pixel + static_cast<std::size_t>(c)], 1)
            << code << ", pixel " << pixel << ", channel " << c;
  }
}

TEST(Texture, TheStandardProgramReadsTheSameFromAstcBlocks) {
  const ByteImage image = waves(64, 48);
  for (const BlockFormat format : {BlockFormat::Astc4, BlockFormat::Astc6}) {
    const auto blocks = compressed(image, format, PictureEncoding::Linear, AlphaWeight::None);
    const ByteImage back = decoded(blocks, image.width, image.height, format, PictureEncoding::Linear);
    EXPECT_LT(meanError(back, image, 4), format == BlockFormat::Astc4 ? 2 : 4);
    const auto side = static_cast<char>(traitsOf(format).side);
    std::string file{'\x13', '\xAB', '\xA1', '\x5C', side, side, 1};
    for (const int size : {image.width, image.height, 1}) file += {static_cast<char>(size), 0, 0};
    file.append(reinterpret_cast<const char*>(blocks.data()), blocks.size());
    const test::TemporaryFolder folder;
    writeFileAtomically(folder / "a.astc", file);
    ASSERT_EQ(std::system(("astcenc -dl '" + (folder / "a.astc").string() + "' '" +
                           (folder / "a.png").string() + "' > /dev/null")
                              .c_str()),
              0);
    oiio::ImageSpec asStored;
    asStored["oiio:UnassociatedAlpha"] = 1;
    const auto in = oiio::ImageInput::open((folder / "a.png").string(), &asStored);
    ASSERT_TRUE(in);
    ASSERT_EQ(in->spec().nchannels, 4);
    ByteImage read{image.width, image.height, std::vector<std::uint8_t>(image.samples.size())};
    ASSERT_TRUE(in->read_image(0, 0, 0, 4, oiio::TypeDesc::UINT8, read.samples.data()));
    EXPECT_EQ(read, back);
  }
}

TEST(Texture, WhatIsTheSameAllOverComesBackAsItWas) {
  ByteImage image{8, 8, {}};
  for (int i = 0; i < 64; ++i) image.samples.insert(image.samples.end(), {255, 0, 255, 255});
  for (const BlockFormat format : kFormats) {
    const auto blocks = compressed(image, format, PictureEncoding::Srgb, AlphaWeight::None);
    EXPECT_EQ(
        meanError(decoded(blocks, 8, 8, format, PictureEncoding::Srgb), image, traitsOf(format).channels), 0)
        << traitsOf(format).name;
  }
}

TEST(Texture, SizesNeedNoWholeBlocks) {
  const ByteImage image = waves(13, 7, Alpha::Full);
  for (const BlockFormat format : kFormats) {
    const auto blocks = compressed(image, format, PictureEncoding::Linear, AlphaWeight::None);
    EXPECT_EQ(blocks.size(), static_cast<std::size_t>(blocksAlong(13, format)) *
                                 static_cast<std::size_t>(blocksAlong(7, format)) * traitsOf(format).bytes);
    EXPECT_LT(
        meanError(decoded(blocks, 13, 7, format, PictureEncoding::Linear), image, traitsOf(format).channels),
        5)
        << traitsOf(format).name;
  }
}

TEST(Texture, ThreadsChangeNoBit) {
  const ByteImage image = waves(100, 90);
  for (const BlockFormat format : kFormats) {
    const auto all = compressed(image, format, PictureEncoding::Srgb, AlphaWeight::Straight);
    const ThreadLimit limit(1);
    EXPECT_EQ(compressed(image, format, PictureEncoding::Srgb, AlphaWeight::Straight), all);
  }
}

TEST(Texture, AFileHoldsToTheSpecification) {
  struct Case {
    BlockFormat format;
    PictureEncoding encoding;
    std::uint32_t number, model;
  };
  // From the tables of the graphics interface and of the data format specification.
  for (const auto& [format, encoding, number, model] :
       {Case{BlockFormat::Bc1, PictureEncoding::Srgb, 132, 128},
        {BlockFormat::Bc3, PictureEncoding::Srgb, 138, 130},
        {BlockFormat::Bc3, PictureEncoding::Linear, 137, 130},
        {BlockFormat::Bc4, PictureEncoding::Linear, 139, 131},
        {BlockFormat::Bc5, PictureEncoding::Linear, 141, 132},
        {BlockFormat::Astc4, PictureEncoding::Srgb, 158, 162},
        {BlockFormat::Astc6, PictureEncoding::Linear, 165, 162}}) {
    Texture texture{format, 48, 96, encoding, true, {}};
    for (int level = 0; level < 3; ++level) {
      texture.levels.push_back(
          compressed(waves(48 >> level, 96 >> level), format, encoding, AlphaWeight::None));
    }
    const test::Ktx2 read = test::readKtx2(ktx2Of(texture));
    EXPECT_EQ(read.format, number);
    EXPECT_EQ(read.colorModel, model);
    EXPECT_EQ(read.transfer, encoding == PictureEncoding::Srgb ? 2U : 1U);
    EXPECT_EQ(read.flags, 1U) << "alpha is premultiplied";
    EXPECT_EQ(read.width, 48U);
    EXPECT_EQ(read.height, 96U);
    ASSERT_EQ(read.levels.size(), 3U);
    for (std::size_t level = 0; level < 3; ++level)
      EXPECT_EQ(read.levels[level], std::string(texture.levels[level].begin(), texture.levels[level].end()));
  }
}

}  // namespace
}  // namespace comet
