#include "io/video_file.h"

#include "base/color.h"
#include "base/error.h"
#include "base/file.h"
#include "base/parallel.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <memory>
#include <string>

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/opt.h>
#include <libswscale/swscale.h>
}

namespace comet {
namespace {

// Videos for review: small, but without visible faults.
constexpr const char* kQuality = "18";

struct Closer {
  void operator()(AVCodecContext* codec) const { avcodec_free_context(&codec); }
  void operator()(AVFormatContext* container) const { avformat_free_context(container); }
  void operator()(AVFrame* frame) const { av_frame_free(&frame); }
  void operator()(AVPacket* packet) const { av_packet_free(&packet); }
  void operator()(SwsContext* scaler) const { sws_freeContext(scaler); }
  void operator()(AVIOContext* output) const {
    av_freep(&output->buffer);
    avio_context_free(&output);
  }
};
template <typename Thing>
using Owned = std::unique_ptr<Thing, Closer>;

[[noreturn]] void refuseVideo(const std::string& problem) {
  throw Error(ErrorKind::Write, "", "the video could not be encoded (" + problem + ")");
}

void check(int result) {
  if (result >= 0) return;
  char text[AV_ERROR_MAX_STRING_SIZE] = {};
  av_strerror(result, text, sizeof text);
  refuseVideo(text);
}

template <typename Thing>
Owned<Thing> owned(Thing* made) {
  if (!made) refuseVideo("out of memory");
  return Owned<Thing>(made);
}

// What the container is written to; containers go back to fill in what they learn late.
struct Memory {
  std::string bytes;
  std::size_t at = 0;

  static int write(void* self, std::uint8_t* data, int size) {
    auto& memory = *static_cast<Memory*>(self);
    const auto count = static_cast<std::size_t>(size);
    memory.bytes.resize(std::max(memory.bytes.size(), memory.at + count));
    std::memcpy(memory.bytes.data() + memory.at, data, count);
    memory.at += count;
    return size;
  }
  static std::int64_t seek(void* self, std::int64_t offset, int whence) {
    auto& memory = *static_cast<Memory*>(self);
    if (whence == AVSEEK_SIZE) return static_cast<std::int64_t>(memory.bytes.size());
    const std::int64_t base = whence == SEEK_CUR   ? static_cast<std::int64_t>(memory.at)
                              : whence == SEEK_END ? static_cast<std::int64_t>(memory.bytes.size())
                                                   : 0;
    memory.at = static_cast<std::size_t>(std::max<std::int64_t>(0, base + offset));
    return static_cast<std::int64_t>(memory.at);
  }
};

class Encoder {
 public:
  Encoder(const Video& video, VideoFormat format) : format_(format) {
    const bool isWebM = format == VideoFormat::WebM;
    // Colour is stored for two by two pixels.
    width_ = isWebM ? std::max(2, video.width / 2 * 2) : video.width;
    height_ = isWebM ? std::max(2, video.height / 2 * 2) : video.height;
    AVFormatContext* container = nullptr;
    check(avformat_alloc_output_context2(&container, nullptr, isWebM ? "webm" : "apng", nullptr));
    container_.reset(container);
    constexpr int kBuffer = 1 << 16;
    output_.reset(avio_alloc_context(static_cast<unsigned char*>(av_malloc(kBuffer)), kBuffer, 1, &memory_,
                                     nullptr, Memory::write, Memory::seek));
    if (!output_) refuseVideo("out of memory");
    container_->pb = output_.get();
    openCodec(video);
    openStream();
  }

  void add(const Picture& picture, int index) {
    const std::vector<std::uint8_t> pixels = encoded(picture);
    check(av_frame_make_writable(frame_.get()));
    const std::uint8_t* source = pixels.data();
    const int stride = 4 * picture.width();
    sws_scale(scaler_.get(), &source, &stride, 0, height_, frame_->data, frame_->linesize);
    frame_->pts = index;
    check(avcodec_send_frame(codec_.get(), frame_.get()));
    writePackets();
  }

  std::string finish() {
    check(avcodec_send_frame(codec_.get(), nullptr));
    writePackets();
    check(av_write_trailer(container_.get()));
    avio_flush(output_.get());
    return std::move(memory_.bytes);
  }

