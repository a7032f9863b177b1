#include "io/texture.h"

#include "base/error.h"
#include "base/stoppable.h"

#include <algorithm>
#include <array>
#include <astcenc.h>
#include <memory>
#include <squish.h>

namespace comet {
namespace {

constexpr std::size_t kPixelBytes = 4;

bool isAstc(BlockFormat format) { return format == BlockFormat::Astc4 || format == BlockFormat::Astc6; }

int squishFlags(BlockFormat format) {
  switch (format) {
    case BlockFormat::Bc1:
      return squish::kDxt1;
    case BlockFormat::Bc4:
      return squish::kBc4;
    case BlockFormat::Bc5:
      return squish::kBc5;
    default:
      return squish::kDxt5;
  }
}

std::size_t blockBytes(int width, int height, BlockFormat format) {
  return static_cast<std::size_t>(blocksAlong(width, format)) *
         static_cast<std::size_t>(blocksAlong(height, format)) * traitsOf(format).bytes;
}

// The rows of pixels that a row of blocks holds, for each of them: from(first, count, blocks).
template <typename Blocks, typename Work>
void forBlockRows(int width, int height, BlockFormat format, Blocks* blocks, const Progress& progress,
                  const Work& work) {
  const int side = traitsOf(format).side;
  const std::size_t rowBytes = blockBytes(width, side, format);
  stoppableFor(static_cast<std::size_t>(blocksAlong(height, format)), progress, [&](std::size_t row) {
    const int first = static_cast<int>(row) * side;
    work(first, std::min(side, height - first), blocks + row * rowBytes);
  });
}

// What the blocks of a row hold, of channels that are kept each by itself: the library decodes such blocks
// only where alpha is kept.
void decodeChannels(const std::uint8_t* blocks, int width, int count, int channels, std::uint8_t* out) {
  constexpr int kSide = 4;
  constexpr std::size_t kHalf = 8;
  std::array<std::uint8_t, 2 * kHalf> block{};
  std::array<std::uint8_t, kPixelBytes * kSide * kSide> pixels{};
  for (int left = 0; left < width; left += kSide)
    for (int channel = 0; channel < channels; ++channel, blocks += kHalf) {
      std::copy_n(blocks, kHalf, block.begin());
      squish::Decompress(pixels.data(), block.data(), squish::kDxt5);
      for (int y = 0; y < count; ++y)
        for (int x = 0; x < std::min(kSide, width - left); ++x)
          out[kPixelBytes * static_cast<std::size_t>(y * width + left + x) +
              static_cast<std::size_t>(channel)] =
              pixels[kPixelBytes * static_cast<std::size_t>(y * kSide + x) + 3];
    }
  for (int i = 0; i < width * count; ++i) out[kPixelBytes * static_cast<std::size_t>(i) + 3] = 255;
}

// A state of the library for one image.
class AstcContext {
 public:
  AstcContext(BlockFormat format, PictureEncoding encoding, AlphaWeight alpha, unsigned threads) {
    const auto side = static_cast<unsigned>(traitsOf(format).side);
    astcenc_config config{};
    const unsigned flags = alpha == AlphaWeight::Straight ? ASTCENC_FLG_USE_ALPHA_WEIGHT : 0;
    check(astcenc_config_init(encoding == PictureEncoding::Srgb ? ASTCENC_PRF_LDR_SRGB : ASTCENC_PRF_LDR,
                              side, side, 1, ASTCENC_PRE_MEDIUM, flags, &config));
    astcenc_context* made = nullptr;
    check(astcenc_context_alloc(&config, threads, &made));
    context_.reset(made);
  }

  astcenc_context* get() const { return context_.get(); }

  static void check(astcenc_error error) {
    if (error != ASTCENC_SUCCESS)
      throw Error(
          ErrorKind::Write, "",
          std::string("the texture could not be compressed (") + astcenc_get_error_string(error) + ")");
  }

 private:
  struct Free {
    void operator()(astcenc_context* context) const { astcenc_context_free(context); }
  };
  std::unique_ptr<astcenc_context, Free> context_;
};

constexpr astcenc_swizzle kAsTheyAre{ASTCENC_SWZ_R, ASTCENC_SWZ_G, ASTCENC_SWZ_B, ASTCENC_SWZ_A};

// The image's rows as the library wants them.
struct AstcImage {
  AstcImage(int width, int height, void* samples)
      : slice(samples),
        image{static_cast<unsigned>(width), static_cast<unsigned>(height), 1, ASTCENC_TYPE_U8, &slice} {}
  AstcImage(const AstcImage&) = delete;
  AstcImage& operator=(const AstcImage&) = delete;

