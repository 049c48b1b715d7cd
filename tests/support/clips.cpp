// SPDX-License-Identifier: Apache-2.0
#include "support/clips.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/display.h>
#include <libavutil/pixdesc.h>
}

#include <algorithm>
#include <cmath>
#include <map>
#include <stdexcept>

#include "image/resample.h"
#include "support/support.h"

namespace testing_support {
namespace {

using jugendstil::Image;

void require(int result, const char* what) {
  if (result < 0) throw std::runtime_error(what);
}

struct Weights {
  double r, g, b;
};

// One sample of a component (0 Y, 1 Cb, 2 Cr) as a code of `bits`.
int codeOf(const Image& image, int x, int y, int component, const ClipRecipe& recipe, int bits) {
  const Weights w = recipe.matrix == 1 ? Weights{0.2126, 0.7152, 0.0722} : Weights{0.299, 0.587, 0.114};
  x = std::min(x, image.width - 1);
  y = std::min(y, image.height - 1);
  const double r = static_cast<double>(image.at(x, y, 0));
  const double g = static_cast<double>(image.at(x, y, 1));
  const double b = static_cast<double>(image.at(x, y, 2));
  const double luma = w.r * r + w.g * g + w.b * b;
  const double scale = std::pow(2.0, bits - 8);
  const double most = std::pow(2.0, bits) - 1;
  if (component == 0)
    return static_cast<int>(std::lround(recipe.full ? luma * most : (16 + 219 * luma) * scale));
  const double chroma = component == 1 ? (b - luma) / (2 * (1 - w.b)) : (r - luma) / (2 * (1 - w.r));
  return static_cast<int>(
      std::lround(recipe.full ? std::pow(2.0, bits - 1) + chroma * most : (128 + 224 * chroma) * scale));
}

void fillYuv(AVFrame* frame, const Image& image, const ClipRecipe& recipe) {
  const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(frame->format));
  const int bits = d->comp[0].depth;
  for (int plane = 0; plane < 3; ++plane) {
    const int sx = plane == 0 ? 0 : d->log2_chroma_w;
    const int sy = plane == 0 ? 0 : d->log2_chroma_h;
    for (int y = 0; y < -((-frame->height) >> sy); ++y) {
      std::uint8_t* row = frame->data[plane] + static_cast<std::ptrdiff_t>(y) * frame->linesize[plane];
      for (int x = 0; x < -((-frame->width) >> sx); ++x) {
        // Tests use pictures that are even over a chroma sample.
        const int code = codeOf(image, x << sx, y << sy, plane, recipe, bits);
        if (bits > 8) {
          reinterpret_cast<std::uint16_t*>(row)[x] = static_cast<std::uint16_t>(code);
        } else {
          row[x] = static_cast<std::uint8_t>(code);
        }
      }
    }
  }
}

class Muxer {
 public:
  Muxer(const std::filesystem::path& path, const ClipRecipe& recipe) : recipe_(recipe) {
    av_log_set_level(AV_LOG_QUIET);
    require(avformat_alloc_output_context2(&output_, nullptr, nullptr, path.c_str()), "container");
    const AVCodec* codec = avcodec_find_encoder_by_name(recipe.codec.c_str());
    if (codec == nullptr) throw std::runtime_error("no encoder " + recipe.codec);
    codec_ = avcodec_alloc_context3(codec);
    codec_->width = recipe.width;
    codec_->height = recipe.height;
    codec_->pix_fmt = av_get_pix_fmt(recipe.format.c_str());
    codec_->time_base = recipe.times.empty() ? AVRational{1, 24} : AVRational{1, 1000};
    codec_->framerate = {24, 1};
    codec_->gop_size = 4;
    codec_->colorspace = static_cast<AVColorSpace>(recipe.matrix);
    codec_->color_primaries = AVCOL_PRI_BT709;
    codec_->color_trc = AVCOL_TRC_BT709;
    codec_->color_range = recipe.full ? AVCOL_RANGE_JPEG : AVCOL_RANGE_MPEG;
    codec_->strict_std_compliance = FF_COMPLIANCE_EXPERIMENTAL;
    if ((output_->oformat->flags & AVFMT_GLOBALHEADER) != 0) codec_->flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
    AVDictionary* options = nullptr;
    if (recipe.codec == "ffv1") {
      av_dict_set(&options, "level", "3", 0);
      av_dict_set(&options, "slicecrc", "1", 0);
    }
    require(avcodec_open2(codec_, codec, &options), "encoder");
    av_dict_free(&options);
    video_ = avformat_new_stream(output_, nullptr);
    avcodec_parameters_from_context(video_->codecpar, codec_);
    video_->time_base = codec_->time_base;
    video_->avg_frame_rate = {24, 1};
    if (recipe.rotation != 0) {
      auto* matrix = reinterpret_cast<std::int32_t*>(
          av_stream_new_side_data(video_, AV_PKT_DATA_DISPLAYMATRIX, 9 * sizeof(std::int32_t)));
      av_display_rotation_set(matrix, -recipe.rotation);
    }
    if (recipe.sound) addSound();
    require(avio_open(&output_->pb, path.c_str(), AVIO_FLAG_WRITE), "file");
    require(avformat_write_header(output_, nullptr), "header");
    packet_ = av_packet_alloc();
  }

