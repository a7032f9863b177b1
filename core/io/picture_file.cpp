#include "io/picture_file.h"

#include "base/error.h"
#include "base/file.h"
#include "base/gradient.h"
#include "base/parallel.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <fmt/format.h>
#include <unistd.h>
#include <vector>

namespace comet {
namespace {

namespace oiio = OIIO;

int channelCount(PictureChannels channels) {
  return channels == PictureChannels::Rgba ? 4 : channels == PictureChannels::Rgb ? 3 : 1;
}

template <typename Integer>
Integer quantise(float value) {
  constexpr float kLargest = static_cast<float>(std::numeric_limits<Integer>::max());
  return static_cast<Integer>(std::lround(std::clamp(value, 0.0F, 1.0F) * kLargest));
}

template <typename Sample, typename Encode>
std::vector<Sample> samplesOf(const PictureView& picture, int channels, const Encode& encode) {
  const std::size_t rowSize = static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(channels);
  std::vector<Sample> samples(rowSize * static_cast<std::size_t>(picture.height));
  parallelFor(static_cast<std::size_t>(picture.height), [&](std::size_t y) {
    const Vec4* row = picture.row(static_cast<int>(y));
    Sample* out = samples.data() + y * rowSize;
    for (int x = 0; x < picture.width; ++x)
      for (int c = 0; c < channels; ++c) *out++ = encode(row[x][c], c);
  });
  return samples;
}

template <typename Integer>
std::vector<Integer> wholeSamples(const PictureView& picture, int channels, PictureEncoding encoding) {
  const bool isColor = encoding == PictureEncoding::Srgb && channels >= 3;
  return samplesOf<Integer>(picture, channels, [isColor](float value, int channel) {
    return quantise<Integer>(isColor && channel < 3 ? static_cast<float>(encodeSrgb(value)) : value);
  });
}

// What the library calls a format, and how it stores a value.
struct FormatTraits {
  const char* extension;
  oiio::TypeDesc::BASETYPE type;
};

const FormatTraits& traitsOf(PictureFormat format) {
  static const std::array<FormatTraits, 6> kTraits{{{".png", oiio::TypeDesc::UINT8},
                                                    {".png", oiio::TypeDesc::UINT16},
                                                    {".tga", oiio::TypeDesc::UINT8},
                                                    {".tif", oiio::TypeDesc::UINT16},
                                                    {".exr", oiio::TypeDesc::HALF},
                                                    {".exr", oiio::TypeDesc::FLOAT}}};
  return kTraits[static_cast<std::size_t>(format)];
}

oiio::ImageSpec specFor(const PictureRows& rows, PictureFormat format, int channels,
                        PictureEncoding encoding) {
  oiio::ImageSpec spec(rows.width, rows.height, channels, traitsOf(format).type);
  spec.attribute("Software", "Tawny Comet");
  spec.attribute("oiio:ColorSpace",
                 isFloat(format) || encoding == PictureEncoding::Linear ? "Linear" : "sRGB");
  if (isFloat(format)) {
    spec.attribute("compression", "piz");
    return spec;
  }
  // Low effort: the files are a third larger and written ten times as fast.
  spec.attribute("png:compressionLevel", 1);
  spec.attribute("png:filter", 0x10);  // "sub"
  if (format == PictureFormat::Tiff16) spec.attribute("compression", "zip");
  if (format == PictureFormat::Tga8) spec.attribute("compression", "rle");
  // Stored as given: without this the library would divide by alpha.
  if (channels == 4) spec.attribute("oiio:UnassociatedAlpha", 1);
  return spec;
}

constexpr std::int64_t kMostPixels = std::int64_t{64} << 20;
constexpr std::size_t kLargestFile = std::size_t{1} << 30;

// Where each of red, green, blue and alpha is among the channels of a file; -1 for an alpha that is not
// there.
std::array<int, 4> channelPlaces(const oiio::ImageSpec& spec) {
  if (spec.nchannels >= 3) return {0, 1, 2, spec.alpha_channel};
  return {0, 0, 0, spec.nchannels == 2 ? 1 : -1};
}

Picture linearPicture(const oiio::ImageSpec& spec, const std::vector<float>& samples) {
  const bool areFloats =
      spec.format.basetype == oiio::TypeDesc::HALF || spec.format.basetype == oiio::TypeDesc::FLOAT;
  const std::array<int, 4> places = channelPlaces(spec);
  Picture picture(spec.width, spec.height);
  parallelFor(static_cast<std::size_t>(spec.height), [&](std::size_t y) {
    Vec4* out = picture.row(static_cast<int>(y));
    const float* in = samples.data() + y * static_cast<std::size_t>(spec.width) * spec.nchannels;
    for (int x = 0; x < spec.width; ++x, in += spec.nchannels) {
      Vec4 pixel(in[places[0]], in[places[1]], in[places[2]], places[3] < 0 ? 1.0F : in[places[3]]);
      for (int c = 0; c < 4; ++c) {
        if (!std::isfinite(pixel[c])) pixel[c] = 0;
        if (!areFloats && c < 3) pixel[c] = static_cast<float>(decodeSrgb(pixel[c]));
      }
      out[x] = areFloats ? pixel : Vec4(Vec3(pixel) * pixel.w, pixel.w);
    }
  });
  return picture;
}

Picture decodePicture(oiio::ImageInput& input) {
  const oiio::ImageSpec spec = input.spec();
  if (spec.width < 1 || spec.height < 1 || spec.nchannels < 1 || spec.depth > 1)
    refuseInput("", "holds no flat picture");
  if (spec.width > kLargestSide || spec.height > kLargestSide ||
      static_cast<std::int64_t>(spec.width) * spec.height > kMostPixels)
    refuseInput("",
                fmt::format("is {} × {} pixels, but {} a side and {} million in all are the most", spec.width,
                            spec.height, kLargestSide, kMostPixels >> 20),
                "Make it smaller");
  std::vector<float> samples(static_cast<std::size_t>(spec.width) * spec.height * spec.nchannels);
  if (!input.read_image(0, 0, 0, spec.nchannels, oiio::TypeDesc::FLOAT, samples.data()))
    refuseInput("", "is damaged or cut short (" + input.geterror() + ")", "Export the picture again");
  return linearPicture(spec, samples);
}

// So that colours come as they are stored: they are decoded before they are multiplied with alpha.
oiio::ImageSpec readingHints() {
  oiio::ImageSpec hints;
  hints.attribute("oiio:UnassociatedAlpha", 1);
  return hints;
}

[[noreturn]] void refuse(const std::string& problem) {
  throw Error(ErrorKind::Write, "", "the picture could not be encoded (" + problem + ")");
}

// Hands rows, which begin at `top`, to a file of the library's that is open.
bool writeSamples(oiio::ImageOutput& output, const PictureView& picture, int top, PictureFormat format,
                  int channels, PictureEncoding encoding) {
  const int bottom = top + picture.height;
  const oiio::TypeDesc::BASETYPE type = traitsOf(format).type;
  switch (type) {
    case oiio::TypeDesc::UINT8:
      return output.write_scanlines(top, bottom, 0, type,
                                    wholeSamples<std::uint8_t>(picture, channels, encoding).data());
    case oiio::TypeDesc::UINT16:
      return output.write_scanlines(top, bottom, 0, type,
                                    wholeSamples<std::uint16_t>(picture, channels, encoding).data());
    default:
      return output.write_scanlines(
          top, bottom, 0, oiio::TypeDesc::FLOAT,
          samplesOf<float>(picture, channels, [](float value, int) { return value; }).data());
  }
}

// All rows, so few at once that it can soon be stopped.
bool writeRows(oiio::ImageOutput& output, const PictureRows& rows, PictureFormat format, int channels,
               PictureEncoding encoding, const Progress& progress) {
  constexpr int kPixelsAtOnce = 1 << 18;  // take the slowest format less than a tenth of a second
  const int few = std::max(1, kPixelsAtOnce / rows.width);
  for (int step = 0; step < rows.steps(); ++step) {
    progress.step(step, rows.steps());
    const int first = step * rows.atOnce;
    const Picture made = rows.make(first, std::min(rows.atOnce, rows.height - first));
    for (int y = 0; y < made.height(); y += few) {
      progress.stopIfCancelled();
      const PictureView piece{made.row(y), made.width(), std::min(few, made.height() - y), made.width()};
      if (!writeSamples(output, piece, first + y, format, channels, encoding)) return false;
    }
  }
  return true;
}

template <typename Write>
std::string encodedInMemory(const oiio::ImageSpec& spec, PictureFormat format, const Write& write) {
  std::vector<unsigned char> bytes;
  oiio::Filesystem::IOVecOutput memory(bytes);
  const std::string name = "picture" + std::string(traitsOf(format).extension);
  const auto output = oiio::ImageOutput::create(name, &memory);
  if (!output) refuse(oiio::geterror());
  if (!output->open(name, spec) || !write(*output) || !output->close()) refuse(output->geterror());
  return {bytes.begin(), bytes.end()};
}

// What `fill` puts into a file of the name that it is given. For writers that go back to what they have
// written, which the library's memory output does not hold: TIFF, and OpenEXR of several parts.
template <typename Fill>
std::string throughFile(const std::string& extension, const Fill& fill) {
  std::string name = (std::filesystem::temp_directory_path() / "picture-XXXXXX").string() + extension;
  const int made = mkstemps(name.data(), static_cast<int>(extension.size()));
  if (made < 0) refuse("no temporary file can be made");
  close(made);
  struct Remover {
    const std::string& path;
    ~Remover() {
      std::error_code ignored;
      std::filesystem::remove(path, ignored);
    }
  } const remover{name};
  const auto output = oiio::ImageOutput::create(name);
  if (!output) refuse(oiio::geterror());
  if (!fill(*output, name) || !output->close()) refuse(output->geterror());
  return readFile(name, kLargestFile);
}

// Puts what `encode` makes into a file.
template <typename Encode>
void writeEncoded(const std::filesystem::path& path, const Encode& encode) {
  try {
    writeFileAtomically(path, encode());
  } catch (const Error& error) {
    throw error.place().empty() && error.kind() != ErrorKind::Cancelled ? error.within(path.string()) : error;
  }
}

}  // namespace

std::string_view extensionOf(PictureFormat format) { return traitsOf(format).extension; }

bool isFloat(PictureFormat format) {
  return format == PictureFormat::ExrHalf || format == PictureFormat::ExrFloat;
}

PictureRows rowsOf(const Picture& picture) {
  return {picture.width(), picture.height(), std::max(1, picture.height()),
          [&picture](int first, int count) { return picture.rows(first, count); }};
}

Picture wholePicture(const PictureRows& rows) {
  Picture picture = Picture::unset(rows.width, rows.height);
  for (int first = 0; first < rows.height; first += rows.atOnce)
    picture.pasteReduced(rows.make(first, std::min(rows.atOnce, rows.height - first)), 1, 0, first);
  return picture;
}

std::string encodePicture(const PictureRows& rows, PictureFormat format, PictureChannels channels,
                          PictureEncoding encoding, const Progress& progress) {
  if (rows.width < 1 || rows.height < 1) refuse("it is empty");
  const int count = channelCount(channels);
  const oiio::ImageSpec spec = specFor(rows, format, count, encoding);
  const auto write = [&](oiio::ImageOutput& output) {
    return writeRows(output, rows, format, count, encoding, progress);
  };
  if (format != PictureFormat::Tiff16) return encodedInMemory(spec, format, write);
  return throughFile(traitsOf(format).extension, [&](oiio::ImageOutput& output, const std::string& name) {
    return output.open(name, spec) && write(output);
  });
}

Picture readPicture(const std::filesystem::path& path) {
  const oiio::ImageSpec hints = readingHints();
  try {
    requireReadable(path, kLargestFile);
    const auto input = oiio::ImageInput::open(path.string(), &hints);
    if (!input)
      refuseInput("", "is not a picture that can be read (" + oiio::geterror() + ")", "Use PNG or OpenEXR");
    return decodePicture(*input);
  } catch (const Error& error) {
    throw error.place().empty() ? error.within(path.string()) : error;
  }
}

Picture pictureFromBytes(std::string_view bytes, const std::string& name) {
  oiio::ImageSpec hints = readingHints();
  try {
    oiio::Filesystem::IOMemReader memory(bytes.data(), bytes.size());
    // Handed over among the hints too, or a reader with hints goes to the disk.
    oiio::Filesystem::IOProxy* proxy = &memory;
    hints.attribute("oiio:ioproxy", oiio::TypeDesc::PTR, &proxy);
    const auto input = oiio::ImageInput::open(name, &hints, proxy);
    if (!input) refuseInput("", "is not a picture that can be read (" + oiio::geterror() + ")");
    return decodePicture(*input);
  } catch (const Error& error) {
    throw error.within(name);
  }
}

void writePicture(const std::filesystem::path& path, const PictureRows& rows, PictureFormat format,
                  PictureChannels channels, PictureEncoding encoding, const Progress& progress) {
  writeEncoded(path, [&] { return encodePicture(rows, format, channels, encoding, progress); });
}

void writePicture(const std::filesystem::path& path, const Picture& picture, PictureFormat format,
                  PictureChannels channels, PictureEncoding encoding) {
  writePicture(path, rowsOf(picture), format, channels, encoding, {});
}

void writePictureParts(const std::filesystem::path& path, const std::vector<PicturePart>& parts,
                       PictureFormat format, const Progress& progress) {
  std::vector<oiio::ImageSpec> specs;
  for (const PicturePart& part : parts) {
    specs.push_back(specFor(part.rows, format, channelCount(part.channels), PictureEncoding::Linear));
    specs.back().attribute("oiio:subimagename", part.name);
    if (!part.channelNames.empty()) specs.back().channelnames = part.channelNames;
  }
  const auto fill = [&](oiio::ImageOutput& output, const std::string& name) {
    for (std::size_t i = 0; i < parts.size(); ++i) {
      const bool isOpen = i == 0 ? output.open(name, static_cast<int>(specs.size()), specs.data())
                                 : output.open(name, specs[i], oiio::ImageOutput::AppendSubimage);
      if (!isOpen || !writeRows(output, parts[i].rows, format, channelCount(parts[i].channels),
                                PictureEncoding::Linear, progress))
        return false;
    }
    return true;
  };
  writeEncoded(path, [&] { return throughFile(traitsOf(format).extension, fill); });
}

}  // namespace comet
