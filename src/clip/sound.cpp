// SPDX-License-Identifier: Apache-2.0
#include "clip/sound.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <numbers>
#include <opencv2/core.hpp>

#include "base/error.h"
#include "clip/av.h"
#include "helper/helper.h"
#include "helper/packing.h"

extern "C" {
#include <libswresample/swresample.h>
}

namespace jugendstil {
namespace {

// Enough for all that is heard as treble.
constexpr int kRate = 22050;
// Samples that are looked at about a frame: the lowest tones have a few waves in them.
constexpr int kWindow = 2048;
constexpr double kBassTo = 200;
constexpr double kMiddleTo = 2000;
constexpr double kLoudest = 0.98;
// Seconds in which what was loud has faded to a third.
constexpr double kFade = 0.12;

struct FreeResampler {
  void operator()(SwrContext* c) const { swr_free(&c); }
};
using Resampler = std::unique_ptr<SwrContext, FreeResampler>;

class SoundReader {
 public:
  explicit SoundReader(const std::string& file) : file_(file) {
    try {
      input_ = av::openInput(file);
    } catch (const DiskError&) {
      throw;
    } catch (const Error&) {
      refuse();  // in words of sounds, not of clips
    }
    const AVCodec* decoder = nullptr;
    stream_ = av_find_best_stream(input_.get(), AVMEDIA_TYPE_AUDIO, -1, -1, &decoder, 0);
    if (stream_ < 0 || decoder == nullptr) refuse();
    codec_.reset(avcodec_alloc_context3(decoder));
    const AVCodecParameters* parameters = input_->streams[stream_]->codecpar;
    if (avcodec_parameters_to_context(codec_.get(), parameters) < 0 ||
        avcodec_open2(codec_.get(), decoder, nullptr) < 0)
      fail();
  }

  Sound read() {
    sound_.rate = kRate;
    const av::Packet packet(av_packet_alloc());
    while (av::readPacket(*input_, file_, *packet)) {
      // A damaged packet is silence; the rest is there.
      if (packet->stream_index == stream_ && avcodec_send_packet(codec_.get(), packet.get()) >= 0)
        takeFrames();
      av_packet_unref(packet.get());
    }
    avcodec_send_packet(codec_.get(), nullptr);
    takeFrames();
    if (sound_.samples.empty()) fail();
    return std::move(sound_);
  }

 private:
  [[noreturn]] void refuse() const {
    throw Error(
        fmt::format("{} holds no sound that can be read; name a sound file or a clip with sound", file_));
  }
  [[noreturn]] void fail() const { throw Error(fmt::format("the sound of {} cannot be read", file_)); }

  void takeFrames() {
    const av::Frame frame(av_frame_alloc());
    while (avcodec_receive_frame(codec_.get(), frame.get()) >= 0) {
      convert(*frame);
      av_frame_unref(frame.get());
    }
  }

  void convert(const AVFrame& frame) {
    if (!resampler_) {
      AVChannelLayout mono = AV_CHANNEL_LAYOUT_MONO;
      AVChannelLayout own = frame.ch_layout;  // which is only read
      SwrContext* made = nullptr;
      swr_alloc_set_opts2(&made, &mono, AV_SAMPLE_FMT_FLT, kRate, &own,
                          static_cast<AVSampleFormat>(frame.format), frame.sample_rate, 0, nullptr);
      resampler_.reset(made);
      if (made == nullptr || swr_init(made) < 0) fail();
    }
    const int room = swr_get_out_samples(resampler_.get(), frame.nb_samples);
    if (room < 0) fail();
    const std::size_t before = sound_.samples.size();
    sound_.samples.resize(before + room);
    auto* out = reinterpret_cast<std::uint8_t*>(sound_.samples.data() + before);
    const int got = swr_convert(resampler_.get(), &out, room,
                                const_cast<const std::uint8_t**>(frame.extended_data), frame.nb_samples);
    if (got < 0) fail();
    sound_.samples.resize(before + got);
  }

  std::string file_;
  av::Input input_;
  int stream_ = -1;
  av::Codec codec_;
  Resampler resampler_;
  Sound sound_;
};

struct Range {
  double from;
  double to;
};

Range rangeOf(SoundBand band) {
  switch (band) {
    case SoundBand::bass:
      return {20, kBassTo};
    case SoundBand::middle:
      return {kBassTo, kMiddleTo};
    case SoundBand::treble:
      return {kMiddleTo, kRate};
    case SoundBand::all:
      break;
  }
  return {20, kRate};
}

double powerAt(const Sound& sound, double second, const Range& range) {
  cv::Mat window(1, kWindow, CV_32F, cv::Scalar(0));
  const auto first = static_cast<std::int64_t>(std::llround(second * sound.rate)) - kWindow / 2;
  for (int i = 0; i < kWindow; ++i) {
    const std::int64_t at = first + i;
    if (at < 0 || at >= std::ssize(sound.samples)) continue;
    const double hann = 0.5 - 0.5 * std::cos(2 * std::numbers::pi * (i + 0.5) / kWindow);
    window.at<float>(0, i) = static_cast<float>(hann) * sound.samples[at];
  }
  cv::Mat spectrum;
  cv::dft(window, spectrum, cv::DFT_COMPLEX_OUTPUT);
  double sum = 0;
  for (int k = 1; k < kWindow / 2; ++k) {
    const double tone = 1.0 * k * sound.rate / kWindow;
    if (tone < range.from || tone >= range.to) continue;
    const auto& value = spectrum.at<cv::Vec2f>(0, k);
    sum += value[0] * value[0] + value[1] * value[1];
  }
  return sum;
}

// The work of the helper.
void hearSound(Asker& asker) {
  const Sound sound = SoundReader(asker.next()).read();
  Packer answer;
  answer.value(sound.rate);
  answer.values(sound.samples);
  asker.answer(answer.bytes());
}

}  // namespace

Sound readSound(const std::string& file) {
  std::error_code code;
  if (!std::filesystem::exists(file, code)) throw Error(fmt::format("there is no sound file {}", file));
  const auto size = std::filesystem::file_size(file, code);
  const std::string answer = answerOfHelper(hearSound, file, file, patienceFor(code ? 0 : 10 * size));
  Unpacker said(answer);
  Sound sound;
  sound.rate = said.value<int>();
  sound.samples = said.values<float>();
  return sound;
}

std::vector<double> loudness(const Sound& sound, SoundBand band, double frameRate, std::int64_t frames) {
  std::vector<double> loud;
  for (std::int64_t f = 0; f < frames; ++f)
    loud.push_back(std::sqrt(powerAt(sound, (static_cast<double>(f) + 0.5) / frameRate, rangeOf(band))));
  if (loud.empty()) return loud;
  std::vector<double> sorted = loud;
  std::sort(sorted.begin(), sorted.end());
  const double loudest = sorted[static_cast<std::size_t>(kLoudest * static_cast<double>(sorted.size() - 1))];
  double before = 0;
  for (double& value : loud) {
    value = loudest > 0 ? std::min(1.0, value / loudest) : 0;
    before = value = std::max(value, before * std::exp(-1 / (kFade * frameRate)));
  }
  return loud;
}

}  // namespace jugendstil