  ~Muxer() {
    av_packet_free(&packet_);
    avcodec_free_context(&codec_);
    avio_closep(&output_->pb);
    avformat_free_context(output_);
  }
  Muxer(const Muxer&) = delete;
  Muxer& operator=(const Muxer&) = delete;

  void write(const Image& image, int number) {
    AVFrame* frame = av_frame_alloc();
    frame->width = recipe_.width;
    frame->height = recipe_.height;
    frame->format = codec_->pix_fmt;
    frame->color_range = codec_->color_range;
    frame->colorspace = codec_->colorspace;
    require(av_frame_get_buffer(frame, 0), "frame");
    fillYuv(frame, image, recipe_);
    frame->pts = recipe_.times.empty() ? number : recipe_.times[static_cast<std::size_t>(number)];
    require(avcodec_send_frame(codec_, frame), "send");
    av_frame_free(&frame);
    drain();
    if (audio_ != nullptr) writeSound(number);
  }

  void finish() {
    avcodec_send_frame(codec_, nullptr);
    drain();
    require(av_write_trailer(output_), "trailer");
  }

 private:
  static constexpr int kRate = 24000;

  void addSound() {
    audio_ = avformat_new_stream(output_, nullptr);
    audio_->codecpar->codec_type = AVMEDIA_TYPE_AUDIO;
    audio_->codecpar->codec_id = AV_CODEC_ID_PCM_S16LE;
    audio_->codecpar->sample_rate = kRate;
    audio_->codecpar->ch_layout = AV_CHANNEL_LAYOUT_MONO;
    audio_->codecpar->format = AV_SAMPLE_FMT_S16;
    audio_->codecpar->bits_per_coded_sample = 16;
    audio_->time_base = {1, kRate};
  }

  // A frame's length of samples, each different.
  void writeSound(int number) {
    constexpr int kSamples = kRate / 24;
    AVPacket* p = av_packet_alloc();
    av_new_packet(p, kSamples * 2);
    for (int i = 0; i < kSamples; ++i) {
      const auto v = static_cast<std::int16_t>((number * kSamples + i) * 37);
      p->data[2 * i] = static_cast<std::uint8_t>(v & 255);
      p->data[2 * i + 1] = static_cast<std::uint8_t>((v >> 8) & 255);
    }
    p->pts = p->dts = static_cast<std::int64_t>(number) * kSamples;
    p->duration = kSamples;
    av_packet_rescale_ts(p, {1, kRate}, audio_->time_base);
    p->stream_index = audio_->index;
    require(av_interleaved_write_frame(output_, p), "sound");
    av_packet_free(&p);
  }

  void drain() {
    while (avcodec_receive_packet(codec_, packet_) >= 0) {
      av_packet_rescale_ts(packet_, codec_->time_base, video_->time_base);
      packet_->stream_index = video_->index;
      require(av_interleaved_write_frame(output_, packet_), "packet");
    }
  }

  ClipRecipe recipe_;
  AVFormatContext* output_ = nullptr;
  AVCodecContext* codec_ = nullptr;
  AVStream* video_ = nullptr;
  AVStream* audio_ = nullptr;
  AVPacket* packet_ = nullptr;
};

}  // namespace

void writeClip(const std::filesystem::path& path, const ClipRecipe& recipe,
               const std::function<Image(int)>& picture) {
  Muxer muxer(path, recipe);
  for (int i = 0; i < recipe.frames; ++i) muxer.write(picture(i), i);
  muxer.finish();
}

std::function<Image(int)> gliding(int width, int height, double dx, double dy, unsigned seed) {
  const Image scene = jugendstil::resample(sample(width, height, seed), width * 3, height * 3);
  return [=](int frame) {
    const int x = static_cast<int>(std::lround(width / 2.0 + dx * frame));
    const int y = static_cast<int>(std::lround(height / 2.0 + dy * frame));
    return jugendstil::crop(scene, x, y, width, height);
  };
}

std::vector<std::string> streamsOf(const std::filesystem::path& path) {
  AVFormatContext* raw = nullptr;
  require(avformat_open_input(&raw, path.c_str(), nullptr, nullptr), "open");
  avformat_find_stream_info(raw, nullptr);
  std::map<int, std::size_t> bytes;
  AVPacket* packet = av_packet_alloc();
  while (av_read_frame(raw, packet) >= 0) {
    bytes[packet->stream_index] += static_cast<std::size_t>(packet->size);
    av_packet_unref(packet);
  }
  av_packet_free(&packet);
  std::vector<std::string> out;
  for (unsigned i = 0; i < raw->nb_streams; ++i) {
    const AVCodecParameters& p = *raw->streams[i]->codecpar;
    const std::string name = avcodec_get_name(p.codec_id);
    if (p.codec_type == AVMEDIA_TYPE_VIDEO) {
      out.push_back("video " + name + " " + std::to_string(p.width) + "x" + std::to_string(p.height));
    } else {
      out.push_back("audio " + name + " " + std::to_string(bytes[static_cast<int>(i)]) + " bytes");
    }
  }
  avformat_close_input(&raw);
  return out;
}

}  // namespace testing_support
