#include "io/picture_file.h"

#include "base/error.h"
#include "base/gradient.h"
#include "base/random.h"
#include "support/files.h"
#include "support/read.h"

#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

namespace comet {
namespace {

// Colours over and under what a screen can show, and every alpha.
Picture anything(int width, int height) {
  const RandomSource random(4);
  Picture picture(width, height);
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x)
      for (int c = 0; c < 4; ++c)
        picture.at(x, y)[c] = static_cast<float>(
            random.unit(static_cast<std::uint64_t>((y * width + x) * 4 + c), Draw::Size) * (c < 3 ? 1.5 : 1));
  return picture;
}

std::vector<float> read(const std::filesystem::path& path, OIIO::ImageSpec& spec) {
  OIIO::ImageSpec asStored;
  asStored.attribute("oiio:UnassociatedAlpha", 1);
  const auto input = OIIO::ImageInput::open(path.string(), &asStored);
  if (!input) return {};
  spec = input->spec();
  std::vector<float> pixels(static_cast<std::size_t>(spec.width * spec.height * spec.nchannels));
  input->read_image(0, 0, 0, spec.nchannels, OIIO::TypeDesc::FLOAT, pixels.data());
  return pixels;
}

class PictureFile : public testing::TestWithParam<PictureFormat> {};

TEST_P(PictureFile, ComesBackWithinItsPrecision) {
  const test::TemporaryFolder folder;
  const Picture picture = anything(37, 23);  // odd sizes, so that rows cannot hide behind each other
  const auto path = folder / fmt::format("p{}", extensionOf(GetParam()));
  for (const PictureChannels channels : {PictureChannels::Rgb, PictureChannels::Rgba}) {
    writePicture(path, picture, GetParam(), channels);
    OIIO::ImageSpec spec;
    const auto pixels = read(path, spec);
    ASSERT_EQ(spec.width, 37);
    ASSERT_EQ(spec.height, 23);
    ASSERT_EQ(spec.nchannels, channels == PictureChannels::Rgb ? 3 : 4);
    for (int y = 0; y < 23; ++y)
      for (int x = 0; x < 37; ++x)
        for (int c = 0; c < spec.nchannels; ++c) {
          const double value = picture.at(x, y)[c];
          const bool linear = GetParam() == PictureFormat::ExrHalf;
          const double stored = linear ? value : std::min(1.0, c < 3 ? encodeSrgb(value) : value);
          // Half a step of the format; half floats have eleven bits.
          const double tolerance = linear                              ? value / 2048
                                   : GetParam() == PictureFormat::Png8 ? 0.501 / 255
                                                                       : 0.6 / 65535;
          ASSERT_NEAR(pixels[static_cast<std::size_t>((y * 37 + x) * spec.nchannels + c)], stored, tolerance);
        }
  }
}

INSTANTIATE_TEST_SUITE_P(All, PictureFile,
                         testing::Values(PictureFormat::Png8, PictureFormat::Png16, PictureFormat::ExrHalf),
                         [](const auto& made) {
                           return made.param == PictureFormat::Png8    ? "png8"
                                  : made.param == PictureFormat::Png16 ? "png16"
                                                                       : "exr";
                         });

TEST(PictureRows, MakeTheSameFileHoweverManyAreMadeAtOnce) {
  const Picture picture = anything(37, 23);
  PictureRows rows = rowsOf(picture);
  const test::TemporaryFolder folder;
  // As it is read again: an OpenEXR file also says when it was written.
  const auto written = [&](PictureFormat format) {
    const auto path = folder / fmt::format("p{}", extensionOf(format));
    writePicture(path, rows, format, PictureChannels::Rgba);
    return test::readPicture(path);
  };
  for (const PictureFormat format :
       {PictureFormat::Png8, PictureFormat::Png16, PictureFormat::Tga8, PictureFormat::Tiff16,
        PictureFormat::ExrHalf, PictureFormat::ExrFloat}) {
    rows.atOnce = 23;
    const Picture whole = written(format);
    rows.atOnce = 5;
    EXPECT_TRUE(written(format) == whole) << extensionOf(format);
  }
  EXPECT_EQ(wholePicture(rows), picture);
}

TEST(PictureRows, AreNotAskedForAnyMoreOnceItIsStopped) {
  const Picture picture = anything(37, 23);
  PictureRows rows = rowsOf(picture);
  rows.atOnce = 4;
  Progress progress;
  int made = 0;
  rows.make = [&](int first, int count) {
    if (++made == 2) progress.cancel();
    return picture.rows(first, count);
  };
  EXPECT_THROW(
      encodePicture(rows, PictureFormat::Png8, PictureChannels::Rgba, PictureEncoding::Srgb, progress),
      Error);
  EXPECT_EQ(made, 2);
}

TEST(PictureFileErrors, NameTheFile) {
  try {
    writePicture("/nowhere/at/all/p.png", anything(2, 2), PictureFormat::Png8, PictureChannels::Rgba);
    FAIL() << "no error";
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Write);
    EXPECT_NE(std::string(error.what()).find("/nowhere/at/all/p.png"), std::string::npos);
  }
}

TEST(PictureFileErrors, AnEmptyPictureIsRefused) {
  EXPECT_THROW(encodePicture(rowsOf(Picture()), PictureFormat::Png8, PictureChannels::Rgba), Error);
}

}  // namespace
}  // namespace comet
