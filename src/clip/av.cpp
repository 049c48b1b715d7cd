// SPDX-License-Identifier: Apache-2.0
#include "clip/av.h"

#include <fmt/format.h>

#include <cstring>
#include <filesystem>

#include "base/error.h"
#include "base/file.h"

namespace jugendstil::av {
namespace {

// Formats of clips and sounds that hold their own data. Others - playlists, lists of parts, descriptions of
// streams - name further files, which are not the user's to have opened.
constexpr const char* kFormats =
    "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts,mpeg,mpegvideo,ogg,flv,asf,nut,mxf,ivf,dv,gxf,rm,"
    "yuv4mpegpipe,gif,apng,h264,hevc,m4v,obu,png_pipe,jpeg_pipe,tiff_pipe,webp_pipe,bmp_pipe,"
    "wav,w64,aiff,caf,flac,mp3,aac,ac3,eac3,au";

// Owns what is asked of the library.
class Options {
 public:
  Options() = default;
  ~Options() { av_dict_free(&values_); }
  Options(const Options&) = delete;
  Options& operator=(const Options&) = delete;

  void set(const char* name, const char* value) { av_dict_set(&values_, name, value, 0); }
  AVDictionary** get() { return &values_; }

 private:
  AVDictionary* values_ = nullptr;
};

}  // namespace

std::string reason(int code) {
  if (code == AVERROR_INVALIDDATA) return "its data is damaged or not what its beginning says";
  if (code == AVERROR_EOF) return "it breaks off";
  if (code == AVERROR_DECODER_NOT_FOUND || code == AVERROR_DEMUXER_NOT_FOUND)
    return "its format is not known here";
  if (code == AVERROR_ENCODER_NOT_FOUND || code == AVERROR_MUXER_NOT_FOUND)
    return "its format cannot be written here";
  if (code == AVERROR_PATCHWELCOME) return "it has something that cannot be read here";
  if (const int number = systemError(code); number != 0) return std::strerror(number);
  return "it is not as its format has it";
}

void quieten() { av_log_set_level(AV_LOG_QUIET); }

Input openInput(const std::string& name) {
  quieten();
  std::error_code code;
  if (!std::filesystem::exists(name, code)) throw Error(fmt::format("there is no clip {}", name));
  if (std::filesystem::is_directory(name, code)) {
    throw Error(
        fmt::format("{} is a folder; name its frames by a pattern, like {}/shot_%05d.png", name, name));
  }
  requireRegularFile(name);
  if (std::filesystem::file_size(name, code) == 0 && !code) throw Error(fmt::format("{} is empty", name));
  Options options;
  options.set("format_whitelist", kFormats);
  options.set("protocol_whitelist", "file,pipe");
  AVFormatContext* raw = nullptr;
  const int result = avformat_open_input(&raw, ("file:" + name).c_str(), nullptr, options.get());
  if (result < 0) {
    // What the library says of a format that is not among ours.
    const std::string why = result == AVERROR(EINVAL)
                                ? "it is a list of other files, or of a format that is not read here"
                                : reason(result);
    throw Error(fmt::format("{} cannot be read as a clip ({}); it may be cut short or not be a film at all",
                            name, why));
  }
  Input input(raw);
  const int found = avformat_find_stream_info(raw, nullptr);
  if (found < 0) throw Error(fmt::format("{} holds nothing that can be read ({})", name, reason(found)));
  return input;
}

int systemError(int code) {
  constexpr int kMost = 4096;  // libav's own are four letters in one number, far beyond
  return code < 0 && code > -kMost ? AVUNERROR(code) : 0;
}

bool readPacket(AVFormatContext& input, const std::string& name, AVPacket& packet) {
  const int result = av_read_frame(&input, &packet);
  // Demuxers say EIO of files that are cut short as well; only the protocol knows.
  if (result < 0 && input.pb != nullptr && systemError(input.pb->error) != 0)
    throw DiskError(fmt::format("{}: cannot be read", name), std::strerror(systemError(input.pb->error)));
  return result >= 0;
}

}  // namespace jugendstil::av
