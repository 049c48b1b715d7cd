// SPDX-License-Identifier: Apache-2.0
// Clips out: encoded into one file that appears whole, with the source's sound.
#pragma once

#include <memory>
#include <optional>
#include <string>

#include "clip/clip.h"

namespace jugendstil {

enum class ClipCodec { ffv1, vp9, av1, h264, y4m, png };

// By a name: .mkv is FFV1, .webm VP9, .mp4 and .mov H.264, .y4m and "-" YUV4MPEG2, a pattern ending in .png
// frames. Throws UsageError for other names.
ClipCodec codecForName(const std::string& name);
// "ffv1", "vp9", "av1", "h264". Throws UsageError.
ClipCodec codecFromWord(const std::string& word);

struct ClipFormat {
  ClipCodec codec = ClipCodec::ffv1;
  int quality = 85;  // 0 to 100, of the codecs that lose something
  int width = 0;     // even where the codec halves chroma (halvesChroma)
  int height = 0;
  int bits = 8;  // more than 8 is written with 10 (FFV1: 16 where the source has more than 10)
  Ratio rate;
  Ratio timeBase;
  ColourTags colour;
  std::int64_t firstNumber = 0;  // of frames written one by one
};

// Whether frames of this codec need even sides.
bool halvesChroma(ClipCodec codec);

// Copies sound as it stands, cut to the frames shown.
struct SoundSource {
  std::string clip;
  double from = 0;  // seconds of the clip at which the first frame is shown
  double to = 0;    // where the last frame ends
};

// Throws UsageError where the name's container cannot hold that codec.
void requireCodecFits(const std::string& name, ClipCodec codec);

// Throws UsageError where the name's container cannot hold the clip's sound.
void requireSoundFits(const std::string& name, const std::string& clip);

class ClipWriter {
 public:
  virtual ~ClipWriter() = default;
  // Display-encoded RGB; `time` in the format's time base, rising. Throws Error: another size, disk full.
  virtual void write(const Image& frame, std::int64_t time) = 0;
  // Without it nothing is left under the final name (of numbered frames: those that were written).
  virtual void finish() = 0;
};

// Throws Error where the folder cannot be written or the encoder is not installed.
std::unique_ptr<ClipWriter> createClip(const std::string& name, const ClipFormat& format,
                                       const std::optional<SoundSource>& sound);

}  // namespace jugendstil
