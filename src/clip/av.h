// libav's structures as values that clean up after themselves.
#pragma once

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/display.h>
#include <libavutil/opt.h>
#include <libavutil/pixdesc.h>
#include <libswscale/swscale.h>
}

#include <memory>
#include <string>

namespace jugendstil::av {

struct Free {
  void operator()(AVFormatContext* c) const { avformat_close_input(&c); }
  void operator()(AVCodecContext* c) const { avcodec_free_context(&c); }
  void operator()(AVFrame* f) const { av_frame_free(&f); }
  void operator()(AVPacket* p) const { av_packet_free(&p); }
  void operator()(SwsContext* c) const { sws_freeContext(c); }
};
using Input = std::unique_ptr<AVFormatContext, Free>;
using Codec = std::unique_ptr<AVCodecContext, Free>;
using Frame = std::unique_ptr<AVFrame, Free>;
using Packet = std::unique_ptr<AVPacket, Free>;
using Scaler = std::unique_ptr<SwsContext, Free>;

// libav's own words for an error.
std::string message(int code);

// Keeps libav from printing; failures are told by exceptions.
void quieten();

// Opens a file. Throws Error.
Input openInput(const std::string& name);

}  // namespace jugendstil::av
