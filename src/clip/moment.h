// SPDX-License-Identifier: Apache-2.0
// Moments of a clip as a person names them.
#pragma once

#include <cstdint>
#include <string_view>

#include "clip/clip.h"

namespace jugendstil {

// A frame by its number, from 0, or a time in seconds from the first frame on.
struct Moment {
  bool isTime = false;
  std::int64_t frame = 0;
  double seconds = 0;
};

// "48", "2s", "2.5s", "0:02.5", "1:02:03". Throws UsageError, which calls the text `name`, for anything else.
Moment momentOf(std::string_view name, std::string_view text);

// The first frame that is shown at a moment or after it; the number of frames where none is.
std::int64_t firstFrameFrom(const ClipInfo& clip, const Moment& moment);

// The last frame of a stretch that ends with a frame, or at a time, at which it is shown no more; -1 where
// that is before the first.
std::int64_t lastFrameTo(const ClipInfo& clip, const Moment& moment);

}  // namespace jugendstil
