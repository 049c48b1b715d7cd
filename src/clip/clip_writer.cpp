// SPDX-License-Identifier: Apache-2.0
#include "clip/clip_writer.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>
#include <optional>
#include <vector>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file_name.h"
#include "base/number.h"
#include "clip/av.h"
#include "clip/sound_packets.h"
#include "clip/yuv.h"
#include "image/picture_file.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

struct CodecInfo {
  ClipCodec codec;
  const char* word;
  std::vector<const char*> encoders;  // the first that is installed
};

const std::vector<CodecInfo>& codecs() {
  static const std::vector<CodecInfo> table{{ClipCodec::ffv1, "ffv1", {"ffv1"}},
                                            {ClipCodec::vp9, "vp9", {"libvpx-vp9"}},
                                            {ClipCodec::av1, "av1", {"libaom-av1", "libsvtav1"}},
                                            {ClipCodec::h264, "h264", {"libx264", "libopenh264"}},
                                            {ClipCodec::y4m, "y4m", {"wrapped_avframe"}}};
  return table;
}

const CodecInfo& infoOf(ClipCodec codec) {
  return *std::find_if(codecs().begin(), codecs().end(),
                       [&](const CodecInfo& c) { return c.codec == codec; });
}

AVPixelFormat pixelFormat(const ClipFormat& format) {
  switch (format.codec) {
    // Lossless means that the painting's own RGB comes back.
    case ClipCodec::ffv1:
      return format.bits <= 8 ? AV_PIX_FMT_BGR0 : format.bits <= 10 ? AV_PIX_FMT_GBRP10 : AV_PIX_FMT_GBRP16;
    default:
      return format.bits <= 8 ? AV_PIX_FMT_YUV420P : AV_PIX_FMT_YUV420P10;
  }
}

// Quality 0 to 100 on the encoder's own scale, where smaller is better.
int rateFactor(ClipCodec codec, int quality) {
  const double q = std::clamp(quality, 0, 100) / 100.0;
  const double worst = codec == ClipCodec::h264 ? 45 : 60;
  const double best = codec == ClipCodec::h264 ? 10 : 12;
  return rounded(worst + (best - worst) * q);
}

// Frames of the mux: pictures encoded, sound copied in between.
class AvWriter final : public ClipWriter {
 public:
  AvWriter(const std::string& name, const ClipFormat& format, const std::optional<SoundSource>& sound)
      : name_(name), format_(format) {
    av::quieten();
    if (name != "-") file_.emplace(name, AtomicFile::Appeared::kept);
    openContainer();
    openEncoder();
    if (sound) openSound(*sound);
    openCleaner();
    writeHeader();
  }

  void write(const Image& frame, std::int64_t time) override {
    if (frame.width != format_.width || frame.height != format_.height || frame.channels < 3) {
      throw Error(fmt::format("a frame of {}x{} cannot follow frames of {}x{}", frame.width, frame.height,
                              format_.width, format_.height));
    }
    check(av_frame_make_writable(frame_.get()), "encoded");
    fillFrame(*frame_, frame);
    frame_->pts = time;
    send(frame_.get());
    copySound(static_cast<double>(time) * format_.timeBase.value());
  }

  void finish() override {
    send(nullptr);
    copySound(1e300);
    check(av_write_trailer(output_.get()), "finished");
    avio_flush(output_->pb);
    check(output_->pb->error, "finished");
    check(avio_closep(&output_->pb), "finished");
    if (file_) file_->commit();
  }

 private:
  void check(int result, const char* what) const {
    if (result >= 0) return;
    if (result == AVERROR(EPIPE)) throw Error("whoever reads the frames has stopped reading");
    if (const int number = av::systemError(result); number != 0)
      throw DiskError(fmt::format("{} cannot be {}", name_, what), std::strerror(number));
    throw Error(fmt::format("{} cannot be {}: {}", name_, what, av::reason(result)));
  }

  void openContainer() {
    const bool y4m = format_.codec == ClipCodec::y4m;
    const std::string target = file_ ? file_->temporary().string() : "pipe:1";
    AVFormatContext* output = nullptr;
    check(avformat_alloc_output_context2(&output, nullptr, y4m ? "yuv4mpegpipe" : nullptr, target.c_str()),
          "opened");
    output_.reset(output);
    output_->flags |= AVFMT_FLAG_BITEXACT;
    // Deeper than 8 bits is an extension of YUV4MPEG2 that all readers know.
    if (y4m) output_->strict_std_compliance = FF_COMPLIANCE_EXPERIMENTAL;
    const std::string url = file_ ? "file:" + target : target;
    check(avio_open(&output_->pb, url.c_str(), AVIO_FLAG_WRITE), "opened");
  }

