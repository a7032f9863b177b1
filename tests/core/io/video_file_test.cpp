#include "io/video_file.h"

#include "base/color.h"
#include "base/file.h"
#include "support/files.h"

#include <cstring>
#include <gtest/gtest.h>

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
}

namespace comet {
namespace {

// A red square on nothing that moves to the right.
Video movingSquare(int frames) {
  return {32, 24, 12, frames, [](int index) {
            Picture picture(32, 24);
            for (int y = 8; y < 16; ++y)
              for (int x = 2 * index; x < 2 * index + 8; ++x) picture.at(x, y) = Vec4(0.5F, 0, 0, 0.75F);
            return picture;
          }};
}

// Read by the library's own demuxer and decoder: how many frames, and each as it comes.
template <typename Look>
int readBack(const std::filesystem::path& path, const char* decoder, const Look& look) {
  AVFormatContext* container = nullptr;
  EXPECT_GE(avformat_open_input(&container, path.c_str(), nullptr, nullptr), 0);
  EXPECT_GE(avformat_find_stream_info(container, nullptr), 0);
  const AVCodecParameters* stream = container->streams[0]->codecpar;
  const AVCodec* codec =
      decoder ? avcodec_find_decoder_by_name(decoder) : avcodec_find_decoder(stream->codec_id);
  AVCodecContext* context = avcodec_alloc_context3(codec);
  avcodec_parameters_to_context(context, stream);
  EXPECT_GE(avcodec_open2(context, codec, nullptr), 0);
  AVPacket* packet = av_packet_alloc();
  AVFrame* frame = av_frame_alloc();
  int frames = 0;
  const auto drain = [&] {
    while (avcodec_receive_frame(context, frame) >= 0) look(*frame, frames++);
  };
  while (av_read_frame(container, packet) >= 0) {
    avcodec_send_packet(context, packet);
    drain();
    av_packet_unref(packet);
  }
  avcodec_send_packet(context, nullptr);
  drain();
  av_frame_free(&frame);
  av_packet_free(&packet);
  avcodec_free_context(&context);
  avformat_close_input(&container);
  return frames;
}

TEST(VideoFile, AnAnimatedPngIsLossless) {
  const test::TemporaryFolder folder;
  writeVideo(folder / "a.apng", movingSquare(5), VideoFormat::AnimatedPng, Progress());
  const auto red = static_cast<int>(std::lround(255 * encodeSrgb(0.5)));
  const int frames = readBack(folder / "a.apng", nullptr, [&](const AVFrame& frame, int index) {
    ASSERT_EQ(frame.width, 32);
    ASSERT_EQ(frame.format, AV_PIX_FMT_RGBA);
    const std::uint8_t* inside = frame.data[0] + 12 * frame.linesize[0] + 4 * (2 * index + 3);
    EXPECT_EQ(inside[0], red);
    EXPECT_EQ(inside[3], 191);
    EXPECT_EQ(frame.data[0][3], 0) << "nothing in the corner";
  });
  EXPECT_EQ(frames, 5);
}

TEST(VideoFile, AVideoHasItsAlpha) {
  const test::TemporaryFolder folder;
  writeVideo(folder / "a.webm", movingSquare(6), VideoFormat::WebM, Progress());
  const int frames = readBack(folder / "a.webm", "libvpx-vp9", [](const AVFrame& frame, int index) {
    ASSERT_EQ(frame.format, AV_PIX_FMT_YUVA420P);
    EXPECT_NEAR(frame.data[3][12 * frame.linesize[3] + 2 * index + 3], 191, 8);
    EXPECT_NEAR(frame.data[3][0], 0, 4);
  });
  EXPECT_EQ(frames, 6);
}

TEST(VideoFile, CancelledOrUnwritableLeavesNothing) {
  const test::TemporaryFolder folder;
  Progress progress;
  progress.cancel();
  EXPECT_THROW(writeVideo(folder / "a.webm", movingSquare(3), VideoFormat::WebM, progress), Error);
  EXPECT_TRUE(std::filesystem::is_empty(folder.path()));
  EXPECT_THROW(writeVideo(folder / "none" / "a.webm", movingSquare(3), VideoFormat::WebM, Progress()), Error);
}

}  // namespace
}  // namespace comet
