#include "io/picture_file.h"

#include "base/error.h"
#include "base/file.h"
#include "base/file_set.h"
#include "base/gradient.h"
#include "base/parallel.h"

#include <Imath/half.h>
#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <fmt/format.h>
#include <limits>
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

[[noreturn]] void refusePicture(const std::string& problem) {
  throw Error(ErrorKind::Write, "", "the picture could not be encoded (" + problem + ")");
}

oiio::ImageSpec specFor(const PictureRows& rows, PictureFormat format, int channels,
                        PictureEncoding encoding) {
  if (rows.width < 1 || rows.height < 1) refusePicture("it is empty");
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

constexpr std::int64_t kMaxPixels = std::int64_t{64} << 20;
constexpr int kMaxChannels = 64;

std::array<int, 4> channelPlaces(const oiio::ImageSpec& spec) {
  if (spec.nchannels >= 3) return {0, 1, 2, spec.alpha_channel};
  return {0, 0, 0, spec.nchannels == 2 ? 1 : -1};
}

PictureLayout layoutOf(const oiio::ImageSpec& spec) {
  if (spec.width < 1 || spec.height < 1 || spec.nchannels < 1 || spec.depth > 1)
    refuseInput("", "holds no flat picture", "Export it as a plain picture");
  if (spec.width > kLargestSide || spec.height > kLargestSide ||
      static_cast<std::int64_t>(spec.width) * spec.height > kMaxPixels)
    refuseInput("",
                fmt::format("is {} × {} pixels, but may have {} a side and {} million in all", spec.width,
                            spec.height, kLargestSide, kMaxPixels >> 20),
                "Make it smaller");
  if (spec.nchannels > kMaxChannels)
    refuseInput("", fmt::format("has {} channels, more than {}", spec.nchannels, kMaxChannels),
                "Export colour and alpha alone");
  PictureLayout layout;
  layout.width = spec.width;
  layout.height = spec.height;
  layout.channels = spec.nchannels;
  layout.places = channelPlaces(spec);
  using Sample = PictureLayout::Sample;
  switch (spec.format.basetype) {
    case oiio::TypeDesc::UINT8:
      layout.sample = Sample::Byte;
      break;
    case oiio::TypeDesc::HALF:
      layout.sample = Sample::Half;
      break;
    case oiio::TypeDesc::FLOAT:
    case oiio::TypeDesc::DOUBLE:
      layout.sample = Sample::Float;
      break;
    default:
      layout.sample = Sample::Short;
  }
  // A band that stays in the processor's cache, whole rows of tiles if the file has tiles.
  constexpr std::size_t kBytesAtOnce = std::size_t{1} << 20;
  const int step = std::max(1, spec.tile_height);
  const auto fitting = static_cast<int>(kBytesAtOnce / layout.bytesOf(1));
  layout.rowsAtOnce = std::min(std::max(step, fitting / step * step), (spec.height + step - 1) / step * step);
  return layout;
}

// What a whole number stands for: colour in sRGB, or alpha.
template <typename Whole>
std::vector<float> decoded(bool isColor) {
  constexpr std::size_t kLargest = std::numeric_limits<Whole>::max();
  std::vector<float> table(kLargest + 1);
  for (std::size_t i = 0; i <= kLargest; ++i) {
    const double fraction = static_cast<double>(i) / kLargest;
    table[i] = static_cast<float>(isColor ? decodeSrgb(fraction) : fraction);
  }
  return table;
}

template <typename Whole>
void decodeRow(const PictureLayout& layout, StoredAlpha stored, const std::byte* bytes, Vec4* out) {
  static const std::vector<float> colors = decoded<Whole>(true), alphas = decoded<Whole>(false);
  const auto [r, g, b, a] = layout.places;
  const auto* in = reinterpret_cast<const Whole*>(bytes);
  for (int x = 0; x < layout.width; ++x, in += layout.channels) {
    const float alpha = a < 0 ? 1.0F : alphas[in[a]];
    const float part = stored == StoredAlpha::Straight ? alpha : 1;
    out[x] = Vec4(Vec3(colors[in[r]], colors[in[g]], colors[in[b]]) * part, alpha);
  }
}

template <typename Number>
void copyRow(const PictureLayout& layout, const std::byte* bytes, Vec4* out) {
  const auto* in = reinterpret_cast<const Number*>(bytes);
  for (int x = 0; x < layout.width; ++x, in += layout.channels)
    for (int c = 0; c < 4; ++c) {
      const int place = layout.places[static_cast<std::size_t>(c)];
      const float value = place < 0 ? 1.0F : static_cast<float>(in[place]);
      out[x][c] = std::isfinite(value) ? value : 0.0F;
    }
}

std::size_t sizeOf(PictureLayout::Sample sample) {
  constexpr std::array<std::size_t, 4> kSizes{1, 2, 2, 4};
  return kSizes[static_cast<std::size_t>(sample)];
}

oiio::TypeDesc typeOf(PictureLayout::Sample sample) {
  constexpr std::array<oiio::TypeDesc::BASETYPE, 4> kTypes{oiio::TypeDesc::UINT8, oiio::TypeDesc::UINT16,
                                                           oiio::TypeDesc::HALF, oiio::TypeDesc::FLOAT};
  return kTypes[static_cast<std::size_t>(sample)];
}

// So that colours come as they are stored: they are decoded before they are multiplied with alpha.
oiio::ImageSpec readingHints() {
  oiio::ImageSpec hints;
  hints.attribute("oiio:UnassociatedAlpha", 1);
  return hints;
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
  if (!output) refusePicture(oiio::geterror());
  if (!output->open(name, spec) || !write(*output) || !output->close()) refusePicture(output->geterror());
  return {bytes.begin(), bytes.end()};
}

// The problem is that of the file.
template <typename Write>
void writeNamed(const std::filesystem::path& path, const Write& write) {
  try {
    write();
  } catch (const Error& error) {
    throw error.place().empty() && error.kind() != ErrorKind::Cancelled ? error.within(path.string()) : error;
  }
}

// For writers that go back to what they have written, which the library's memory output does not hold: TIFF,
// and OpenEXR of several parts. `fill` puts the picture into a file of the name that it is given.
template <typename Fill>
void writeThroughLibrary(const std::filesystem::path& path, const Fill& fill) {
  writeNamed(path, [&] {
    FileSet file(path.parent_path());
    const std::string name = file.add(path.filename().string()).string();
    const auto output = oiio::ImageOutput::create(name);
    if (!output) refusePicture(oiio::geterror());
    file.write([&] {
      if (!fill(*output, name) || !output->close()) refusePicture(output->geterror());
    });
    static_cast<void>(file.keep());
  });
}

}  // namespace