  void openEncoder() {
    const AVCodec* encoder = nullptr;
    for (const char* each : infoOf(format_.codec).encoders) {
      if (encoder == nullptr) encoder = avcodec_find_encoder_by_name(each);
    }
    if (encoder == nullptr) {
      throw Error(fmt::format("no encoder for {} is installed; name the result .mkv for FFV1",
                              infoOf(format_.codec).word));
    }
    video_ = avformat_new_stream(output_.get(), nullptr);
    codec_.reset(avcodec_alloc_context3(encoder));
    AVCodecContext& c = *codec_;
    c.width = format_.width;
    c.height = format_.height;
    c.pix_fmt = pixelFormat(format_);
    c.time_base = {format_.timeBase.over, format_.timeBase.under};
    c.framerate = {format_.rate.over, format_.rate.under};
    c.flags |= AV_CODEC_FLAG_BITEXACT;
    c.color_primaries = static_cast<AVColorPrimaries>(format_.colour.primaries);
    c.color_trc = static_cast<AVColorTransferCharacteristic>(format_.colour.transfer);
    setMatrix(c);
    if ((output_->oformat->flags & AVFMT_GLOBALHEADER) != 0) c.flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
    AVDictionary* options = nullptr;
    setOptions(&options);
    const int result = avcodec_open2(codec_.get(), encoder, &options);
    av_dict_free(&options);
    check(result, "encoded");
    check(avcodec_parameters_from_context(video_->codecpar, codec_.get()), "encoded");
    video_->time_base = c.time_base;
    video_->avg_frame_rate = c.framerate;
    frame_.reset(av_frame_alloc());
    frame_->width = c.width;
    frame_->height = c.height;
    frame_->format = c.pix_fmt;
    frame_->color_range = c.color_range;
    frame_->colorspace = c.colorspace;
    frame_->color_primaries = c.color_primaries;
    frame_->color_trc = c.color_trc;
    check(av_frame_get_buffer(frame_.get(), 0), "encoded");
    packet_.reset(av_packet_alloc());
  }

  bool rgb() const { return format_.codec == ClipCodec::ffv1; }

  void setMatrix(AVCodecContext& c) {
    if (rgb()) {
      c.colorspace = AVCOL_SPC_RGB;
      c.color_range = AVCOL_RANGE_JPEG;
      return;
    }
    // Frames without tags, and YUV4MPEG2 has none, are played by their height.
    const bool untagged = format_.codec == ClipCodec::y4m;
    const int matrix = matrixFor(untagged ? AVCOL_SPC_UNSPECIFIED : format_.colour.matrix, format_.height);
    c.colorspace = static_cast<AVColorSpace>(matrix);
    c.color_range = format_.colour.fullRange ? AVCOL_RANGE_JPEG : AVCOL_RANGE_MPEG;
  }

  void setOptions(AVDictionary** options) const {
    const std::string factor = std::to_string(rateFactor(format_.codec, format_.quality));
    switch (format_.codec) {
      case ClipCodec::ffv1:
        av_dict_set(options, "level", "3", 0);
        av_dict_set(options, "slicecrc", "1", 0);
        break;
      case ClipCodec::h264:
        av_dict_set(options, "crf", factor.c_str(), 0);
        av_dict_set(options, "preset", "slow", 0);
        break;
      case ClipCodec::vp9:
        codec_->bit_rate = 0;
        av_dict_set(options, "crf", factor.c_str(), 0);
        av_dict_set(options, "row-mt", "1", 0);
        av_dict_set(options, "cpu-used", "2", 0);
        break;
      case ClipCodec::av1:
        av_dict_set(options, "crf", factor.c_str(), 0);
        av_dict_set(options, "cpu-used", "6", 0);
        av_dict_set(options, "row-mt", "1", 0);
        break;
      default:
        codec_->strict_std_compliance = FF_COMPLIANCE_EXPERIMENTAL;
        break;
    }
  }

