// SPDX-License-Identifier: Apache-2.0
// libav's structures as values that clean up after themselves.
#pragma once

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavcodec/bsf.h>
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
  void operator()(AVBSFContext* c) const { av_bsf_free(&c); }
  void operator()(AVCodecParameters* p) const { avcodec_parameters_free(&p); }
};
struct FreeOutput {
  void operator()(AVFormatContext* c) const {
    if (c->pb != nullptr) avio_closep(&c->pb);
    avformat_free_context(c);
  }
};
using Input = std::unique_ptr<AVFormatContext, Free>;
using Output = std::unique_ptr<AVFormatContext, FreeOutput>;
using Codec = std::unique_ptr<AVCodecContext, Free>;
using Frame = std::unique_ptr<AVFrame, Free>;
using Packet = std::unique_ptr<AVPacket, Free>;
using Parameters = std::unique_ptr<AVCodecParameters, Free>;
using Filter = std::unique_ptr<AVBSFContext, Free>;
using Scaler = std::unique_ptr<SwsContext, Free>;

// What an error of libav means, in our words.
std::string reason(int code);

// Keeps libav from printing; failures are told by exceptions.
void quieten();

// Opens a file. Throws Error.
Input openInput(const std::string& name);

// The next packet; false at the end, which a file that is cut short has as well. Throws DiskError where the
// file cannot be read, which libav takes for its end.
bool readPacket(AVFormatContext& input, const std::string& name, AVPacket& packet);

// The system's own number for an error; 0 for one of libav's.
int systemError(int code);

}  // namespace jugendstil::av
