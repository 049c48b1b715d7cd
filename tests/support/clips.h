// SPDX-License-Identifier: Apache-2.0
// Clips for tests, written with libav alone, so that our own reader is checked against another hand.
#pragma once

#include <cstdint>
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "image/image.h"

namespace testing_support {

struct ClipRecipe {
  int width = 64;
  int height = 48;
  int frames = 6;
  std::string codec = "ffv1";
  std::string format = "yuv420p";  // of libav's pixel formats
  int matrix = 1;                  // H.273: 1 BT.709, 6 BT.601
  bool full = false;
  bool sound = false;
  int rotation = 0;                 // degrees counter-clockwise, as a display matrix
  std::vector<std::int64_t> times;  // in 1/1000 s; empty: 24 a second
};

// Frames are `picture(i)`, RGB in [0, 1]; turned into the format's samples by the formulas of BT.601 and
// BT.709.
void writeClip(const std::filesystem::path& path, const ClipRecipe& recipe,
               const std::function<jugendstil::Image(int)>& picture);

// A scene of which each frame shows a part, moved by (dx, dy) pixels a frame.
std::function<jugendstil::Image(int)> gliding(int width, int height, double dx, double dy, unsigned seed = 1);

// What libav says of a file's streams: "video ffv1 64x48", "audio pcm_s16le 12345 bytes".
std::vector<std::string> streamsOf(const std::filesystem::path& path);

}  // namespace testing_support