  void send(const AVFrame* frame) {
    check(avcodec_send_frame(codec_.get(), frame), "encoded");
    for (;;) {
      const int result = avcodec_receive_packet(codec_.get(), packet_.get());
      if (result == AVERROR(EAGAIN) || result == AVERROR_EOF) break;
      check(result, "encoded");
      if (packet_->duration == 0) packet_->duration = frameDuration();
      av_packet_rescale_ts(packet_.get(), codec_->time_base, video_->time_base);
      packet_->stream_index = video_->index;
      writePacket();
    }
    if (frame == nullptr && cleaner_) {
      check(av_bsf_send_packet(cleaner_.get(), nullptr), "encoded");
      writeCleaned();
    }
  }

  void writePacket() {
    if (!cleaner_) return check(av_interleaved_write_frame(output_.get(), packet_.get()), "written");
    check(av_bsf_send_packet(cleaner_.get(), packet_.get()), "encoded");
    writeCleaned();
  }

  void writeCleaned() {
    for (;;) {
      const int result = av_bsf_receive_packet(cleaner_.get(), packet_.get());
      if (result == AVERROR(EAGAIN) || result == AVERROR_EOF) return;
      check(result, "encoded");
      check(av_interleaved_write_frame(output_.get(), packet_.get()), "written");
    }
  }

  // The encoder of H.264 writes its name and all its options into the first frame, as information that no
  // player needs (SEI, unit type 6).
  void openCleaner() {
    const AVBitStreamFilter* filter = av_bsf_get_by_name("filter_units");
    if (format_.codec != ClipCodec::h264 || filter == nullptr) return;
    AVBSFContext* cleaner = nullptr;
    check(av_bsf_alloc(filter, &cleaner), "encoded");
    cleaner_.reset(cleaner);
    check(avcodec_parameters_copy(cleaner->par_in, video_->codecpar), "encoded");
    cleaner->time_base_in = video_->time_base;
    check(av_opt_set(cleaner->priv_data, "remove_types", "6", 0), "encoded");
    check(av_bsf_init(cleaner), "encoded");
    check(avcodec_parameters_copy(video_->codecpar, cleaner->par_out), "encoded");
  }

  std::int64_t frameDuration() const {
    return std::max<std::int64_t>(1, std::llround(1 / format_.rate.value() / format_.timeBase.value()));
  }

  void openSound(const SoundSource& sound) {
    soundFrom_ = sound;
    soundIn_.emplace(sound.clip, sound.from);
    for (const SoundStream& in : soundIn_->streams()) {
      AVStream* out = avformat_new_stream(output_.get(), nullptr);
      check(avcodec_parameters_copy(out->codecpar, in.parameters.get()), "given its sound");
      out->codecpar->codec_tag = 0;
      out->time_base = in.timeBase;
      soundStreams_[in.number] = {out->index, in.timeBase};
    }
    soundPacket_.reset(av_packet_alloc());
  }

  void writeHeader() {
    AVDictionary* options = nullptr;
    // Players begin before the whole file has come.
    av_dict_set(&options, "movflags", "+faststart", 0);
    const int result = avformat_write_header(output_.get(), &options);
    av_dict_free(&options);
    check(result, "written");
  }

  // Copies sound up to that many seconds after the first frame.
  void copySound(double until) {
    if (!soundIn_) return;
    for (;;) {
      if (!soundWaiting_) {
        if (!soundIn_->next(*soundPacket_)) {
          soundIn_.reset();
          return;
        }
        soundWaiting_ = true;
      }
      AVPacket& p = *soundPacket_;
      const auto stream = soundStreams_.find(p.stream_index);
      if (stream == soundStreams_.end() || p.pts == AV_NOPTS_VALUE) {
        dropSound();
        continue;
      }
      const AVRational unit = stream->second.timeBase;
      const double at = static_cast<double>(p.pts) * av_q2d(unit);
      if (at < soundFrom_.from - 1e-6 || at >= soundFrom_.to) {
        dropSound();
        continue;
      }
      if (at - soundFrom_.from > until) return;
      AVStream& out = *output_->streams[stream->second.out];
      const auto shift = std::llround(soundFrom_.from / av_q2d(unit));
      p.pts -= shift;
      if (p.dts != AV_NOPTS_VALUE) p.dts -= shift;
      av_packet_rescale_ts(&p, unit, out.time_base);
      p.stream_index = out.index;
      p.pos = -1;
      check(av_interleaved_write_frame(output_.get(), &p), "given its sound");
      soundWaiting_ = false;
    }
  }

  void dropSound() {
    av_packet_unref(soundPacket_.get());
    soundWaiting_ = false;
  }

