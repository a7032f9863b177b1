// Pictures as graphics processors keep them: in blocks of a fixed size, each of which is decoded by itself.
//
// All functions may be called from any thread, and use all threads.
#pragma once

#include "base/progress.h"
#include "io/picture_file.h"

#include <cstddef>
#include <cstdint>
#include <string_view>
#include <vector>

namespace comet {

// BC is what desktop machines and consoles read, ASTC what phones do.
enum class BlockFormat : std::uint8_t { Bc1, Bc3, Bc4, Bc5, Astc4, Astc6 };

struct BlockTraits {
  std::string_view name;  // as in descriptions of flipbooks
  int side;               // pixels
  std::size_t bytes;      // of a block
  int channels;           // that are kept
};
const BlockTraits& traitsOf(BlockFormat format);

// How many blocks lie along so many pixels.
int blocksAlong(int pixels, BlockFormat format);

// Whether colours have to stay clean where there is no alpha: with premultiplied ones nothing is seen of
// them.
enum class AlphaWeight : std::uint8_t { None, Straight };

// The blocks in rows from top to bottom. Of BC4 the red is kept, of BC5 red and green; BC1
// wants full alpha. `encoding` is that of
// the samples, by which ASTC weighs errors. Throws Error(Cancelled), and Error(Write) if there is not enough
// memory.
std::vector<std::uint8_t> compressed(const ByteImage& image, BlockFormat format, PictureEncoding encoding,
                                     AlphaWeight alpha, const Progress& progress = {});

// What a graphics processor reads of them; channels that are not kept are 0, and alpha is full.
ByteImage decoded(const std::vector<std::uint8_t>& blocks, int width, int height, BlockFormat format,
                  PictureEncoding encoding);

// A texture with its mip levels, as a KTX 2.0 file holds it (Khronos Group, "KTX File Format Specification",
// version 2.0).
struct Texture {
  BlockFormat format = BlockFormat::Bc3;
  int width = 0, height = 0;
  PictureEncoding encoding = PictureEncoding::Srgb;
  bool isPremultiplied = false;
  std::vector<std::vector<std::uint8_t>> levels;  // the largest first, each half as large as the one before
};

// The bytes of the file.
std::string ktx2Of(const Texture& texture);

}  // namespace comet