  void* slice;
  astcenc_image image;
};

// Any of so many threads may come, each takes blocks until there are none left, and each block comes out the
// same whoever takes it.
template <typename Work>
void byAllThreads(unsigned threads, const Work& work) {
  std::vector<astcenc_error> errors(threads, ASTCENC_SUCCESS);
  parallelForEqual(threads, [&](std::size_t i) { errors[i] = work(static_cast<unsigned>(i)); });
  for (const astcenc_error error : errors) AstcContext::check(error);
}

}  // namespace

const BlockTraits& traitsOf(BlockFormat format) {
  static constexpr std::array<BlockTraits, 6> kTraits{{{"bc1", 4, 8, 3},
                                                       {"bc3", 4, 16, 4},
                                                       {"bc4", 4, 8, 1},
                                                       {"bc5", 4, 16, 2},
                                                       {"astc_4x4", 4, 16, 4},
                                                       {"astc_6x6", 6, 16, 4}}};
  return kTraits[static_cast<std::size_t>(format)];
}

int blocksAlong(int pixels, BlockFormat format) {
  const int side = traitsOf(format).side;
  return (pixels + side - 1) / side;
}

std::vector<std::uint8_t> compressed(const ByteImage& image, BlockFormat format, PictureEncoding encoding,
                                     AlphaWeight alpha, const Progress& progress) {
  std::vector<std::uint8_t> blocks(blockBytes(image.width, image.height, format));
  if (isAstc(format)) {
    const auto threads = static_cast<unsigned>(threadCount());
    const AstcContext context(format, encoding, alpha, threads);
    // The library does not change what it compresses. NOLINTNEXTLINE(cppcoreguidelines-pro-type-const-cast)
    AstcImage from(image.width, image.height, const_cast<std::uint8_t*>(image.samples.data()));
    byAllThreads(threads, [&](unsigned thread) {
      return astcenc_compress_image(context.get(), &from.image, &kAsTheyAre, blocks.data(), blocks.size(),
                                    thread);
    });
    progress.stopIfCancelled();
    return blocks;
  }
  const int flags = squishFlags(format) | (alpha == AlphaWeight::Straight ? squish::kWeightColourByAlpha : 0);
  const std::size_t rowBytes = kPixelBytes * static_cast<std::size_t>(image.width);
  forBlockRows(image.width, image.height, format, blocks.data(), progress,
               [&](int first, int count, std::uint8_t* out) {
                 squish::CompressImage(image.samples.data() + static_cast<std::size_t>(first) * rowBytes,
                                       image.width, count, out, flags);
               });
  return blocks;
}

ByteImage decoded(const std::vector<std::uint8_t>& blocks, int width, int height, BlockFormat format,
                  PictureEncoding encoding) {
  ByteImage image{width, height,
                  std::vector<std::uint8_t>(kPixelBytes * static_cast<std::size_t>(width) *
                                            static_cast<std::size_t>(height))};
  if (isAstc(format)) {
    const auto threads = static_cast<unsigned>(threadCount());
    const AstcContext context(format, encoding, AlphaWeight::None, threads);
    AstcImage to(width, height, image.samples.data());
    byAllThreads(threads, [&](unsigned thread) {
      return astcenc_decompress_image(context.get(), blocks.data(), blocks.size(), &to.image, &kAsTheyAre,
                                      thread);
    });
    return image;
  }
  const std::size_t rowBytes = kPixelBytes * static_cast<std::size_t>(width);
  forBlockRows(width, height, format, blocks.data(), {}, [&](int first, int count, const std::uint8_t* from) {
    std::uint8_t* to = image.samples.data() + static_cast<std::size_t>(first) * rowBytes;
    if (format == BlockFormat::Bc4 || format == BlockFormat::Bc5)
      decodeChannels(from, width, count, traitsOf(format).channels, to);
    else
      squish::DecompressImage(to, width, count, from, squishFlags(format));
  });
  return image;
}

}  // namespace comet
