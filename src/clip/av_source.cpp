// SPDX-License-Identifier: Apache-2.0
#include "clip/av_source.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>

#include "base/error.h"
#include "base/number.h"
#include "clip/av.h"
#include "clip/yuv.h"
#include "image/picture_file.h"

namespace jugendstil {
namespace {

// More than any camera's; a container that claims more is broken.
constexpr int kMostSide = 16384;

// The EXIF orientation that undoes a display matrix.
int orientationOf(const AVStream& stream) {
  const auto* matrix = reinterpret_cast<const std::int32_t*>(
      av_stream_get_side_data(&stream, AV_PKT_DATA_DISPLAYMATRIX, nullptr));
  if (matrix == nullptr) return 1;
  const double angle = av_display_rotation_get(matrix);  // counter-clockwise
  if (std::isnan(angle)) return 1;
  const int quarter = (rounded(angle / 90.0) % 4 + 4) % 4;
  constexpr int kOrientations[] = {1, 8, 3, 6};
  return kOrientations[quarter];
}

int bitsOf(AVPixelFormat format) {
  const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(format);
  return d == nullptr ? 8 : d->comp[0].depth;
}

class AvSource final : public FrameSource {
 public:
  explicit AvSource(const std::string& name) : name_(name) {
    input_ = av::openInput(name);
    findStream();
    openDecoder();
    describe();
    index();
    restart();
  }

  const ClipInfo& info() const override { return info_; }
  std::int64_t position() const override { return next_; }

  FrameState read(Image& frame) override {
    if (next_ >= count()) return FrameState::end;
    if (!held_ && !decode()) {
      ++next_;  // announced by the container, but nothing came out of it
      return FrameState::missing;
    }
    if (numbered_) {
      const std::int64_t number = numberOf(frame_.get());
      if (number < next_) {  // a repetition or one before the frame sought
        held_ = false;
        return read(frame);
      }
      if (number > next_) {
        held_ = true;
        ++next_;
        return FrameState::missing;
      }
    }
    held_ = false;
    frame = convert();
    ++next_;
    return FrameState::read;
  }

  void seek(std::int64_t frame) override {
    if (frame == next_) return;
    if (frame > next_ && frame - next_ < kReadOn) {
      skipTo(frame);
      return;
    }
    restart();
    if (numbered_ && frame > 0) {
      const std::int64_t at = std::min(frame, count() - 1);
      if (av_seek_frame(input_.get(), stream_, stamps_[at], AVSEEK_FLAG_BACKWARD) < 0) restart();
      next_ = frame;  // read() passes over what lies before
    } else {
      next_ = 0;
      skipTo(frame);
    }
  }

 private:
  // Reading on is cheaper than seeking over this many frames.
  static constexpr std::int64_t kReadOn = 12;

  std::int64_t count() const { return std::ssize(info_.times); }

  void skipTo(std::int64_t frame) {
    Image unused;
    while (next_ < frame && read(unused) != FrameState::end) {
    }
  }

  void findStream() {
    const AVCodec* codec = nullptr;
    stream_ = av_find_best_stream(input_.get(), AVMEDIA_TYPE_VIDEO, -1, -1, &codec, 0);
    if (stream_ == AVERROR_DECODER_NOT_FOUND)
      throw Error(fmt::format("no decoder is installed for the pictures in {}", name_));
    if (stream_ < 0) throw Error(fmt::format("{} has sound or data, but no pictures", name_));
    decoder_ = codec;
  }

  void openDecoder() {
    codec_.reset(avcodec_alloc_context3(decoder_));
    const AVStream* stream = input_->streams[stream_];
    avcodec_parameters_to_context(codec_.get(), stream->codecpar);
    codec_->thread_count = 0;
    codec_->pkt_timebase = stream->time_base;
    const int result = avcodec_open2(codec_.get(), decoder_, nullptr);
    if (result < 0)
      throw Error(fmt::format("the pictures in {} cannot be decoded: {}", name_, av::reason(result)));
    packet_.reset(av_packet_alloc());
    frame_.reset(av_frame_alloc());
  }

  void describe() {
    const AVStream& stream = *input_->streams[stream_];
    const AVCodecParameters& p = *stream.codecpar;
    if (p.width < 1 || p.height < 1 || p.width > kMostSide || p.height > kMostSide) {
      throw Error(fmt::format("{} says its frames are {}x{}; the file is damaged", name_, p.width, p.height));
    }
    orientation_ = orientationOf(stream);
    width_ = p.width;
    height_ = p.height;
    info_.path = name_;
    info_.width = orientation_ >= 5 ? p.height : p.width;
    info_.height = orientation_ >= 5 ? p.width : p.height;
    info_.bits = bitsOf(static_cast<AVPixelFormat>(p.format));
    info_.codec = avcodec_get_name(p.codec_id);
    info_.colour = {p.color_primaries, p.color_trc, p.color_space, p.color_range == AVCOL_RANGE_JPEG};
    AVRational rate = stream.avg_frame_rate.num > 0 ? stream.avg_frame_rate : stream.r_frame_rate;
    if (rate.num <= 0 || rate.den <= 0) rate = {24, 1};
    info_.rate = {rate.num, rate.den};
    info_.timeBase = {stream.time_base.num, stream.time_base.den};
    info_.seconds = input_->duration > 0 ? static_cast<double>(input_->duration) / AV_TIME_BASE : 0;
    for (unsigned i = 0; i < input_->nb_streams; ++i) {
      const AVCodecParameters& other = *input_->streams[i]->codecpar;
      if (other.codec_type != AVMEDIA_TYPE_AUDIO) continue;
      info_.sound += (info_.sound.empty() ? "" : ", ") + std::string(avcodec_get_name(other.codec_id));
    }
  }