 private:
  void openCodec(const Video& video) {
    const bool isWebM = format_ == VideoFormat::WebM;
    const AVCodec* kind =
        isWebM ? avcodec_find_encoder_by_name("libvpx-vp9") : avcodec_find_encoder(AV_CODEC_ID_APNG);
    if (!kind) refuseVideo("the encoder is missing");
    codec_ = owned(avcodec_alloc_context3(kind));
    codec_->width = width_;
    codec_->height = height_;
    codec_->pix_fmt = isWebM ? AV_PIX_FMT_YUVA420P : AV_PIX_FMT_RGBA;
    codec_->time_base = av_inv_q(av_d2q(video.framesPerSecond, 100000));
    codec_->framerate = av_d2q(video.framesPerSecond, 100000);
    codec_->colorspace = isWebM ? AVCOL_SPC_BT709 : AVCOL_SPC_RGB;
    codec_->color_primaries = AVCOL_PRI_BT709;
    codec_->color_trc = AVCOL_TRC_IEC61966_2_1;
    codec_->color_range = isWebM ? AVCOL_RANGE_MPEG : AVCOL_RANGE_JPEG;
    codec_->thread_count = 0;
    if (isWebM) {
      av_opt_set(codec_->priv_data, "crf", kQuality, 0);
      av_opt_set(codec_->priv_data, "cpu-used", "4", 0);
      av_opt_set(codec_->priv_data, "auto-alt-ref", "0", 0);  // alpha has none
      codec_->bit_rate = 0;
    }
    if ((container_->oformat->flags & AVFMT_GLOBALHEADER) != 0) codec_->flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
    check(avcodec_open2(codec_.get(), kind, nullptr));
    frame_ = owned(av_frame_alloc());
    frame_->format = codec_->pix_fmt;
    frame_->width = width_;
    frame_->height = height_;
    check(av_frame_get_buffer(frame_.get(), 0));
    scaler_ = owned(sws_getContext(width_, height_, AV_PIX_FMT_RGBA, width_, height_, codec_->pix_fmt,
                                   SWS_BILINEAR, nullptr, nullptr, nullptr));
    const int* matrix = sws_getCoefficients(SWS_CS_ITU709);
    sws_setColorspaceDetails(scaler_.get(), matrix, 1, matrix, isWebM ? 0 : 1, 0, 1 << 16, 1 << 16);
    packet_ = owned(av_packet_alloc());
  }

  void openStream() {
    stream_ = avformat_new_stream(container_.get(), nullptr);
    if (!stream_) refuseVideo("out of memory");
    check(avcodec_parameters_from_context(stream_->codecpar, codec_.get()));
    stream_->time_base = codec_->time_base;
    stream_->avg_frame_rate = codec_->framerate;
    if (format_ == VideoFormat::WebM)
      av_dict_set(&stream_->metadata, "alpha_mode", "1", 0);
    else
      av_opt_set(container_->priv_data, "plays", "0", 0);  // round and round
    check(avformat_write_header(container_.get(), nullptr));
  }

  void writePackets() {
    for (;;) {
      const int result = avcodec_receive_packet(codec_.get(), packet_.get());
      if (result == AVERROR(EAGAIN) || result == AVERROR_EOF) return;
      check(result);
      packet_->duration = 1;
      av_packet_rescale_ts(packet_.get(), codec_->time_base, stream_->time_base);
      packet_->stream_index = stream_->index;
      check(av_interleaved_write_frame(container_.get(), packet_.get()));
    }
  }

  static std::vector<std::uint8_t> encoded(const Picture& picture) {
    std::vector<std::uint8_t> pixels(4 * picture.pixels().size());
    const auto whole = [](double value) {
      return static_cast<std::uint8_t>(std::lround(255 * std::clamp(value, 0.0, 1.0)));
    };
    parallelFor(static_cast<std::size_t>(picture.height()), [&](std::size_t y) {
      std::uint8_t* out = pixels.data() + 4 * y * static_cast<std::size_t>(picture.width());
      const Vec4* row = picture.row(static_cast<int>(y));
      for (int x = 0; x < picture.width(); ++x, out += 4) {
        for (int c = 0; c < 3; ++c) out[c] = whole(encodeSrgb(row[x][c]));
        out[3] = whole(row[x].w);
      }
    });
    return pixels;
  }

  VideoFormat format_;
  int width_, height_;
  Memory memory_;
  Owned<AVIOContext> output_;
  Owned<AVFormatContext> container_;
  Owned<AVCodecContext> codec_;
  Owned<AVFrame> frame_;
  Owned<SwsContext> scaler_;
  Owned<AVPacket> packet_;
  AVStream* stream_ = nullptr;  // the container's
};

}  // namespace

std::string_view extensionOf(VideoFormat format) { return format == VideoFormat::WebM ? ".webm" : ".apng"; }

void writeVideo(const std::filesystem::path& path, const Video& video, VideoFormat format,
                const Progress& progress) {
  av_log_set_level(AV_LOG_QUIET);
  try {
    Encoder encoder(video, format);
    for (int i = 0; i < video.frames; ++i) {
      progress.step(i, video.frames);
      encoder.add(video.frame(i), i);
    }
    writeFileAtomically(path, encoder.finish());
  } catch (const Error& error) {
    throw error.place().empty() && error.kind() == ErrorKind::Write ? error.within(path.string()) : error;
  }
}

}  // namespace comet