  std::string name_;
  ClipFormat format_;
  std::optional<AtomicFile> file_;
  av::Output output_;
  AVStream* video_ = nullptr;
  av::Codec codec_;
  av::Filter cleaner_;  // of packets; none where they are clean
  av::Frame frame_;
  av::Packet packet_;
  SoundSource soundFrom_;
  std::optional<SoundPackets> soundIn_;
  av::Packet soundPacket_;
  bool soundWaiting_ = false;
  struct SoundWay {
    int out = 0;  // the output's stream
    AVRational timeBase{1, 1};
  };
  std::map<int, SoundWay> soundStreams_;  // by the input's
};

class FolderWriter final : public ClipWriter {
 public:
  FolderWriter(std::string pattern, const ClipFormat& format)
      : pattern_(std::move(pattern)), format_(format) {}

  void write(const Image& frame, std::int64_t) override {
    writePicture(frameName(pattern_, next_++), frame, format_.bits <= 8 ? Depth::eight : Depth::sixteen);
  }
  void finish() override {}

 private:
  std::string pattern_;
  ClipFormat format_;
  std::int64_t next_ = format_.firstNumber;
};

}  // namespace

ClipCodec codecForName(const std::string& name) {
  if (name == "-") return ClipCodec::y4m;
  const std::string extension = extensionOf(name);
  if (isFramePattern(name)) {
    if (extension == ".png") return ClipCodec::png;
    throw UsageError(fmt::format("frames are written as .png, not as {}", name));
  }
  if (extension == ".mkv") return ClipCodec::ffv1;
  if (extension == ".webm") return ClipCodec::vp9;
  if (extension == ".mp4" || extension == ".mov") return ClipCodec::h264;
  if (extension == ".y4m") return ClipCodec::y4m;
  throw UsageError(fmt::format(
      "\"{}\" does not say what to write: .mkv (FFV1, lossless), .mp4 or .mov (H.264), .webm (VP9), "
      "shot_%05d.png (frames), .y4m or - (YUV4MPEG2)",
      name));
}

ClipCodec codecFromWord(const std::string& word) {
  for (const CodecInfo& info : codecs()) {
    if (info.word == word && info.codec != ClipCodec::y4m) return info.codec;
  }
  throw UsageError(fmt::format("codec is ffv1 or vp9 or av1 or h264, not \"{}\"", word));
}

bool halvesChroma(ClipCodec codec) { return codec != ClipCodec::ffv1 && codec != ClipCodec::png; }

void requireCodecFits(const std::string& name, ClipCodec codec) {
  const AVOutputFormat* container = av_guess_format(nullptr, name.c_str(), nullptr);
  if (isFramePattern(name) || codec == ClipCodec::y4m || codec == ClipCodec::png || container == nullptr)
    return;
  const AVCodec* encoder = nullptr;
  for (const char* each : infoOf(codec).encoders) {
    if (encoder == nullptr) encoder = avcodec_find_encoder_by_name(each);
  }
  if (encoder == nullptr || avformat_query_codec(container, encoder->id, FF_COMPLIANCE_NORMAL) == 1) return;
  throw UsageError(
      fmt::format("the codec {0} does not go into {1} files; choose {2} for {1}, or name the result .mkv, "
                  "which takes all",
                  infoOf(codec).word, extensionOf(name), infoOf(codecForName(name)).word));
}

void requireSoundFits(const std::string& name, const std::string& clip) {
  if (isFramePattern(clip)) return;
  const SoundPackets sound(clip, 0);
  const AVOutputFormat* container = av_guess_format(nullptr, name.c_str(), nullptr);
  if (container == nullptr) return;
  for (const SoundStream& stream : sound.streams()) {
    const AVCodecID codec = stream.parameters->codec_id;
    if (avformat_query_codec(container, codec, FF_COMPLIANCE_NORMAL) == 1) continue;
    throw UsageError(
        fmt::format("the sound of {} is {}, which {} files cannot hold; name the result .mkv, or leave "
                    "the sound out",
                    clip, avcodec_get_name(codec), extensionOf(name)));
  }
}

std::unique_ptr<ClipWriter> createClip(const std::string& name, const ClipFormat& format,
                                       const std::optional<SoundSource>& sound) {
  if (format.codec == ClipCodec::png) return std::make_unique<FolderWriter>(name, format);
  return std::make_unique<AvWriter>(name, format, format.codec == ClipCodec::y4m ? std::nullopt : sound);
}

}  // namespace jugendstil
