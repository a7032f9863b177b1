#include "io/picture_file.h"

#include "base/error.h"
#include "base/file.h"
#include "base/gradient.h"
#include "base/parallel.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <vector>

namespace comet {
namespace {

namespace oiio = OIIO;

int channelCount(PictureChannels channels) { return channels == PictureChannels::Rgba ? 4 : 3; }

template <typename Integer>
Integer quantise(float value) {
  constexpr float kLargest = static_cast<float>(std::numeric_limits<Integer>::max());
  return static_cast<Integer>(std::lround(std::clamp(value, 0.0F, 1.0F) * kLargest));
}

template <typename Sample, typename Encode>
std::vector<Sample> samplesOf(const Picture& picture, int channels, const Encode& encode) {
  std::vector<Sample> samples(picture.pixels().size() * static_cast<std::size_t>(channels));
  parallelFor(static_cast<std::size_t>(picture.height()), [&](std::size_t y) {
    const Vec4* row = picture.row(static_cast<int>(y));
    Sample* out = samples.data() + y * static_cast<std::size_t>(picture.width() * channels);
    for (int x = 0; x < picture.width(); ++x)
      for (int c = 0; c < channels; ++c) *out++ = encode(row[x][c], c);
  });
  return samples;
}

template <typename Integer>
std::vector<Integer> srgbSamples(const Picture& picture, int channels) {
  return samplesOf<Integer>(picture, channels, [](float value, int channel) {
    return quantise<Integer>(channel < 3 ? static_cast<float>(encodeSrgb(value)) : value);
  });
}

oiio::ImageSpec specFor(const Picture& picture, PictureFormat format, int channels) {
  const oiio::TypeDesc type = format == PictureFormat::Png8    ? oiio::TypeDesc::UINT8
                              : format == PictureFormat::Png16 ? oiio::TypeDesc::UINT16
                                                               : oiio::TypeDesc::HALF;
  oiio::ImageSpec spec(picture.width(), picture.height(), channels, type);
  spec.attribute("Software", "Tawny Comet");
  if (format == PictureFormat::ExrHalf) {
    spec.attribute("oiio:ColorSpace", "Linear");
    spec.attribute("compression", "piz");
  } else {
    spec.attribute("oiio:ColorSpace", "sRGB");
    // Low effort: the files are a third larger and written ten times as fast.
    spec.attribute("png:compressionLevel", 1);
    spec.attribute("png:filter", 0x10);  // "sub"
    // Stored as given: without this the library would divide by alpha.
    if (channels == 4) spec.attribute("oiio:UnassociatedAlpha", 1);
  }
  return spec;
}

[[noreturn]] void refuse(const std::string& problem) {
  throw Error(ErrorKind::Write, "", "the picture could not be encoded (" + problem + ")");
}

}  // namespace

std::string_view extensionOf(PictureFormat format) {
  return format == PictureFormat::ExrHalf ? ".exr" : ".png";
}

std::string encodePicture(const Picture& picture, PictureFormat format, PictureChannels channels) {
  const int count = channelCount(channels);
  std::vector<unsigned char> bytes;
  oiio::Filesystem::IOVecOutput memory(bytes);
  const std::string name = "picture" + std::string(extensionOf(format));
  const auto output = oiio::ImageOutput::create(name, &memory);
  if (!output) refuse(oiio::geterror());
  if (!output->open(name, specFor(picture, format, count))) refuse(output->geterror());
  bool done = false;
  switch (format) {
    case PictureFormat::Png8:
      done = output->write_image(oiio::TypeDesc::UINT8, srgbSamples<std::uint8_t>(picture, count).data());
      break;
    case PictureFormat::Png16:
      done = output->write_image(oiio::TypeDesc::UINT16, srgbSamples<std::uint16_t>(picture, count).data());
      break;
    case PictureFormat::ExrHalf:
      done = output->write_image(
          oiio::TypeDesc::FLOAT,
          samplesOf<float>(picture, count, [](float value, int) { return value; }).data());
      break;
  }
  if (!done || !output->close()) refuse(output->geterror());
  return {bytes.begin(), bytes.end()};
}

void writePicture(const std::filesystem::path& path, const Picture& picture, PictureFormat format,
                  PictureChannels channels) {
  try {
    writeFileAtomically(path, encodePicture(picture, format, channels));
  } catch (const Error& error) {
    if (!error.place().empty()) throw;
    throw error.within(path.string());
  }
}

}  // namespace comet
