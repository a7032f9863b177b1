// Flipbooks as files: pictures, and the text that describes them to a game.
#pragma once

#include "bake/bake_sheet.h"

#include <filesystem>
#include <string>
#include <vector>

namespace comet {

// The values to store of a picture that is a sheet, or of one cell: alpha as the kind asks for. With straight
// alpha, light that covers nothing (additive sprites) becomes coverage, since straight alpha cannot hold it,
// and colours go on beyond the edges. Opacity alone is in all channels.
// Throws Error(Cancelled).
Picture withAlphaKind(Picture picture, AlphaKind alpha, const Progress& progress = {});
// Of a whole sheet, each cell for itself.
Picture withAlphaKind(const Picture& sheet, const FlipbookLayout& layout);

// A picture that a flipbook is written as.
struct FlipbookPart {
  std::string layer;  // "color", "glow", "packed" or one of kLayerNames
  std::string file;
  std::string textureFile;  // empty if there is none
  PictureRows rows;         // a row of cells at once; made of the flipbook, which has to outlive it
  PictureFormat format = PictureFormat::Png8;
  PictureChannels channels = PictureChannels::Rgba;
  PictureEncoding encoding = PictureEncoding::Srgb;
  std::vector<std::string> channelNames{};  // in an OpenEXR file; empty for those of colours
};

// All that belong to the flipbook, as they are stored. The colours come first. `layout` is the book's, or
// stores it in another way.
std::vector<FlipbookPart> flipbookParts(const Flipbook& book, const FlipbookLayout& layout);

// The text of the file that describes the flipbook to a game; docs/flipbook.schema.json is its schema.
std::string describeFlipbook(const Flipbook& book, const FlipbookLayout& layout);

// Writes NAME.png (or .tga, .tif; .exr with a part for each sheet), NAME.LAYER.png for each further sheet,
// and NAME.json, into a folder that is made if need be; if the layout asks for them also the cells as
// NAME.0001.png and on (NAME.01.0001.png if there are several variants), a video, and a page that plays it.
// Files are written at the same time, each row of cells after row of cells, so that little is needed beside
// the book; they replace earlier ones together, once all are there. Returns their paths, the colours' first
// and the description's last. Throws Error(Write), and Error(Cancelled); then all files are as they were.
std::vector<std::filesystem::path> writeFlipbook(const Flipbook& book, const std::filesystem::path& folder,
                                                 const Progress& progress = {});

// How a motion vector is stored: `zero` is a whole number of steps, so that what stands still stays where it
// is. Values are fractions of the largest number that a sample holds.
struct MotionCode {
  double zero = 0, perRange = 0;
};
MotionCode motionCode(MotionBits bits);

}  // namespace comet
