// Pictures as files.
//
// Files of whole numbers hold sRGB-encoded colours unless asked otherwise, OpenEXR files linear ones. Values
// are stored as they are given: what their alpha means is for whoever made the picture to say (and for the
// flipbook's description to state).
#pragma once

#include "base/picture.h"
#include "base/progress.h"

#include <array>
#include <cstddef>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace comet {

enum class PictureFormat { Png8, Png16, Tga8, Tiff16, ExrHalf, ExrFloat };
// Grey is the picture's red.
enum class PictureChannels { Grey, Rgb, Rgba };
// How colours are stored in whole numbers; alpha is always linear, and so is grey.
enum class PictureEncoding { Srgb, Linear };

// Four samples of a byte for each pixel, red, green, blue and alpha, in rows from top to bottom without gaps.
struct ByteImage {
  int width = 0, height = 0;
  std::vector<std::uint8_t> samples;

  bool operator==(const ByteImage&) const = default;
};
// What files of eight bits hold: grey is in all colours, and an alpha that is not kept is full.
ByteImage byteImage(const PictureView& picture, PictureChannels channels, PictureEncoding encoding);

// With its dot.
std::string_view extensionOf(PictureFormat format);
// Whether values are kept as floats, in linear light whatever the encoding.
bool isFloat(PictureFormat format);

// A picture whose rows are made as they are asked for, from top to bottom: a large one need never be there as
// a whole.
struct PictureRows {
  int width = 0, height = 0;
  int atOnce = 1;  // so many are made together; fewer at the end
  int steps() const { return (height + atOnce - 1) / atOnce; }
  // `count` rows from `first` on, as a picture of their own. Called from any thread, by one at a time.
  std::function<Picture(int first, int count)> make;
};

// Of a picture, which has to outlive them.
PictureRows rowsOf(const Picture& picture);
// All rows together.
Picture wholePicture(const PictureRows& rows);

// The file's bytes, of any format but TIFF. A step of the progress is what is made at once. Throws
// Error(Write) if the library cannot encode the picture, and Error(Cancelled).
std::string encodePicture(const PictureRows& rows, PictureFormat format, PictureChannels channels,
                          PictureEncoding encoding = PictureEncoding::Srgb, const Progress& progress = {});

// Throws as encodePicture does; no partial file is left.
void writePicture(const std::filesystem::path& path, const PictureRows& rows, PictureFormat format,
                  PictureChannels channels, PictureEncoding encoding = PictureEncoding::Srgb,
                  const Progress& progress = {});
void writePicture(const std::filesystem::path& path, const Picture& picture, PictureFormat format,
                  PictureChannels channels, PictureEncoding encoding = PictureEncoding::Srgb);

// A part of an OpenEXR file.
struct PicturePart {
  std::string name;
  std::vector<std::string> channelNames;  // empty for R, G, B, A or Y
  PictureChannels channels = PictureChannels::Rgba;
  PictureRows rows;
};

// One OpenEXR file of several parts; readers that know of none read the first. Throws as encodePicture does;
// no partial file is left.
void writePictureParts(const std::filesystem::path& path, const std::vector<PicturePart>& parts,
                       PictureFormat format, const Progress& progress = {});

constexpr int kLargestSide = 16384;

// How the samples of a picture's file are laid out.
struct PictureLayout {
  enum class Sample : std::uint8_t { Byte, Short, Half, Float };

  int width = 0, height = 0, channels = 0;
  int rowsAtOnce = 1;  // that are best decoded together
  Sample sample = Sample::Byte;
  // Where red, green, blue and alpha are among the channels; -1 for an alpha that is not there.
  std::array<int, 4> places{};

  std::size_t bytesOf(int rows) const;
  // Whether it may be that of a picture within the limits.
  bool isPossible() const;
};

// The samples of PNG, JPEG, TGA, TIFF and OpenEXR files.
class PictureDecoder {
 public:
  // The bytes must outlive it; the name says by its extension what kind they are. Throws Error(Input),
  // without a place: not a picture, or more than kLargestSide pixels a side or 64 million in all.
  PictureDecoder(std::string_view bytes, const std::string& name);
  ~PictureDecoder();

  const PictureLayout& layout() const;
  // Rows from top to bottom, as many at once as the layout says, fewer at the end. Throws Error(Input) for a
  // file that is cut short.
  void rows(int first, int count, std::byte* samples);

 private:
  struct File;
  std::unique_ptr<File> file_;
};

// What the colours of whole numbers are: apart from alpha, as most files have them, or multiplied by it, so
// that they can shine without it.
enum class StoredAlpha : std::uint8_t { Straight, Premultiplied };

// Linear light with premultiplied alpha, from the samples that `rows` gives, from top to bottom. Those of
// whole numbers are taken as sRGB, those of floats as linear and premultiplied.
using SampleRows = std::function<const std::byte*(int first, int count)>;
Picture pictureFrom(const PictureLayout& layout, const SampleRows& rows,
                    StoredAlpha alpha = StoredAlpha::Straight);

// The whole picture of a file's bytes. For files that come from elsewhere there is FileReader. Throws as
// PictureDecoder does, with the name as the place.
Picture pictureFromBytes(std::string_view bytes, const std::string& name,
                         StoredAlpha alpha = StoredAlpha::Straight);

}  // namespace comet
