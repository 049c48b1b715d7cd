// SPDX-License-Identifier: Apache-2.0
#include "clip/sound_packets.h"

#include <algorithm>
#include <cstring>
#include <filesystem>

#include "base/error.h"
#include "helper/packing.h"

namespace jugendstil {
namespace {

struct SoundNumbers {
  int number;
  AVRational timeBase;
  AVCodecID codec;
  int format;
  std::int64_t bitRate;
  int bitsPerCodedSample;
  int bitsPerRawSample;
  int profile;
  int level;
  int channels;
  std::uint64_t channelMask;  // 0: in no known order
  int sampleRate;
  int blockAlign;
  int frameSize;
  int initialPadding;
  int trailingPadding;
  int seekPreroll;
};

void pack(Packer& to, const AVStream& stream) {
  const AVCodecParameters& p = *stream.codecpar;
  const bool known = p.ch_layout.order == AV_CHANNEL_ORDER_NATIVE;
  to.value(SoundNumbers{stream.index, stream.time_base, p.codec_id, p.format, p.bit_rate,
                        p.bits_per_coded_sample, p.bits_per_raw_sample, p.profile, p.level,
                        p.ch_layout.nb_channels, known ? p.ch_layout.u.mask : 0, p.sample_rate, p.block_align,
                        p.frame_size, p.initial_padding, p.trailing_padding, p.seek_preroll});
  to.text({reinterpret_cast<const char*>(p.extradata), static_cast<std::size_t>(p.extradata_size)});
}

SoundStream unpackedStream(Unpacker& from) {
  const auto numbers = from.value<SoundNumbers>();
  const std::string extra = from.text();
  SoundStream stream;
  stream.number = numbers.number;
  stream.timeBase = numbers.timeBase;
  if (stream.number < 0 || numbers.timeBase.num <= 0 || numbers.timeBase.den <= 0)
    throw Error("the sound has no time");
  stream.parameters.reset(avcodec_parameters_alloc());
  AVCodecParameters& p = *stream.parameters;
  p.codec_type = AVMEDIA_TYPE_AUDIO;
  p.codec_id = numbers.codec;
  p.format = numbers.format;
  p.bit_rate = numbers.bitRate;
  p.bits_per_coded_sample = numbers.bitsPerCodedSample;
  p.bits_per_raw_sample = numbers.bitsPerRawSample;
  p.profile = numbers.profile;
  p.level = numbers.level;
  if (numbers.channelMask != 0) {
    av_channel_layout_from_mask(&p.ch_layout, numbers.channelMask);
  } else {
    p.ch_layout.order = AV_CHANNEL_ORDER_UNSPEC;
    p.ch_layout.nb_channels = numbers.channels;
  }
  p.sample_rate = numbers.sampleRate;
  p.block_align = numbers.blockAlign;
  p.frame_size = numbers.frameSize;
  p.initial_padding = numbers.initialPadding;
  p.trailing_padding = numbers.trailingPadding;
  p.seek_preroll = numbers.seekPreroll;
  if (!extra.empty()) {
    p.extradata = static_cast<std::uint8_t*>(av_mallocz(extra.size() + AV_INPUT_BUFFER_PADDING_SIZE));
    std::memcpy(p.extradata, extra.data(), extra.size());
    p.extradata_size = static_cast<int>(extra.size());
  }
  return stream;
}

struct PacketNumbers {
  bool end;
  int stream;
  int flags;
  int sides;
  std::int64_t shown;
  std::int64_t decoded;
  std::int64_t duration;
};

void pack(Packer& to, const AVPacket& packet) {
  to.value(PacketNumbers{false, packet.stream_index, packet.flags, packet.side_data_elems, packet.pts,
                         packet.dts, packet.duration});
  to.text({reinterpret_cast<const char*>(packet.data), static_cast<std::size_t>(packet.size)});
  for (int i = 0; i < packet.side_data_elems; ++i) {
    const AVPacketSideData& side = packet.side_data[i];
    to.value(side.type);
    to.text({reinterpret_cast<const char*>(side.data), side.size});
  }
}

// The work of the helper: which streams there are, then a packet for each question.
void demultiplex(Asker& asker) {
  const std::string clip = asker.next();
  const std::string question = asker.next();
  const auto from = Unpacker(question).value<double>();
  const av::Input input = av::openInput(clip);
  Packer about;
  std::uint64_t count = 0;
  for (unsigned i = 0; i < input->nb_streams; ++i) {
    AVStream& stream = *input->streams[i];
    const bool sound = stream.codecpar->codec_type == AVMEDIA_TYPE_AUDIO;
    stream.discard = sound ? AVDISCARD_DEFAULT : AVDISCARD_ALL;
    count += sound ? 1 : 0;
  }
  about.value(count);
  for (unsigned i = 0; i < input->nb_streams; ++i) {
    if (input->streams[i]->discard == AVDISCARD_DEFAULT) pack(about, *input->streams[i]);
  }
  asker.answer(about.bytes());
  if (from > 0)
    av_seek_frame(input.get(), -1, static_cast<std::int64_t>(from * AV_TIME_BASE), AVSEEK_FLAG_BACKWARD);
  const av::Packet packet(av_packet_alloc());
  for (;;) {
    asker.next();
    Packer one;
    bool got = av::readPacket(*input, clip, *packet);
    while (got && input->streams[packet->stream_index]->discard != AVDISCARD_DEFAULT) {
      av_packet_unref(packet.get());
      got = av::readPacket(*input, clip, *packet);
    }
    if (got)
      pack(one, *packet);
    else
      one.value(PacketNumbers{true, 0, 0, 0, 0, 0, 0});
    av_packet_unref(packet.get());
    asker.answer(one.bytes());
  }
}

}  // namespace

SoundPackets::SoundPackets(const std::string& clip, double from) : helper_(demultiplex, clip) {
  std::error_code code;
  const auto size = std::filesystem::file_size(clip, code);
  helper_.allow(patienceFor(code ? 0 : size));
  helper_.ask(clip);
  Packer question;
  question.value(from);
  helper_.ask(question.bytes());
  const std::string answer = helper_.answer();
  Unpacker about(answer);
  for (auto left = about.value<std::uint64_t>(); left > 0; --left) streams_.push_back(unpackedStream(about));
}

bool SoundPackets::next(AVPacket& packet) {
  helper_.ask({});
  const std::string answer = helper_.answer();
  Unpacker one(answer);
  const auto numbers = one.value<PacketNumbers>();
  if (numbers.end) return false;
  const std::string data = one.text();
  if (av_new_packet(&packet, static_cast<int>(data.size())) < 0)
    throw Error("a packet of sound is too large");
  std::copy(data.begin(), data.end(), packet.data);
  packet.stream_index = numbers.stream;
  packet.flags = numbers.flags;
  packet.pts = numbers.shown;
  packet.dts = numbers.decoded;
  packet.duration = numbers.duration;
  for (int i = 0; i < numbers.sides; ++i) {
    const auto type = one.value<AVPacketSideDataType>();
    const std::string side = one.text();
    if (std::uint8_t* to = av_packet_new_side_data(&packet, type, side.size()); to != nullptr)
      std::copy(side.begin(), side.end(), to);
  }
  return true;
}

}  // namespace jugendstil
