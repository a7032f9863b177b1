// Pictures as files.
//
// Files of whole numbers hold sRGB-encoded colours unless asked otherwise, OpenEXR files linear ones. Values
// are stored as they are given: what their alpha means is for whoever made the picture to say (and for the
// flipbook's description to state).
#pragma once

#include "base/picture.h"
#include "base/progress.h"

#include <filesystem>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace comet {

enum class PictureFormat { Png8, Png16, Tga8, Tiff16, ExrHalf, ExrFloat };
// Grey is the picture's red.
enum class PictureChannels { Grey, Rgb, Rgba };
// How colours are stored in whole numbers; alpha is always linear, and so is grey.
enum class PictureEncoding { Srgb, Linear };

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

// The file's bytes. A step of the progress is what is made at once. Throws Error(Write) if the library cannot
// encode the picture, and Error(Cancelled).
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

// PNG, JPEG, TGA, TIFF or OpenEXR as linear light with premultiplied alpha. Pictures of whole numbers are
// taken as sRGB with alpha apart from colour, those of floats as linear and premultiplied. Throws
// Error(Input): no such file, not a picture, cut short, or more than kLargestSide pixels a side or 64 million
// in all.
Picture readPicture(const std::filesystem::path& path);

// As above, from the bytes of a PNG file.
Picture pictureFromBytes(std::string_view bytes, const std::string& name);

}  // namespace comet