std::string_view extensionOf(PictureFormat format) { return traitsOf(format).extension; }

bool isFloat(PictureFormat format) {
  return format == PictureFormat::ExrHalf || format == PictureFormat::ExrFloat;
}

ByteImage byteImage(const PictureView& picture, PictureChannels channels, PictureEncoding encoding) {
  constexpr std::uint8_t kFull = 255;
  const int kept = channelCount(channels);
  const std::vector<std::uint8_t> samples = wholeSamples<std::uint8_t>(picture, kept, encoding);
  if (kept == 4) return {picture.width, picture.height, samples};
  std::vector<std::uint8_t> all;
  all.reserve(4 * static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(picture.height));
  for (auto at = samples.begin(); at != samples.end(); at += kept)
    all.insert(all.end(), {at[0], at[kept > 1 ? 1 : 0], at[kept > 1 ? 2 : 0], kFull});
  return {picture.width, picture.height, std::move(all)};
}

PictureRows rowsOf(const Picture& picture) {
  // A large one is not to be there twice.
  constexpr int kPixelsAtOnce = 1 << 22;
  const int atOnce =
      std::clamp(kPixelsAtOnce / std::max(1, picture.width()), 1, std::max(1, picture.height()));
  return {picture.width(), picture.height(), atOnce,
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
  const int count = channelCount(channels);
  return encodedInMemory(specFor(rows, format, count, encoding), format, [&](oiio::ImageOutput& output) {
    return writeRows(output, rows, format, count, encoding, progress);
  });
}

std::size_t PictureLayout::bytesOf(int rows) const {
  return static_cast<std::size_t>(width) * static_cast<std::size_t>(channels) * sizeOf(sample) *
         static_cast<std::size_t>(rows);
}

bool PictureLayout::isPossible() const {
  const auto isIn = [](int number, int min, int max) { return number >= min && number <= max; };
  return isIn(width, 1, kLargestSide) && isIn(height, 1, kLargestSide) && isIn(channels, 1, kMaxChannels) &&
         static_cast<std::int64_t>(width) * height <= kMaxPixels && isIn(rowsAtOnce, 1, 2 * kLargestSide) &&
         sample <= Sample::Float &&
         std::all_of(places.begin(), places.begin() + 3, [&](int p) { return isIn(p, 0, channels - 1); }) &&
         isIn(places[3], -1, channels - 1);
}

struct PictureDecoder::File {
  explicit File(std::string_view bytes) : memory(bytes.data(), bytes.size()) {}

  oiio::Filesystem::IOMemReader memory;
  std::unique_ptr<oiio::ImageInput> input;
  PictureLayout layout;
};

PictureDecoder::PictureDecoder(std::string_view bytes, const std::string& name)
    : file_(std::make_unique<File>(bytes)) {
  oiio::ImageSpec hints = readingHints();
  // Named among the hints too, or a reader with hints goes to the disk.
  oiio::Filesystem::IOProxy* proxy = &file_->memory;
  hints.attribute("oiio:ioproxy", oiio::TypeDesc::PTR, &proxy);
  file_->input = oiio::ImageInput::open(name, &hints, proxy);
  if (!file_->input)
    refuseInput("", "is not a picture that can be read (" + oiio::geterror() + ")", "Use PNG or OpenEXR");
  file_->layout = layoutOf(file_->input->spec());
}

PictureDecoder::~PictureDecoder() = default;

const PictureLayout& PictureDecoder::layout() const { return file_->layout; }

void PictureDecoder::rows(int first, int count, std::byte* samples) {
  const oiio::ImageSpec& spec = file_->input->spec();
  const oiio::TypeDesc type = typeOf(file_->layout.sample);
  const int top = spec.y + first, bottom = top + count;
  const bool isRead =
      spec.tile_width > 0
          ? file_->input->read_tiles(0, 0, spec.x, spec.x + spec.width, top, bottom, 0, 1, 0, spec.nchannels,
                                     type, samples)
          : file_->input->read_scanlines(0, 0, top, bottom, 0, 0, spec.nchannels, type, samples);
  if (!isRead)
    refuseInput("", "is damaged or cut short (" + file_->input->geterror() + ")", "Export the picture again");
}

Picture pictureFrom(const PictureLayout& layout, const SampleRows& rows, StoredAlpha alpha) {
  Picture picture = Picture::unset(layout.width, layout.height);
  for (int first = 0; first < layout.height; first += layout.rowsAtOnce) {
    const int count = std::min(layout.rowsAtOnce, layout.height - first);
    const std::byte* samples = rows(first, count);
    parallelFor(static_cast<std::size_t>(count), [&](std::size_t y) {
      const std::byte* in = samples + y * layout.bytesOf(1);
      Vec4* out = picture.row(first + static_cast<int>(y));
      switch (layout.sample) {
        case PictureLayout::Sample::Byte:
          return decodeRow<std::uint8_t>(layout, alpha, in, out);
        case PictureLayout::Sample::Short:
          return decodeRow<std::uint16_t>(layout, alpha, in, out);
        case PictureLayout::Sample::Half:
          return copyRow<half>(layout, in, out);
        case PictureLayout::Sample::Float:
          return copyRow<float>(layout, in, out);
      }
    });
  }
  return picture;
}

Picture pictureFromBytes(std::string_view bytes, const std::string& name, StoredAlpha alpha) {
  try {
    PictureDecoder decoder(bytes, name);
    std::vector<std::byte> samples;
    const auto rows = [&](int first, int count) {
      samples.resize(decoder.layout().bytesOf(count));
      decoder.rows(first, count, samples.data());
      return samples.data();
    };
    return pictureFrom(decoder.layout(), rows, alpha);
  } catch (const Error& error) {
    throw error.within(name);
  }
}

void writePicture(const std::filesystem::path& path, const PictureRows& rows, PictureFormat format,
                  PictureChannels channels, PictureEncoding encoding, const Progress& progress) {
  if (format == PictureFormat::Tiff16) {
    const int count = channelCount(channels);
    return writeThroughLibrary(path, [&](oiio::ImageOutput& output, const std::string& name) {
      return output.open(name, specFor(rows, format, count, encoding)) &&
             writeRows(output, rows, format, count, encoding, progress);
    });
  }
  writeNamed(path,
             [&] { writeFileAtomically(path, encodePicture(rows, format, channels, encoding, progress)); });
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
  writeThroughLibrary(path, fill);
}

}  // namespace comet