  // Goes through the packets without decoding: how many frames there are, and when each is shown.
  void index() {
    bool all = true;
    std::int64_t plain = 0;
    double lastSound = 0;
    while (av::readPacket(*input_, name_, *packet_)) {
      const AVStream& stream = *input_->streams[packet_->stream_index];
      if (packet_->stream_index != stream_ && packet_->pts != AV_NOPTS_VALUE) {
        lastSound = std::max(lastSound, static_cast<double>(packet_->pts) * av_q2d(stream.time_base));
      }
      if (packet_->stream_index == stream_ && (packet_->flags & AV_PKT_FLAG_DISCARD) == 0) {
        ++plain;
        if (packet_->pts == AV_NOPTS_VALUE) {
          all = false;
        } else {
          stamps_.push_back(packet_->pts);
        }
      }
      av_packet_unref(packet_.get());
    }
    if (plain == 0) throw Error(fmt::format("{} has no frames", name_));
    std::sort(stamps_.begin(), stamps_.end());
    stamps_.erase(std::unique(stamps_.begin(), stamps_.end()), stamps_.end());
    numbered_ = all && static_cast<std::int64_t>(stamps_.size()) == plain;
    if (!numbered_) {
      // Without time stamps (raw streams, some AVI) frames are counted and evenly spaced.
      info_.timeBase = {info_.rate.under, info_.rate.over};
      for (std::int64_t i = 0; i < plain; ++i) info_.times.push_back(i);
      return;
    }
    for (const std::int64_t t : stamps_) info_.times.push_back(t - stamps_.front());
    noteRhythm();
    noteEnd(lastSound);
  }

  void noteRhythm() {
    const double unit = info_.timeBase.value();
    const double even = 1 / info_.rate.value() / unit;
    for (std::size_t i = 1; i < info_.times.size(); ++i) {
      const auto gap = static_cast<double>(info_.times[i] - info_.times[i - 1]);
      // Matroska rounds to milliseconds; that is no change of rate.
      if (std::fabs(gap - even) > std::max(1.01, 0.15 * even)) info_.variableRate = true;
    }
  }

  void noteEnd(double lastSound) {
    const double last =
        static_cast<double>(info_.times.back()) * info_.timeBase.value() + 1 / info_.rate.value();
    // Sound may go on behind the last picture, and containers round.
    info_.endsEarly = info_.seconds > 0 && std::max(last, lastSound) < 0.95 * info_.seconds - 0.25;
  }

  void restart() {
    input_ = av::openInput(name_);
    openDecoder();
    held_ = false;
    drained_ = false;
    next_ = 0;
  }

  std::int64_t numberOf(const AVFrame* frame) const {
    const std::int64_t stamp =
        frame->best_effort_timestamp != AV_NOPTS_VALUE ? frame->best_effort_timestamp : frame->pts;
    const auto found = std::lower_bound(stamps_.begin(), stamps_.end(), stamp);
    return found - stamps_.begin();
  }

  // The next frame out of the decoder; false at the end.
  bool decode() {
    for (;;) {
      const int result = avcodec_receive_frame(codec_.get(), frame_.get());
      if (result == 0) {
        // A decoder that patched a damaged picture up says so; better to fill it from its neighbours.
        if ((frame_->flags & AV_FRAME_FLAG_CORRUPT) != 0 || frame_->decode_error_flags != 0) continue;
        return true;
      }
      if (result == AVERROR_EOF || drained_) return false;
      if (!av::readPacket(*input_, name_, *packet_)) {
        drained_ = true;
        avcodec_send_packet(codec_.get(), nullptr);
        continue;
      }
      // Packets that the decoder refuses are the frames that read() reports as missing.
      if (packet_->stream_index == stream_) avcodec_send_packet(codec_.get(), packet_.get());
      av_packet_unref(packet_.get());
    }
  }

  Image convert() {
    const AVFrame& f = *frame_;
    if (f.width != width_ || f.height != height_) {
      throw Error(
          fmt::format("{} changes size: frame {} is {}x{}, the ones before were {}x{}; cut it there first",
                      name_, next_, f.width, f.height, width_, height_));
    }
    Image image = imageOf(f, info_.colour);
    av_frame_unref(frame_.get());
    return orientation_ == 1 ? image : reoriented(image, orientation_);
  }

  std::string name_;
  ClipInfo info_;
  av::Input input_;
  const AVCodec* decoder_ = nullptr;
  av::Codec codec_;
  av::Packet packet_;
  av::Frame frame_;
  std::vector<std::int64_t> stamps_;  // sorted, as the container has them
  bool numbered_ = false;             // whether every frame has a time stamp to be known by
  int stream_ = -1;
  int orientation_ = 1;
  int width_ = 0;
  int height_ = 0;
  std::int64_t next_ = 0;
  bool held_ = false;  // frame_ holds a frame for later
  bool drained_ = false;
};

}  // namespace

std::unique_ptr<FrameSource> openAvSource(const std::string& name) {
  return std::make_unique<AvSource>(name);
}

}  // namespace jugendstil
