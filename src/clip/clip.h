// SPDX-License-Identifier: Apache-2.0
// What a clip is, apart from its pixels.
#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "image/image.h"

namespace jugendstil {

struct Ratio {
  int over = 1;
  int under = 1;
  double value() const { return 1.0 * over / under; }
};

// The numbers of ITU-T H.273 as files store them; 2 is unspecified.
struct ColourTags {
  int primaries = 2;
  int transfer = 2;
  int matrix = 2;
  bool fullRange = false;
};

struct ClipInfo {
  std::filesystem::path path;
  int width = 0;  // upright
  int height = 0;
  int bits = 8;           // of a sample, as stored
  Ratio rate{24, 1};      // frames a second, on average
  Ratio timeBase{1, 24};  // seconds in one unit of `times`
  ColourTags colour;
  // When each frame is shown, from 0 on.
  std::vector<std::int64_t> times;
  double seconds = 0;            // as the container says; 0 where it does not
  std::int64_t firstNumber = 0;  // of a folder of frames
  std::string sound;             // codec of the sound streams, "aac, flac"; empty without
  std::string codec;             // of the pictures
  bool variableRate = false;     // whether frames are shown for unequal times
  bool endsEarly = false;        // whether the container announced more than is there
};

enum class FrameState {
  read,
  missing,  // its data is damaged; the clip goes on
  end,
};

// Frames one after the other, with their numbers from 0.
class FrameSource {
 public:
  virtual ~FrameSource() = default;
  virtual const ClipInfo& info() const = 0;
  // The next frame, upright RGB, display-encoded. Throws Error where the frames change size.
  virtual FrameState read(Image& frame) = 0;
  // Goes to a frame, so that read() gives it next.
  virtual void seek(std::int64_t frame) = 0;
  virtual std::int64_t position() const = 0;
};

// A clip that libav reads, or a folder of frames by pattern (shot_%05d.png).
// Throws Error: missing, not a clip, no pictures in it, no frames.
std::unique_ptr<FrameSource> openClip(const std::string& name);

// Whether a name means numbered frames: it has one %d or %0Nd, and no file is called like that.
bool isFramePattern(const std::string& name);
// Whether a name is that of a clip: a film file, or numbered frames.
bool isClipName(const std::string& name);
// The name of a frame of a pattern.
std::string frameName(const std::string& pattern, std::int64_t number);

}  // namespace jugendstil
