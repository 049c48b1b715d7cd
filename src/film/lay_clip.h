// SPDX-License-Identifier: Apache-2.0
// Films over their clip again, frame by frame, without painting anew.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "lay/lay.h"

namespace jugendstil {

struct LaidClip {
  int width = 0;
  int height = 0;
  std::int64_t frames = 0;
  std::vector<std::int64_t> cuts;     // at which masks end, because nothing is known of the subject behind
  std::vector<std::int64_t> missing;  // frames that cannot be read of the clip or of a film; the clip's, or
                                      // the one before, stands there
};

// Lays films of a clip over it, in their order, and writes the result in the clip's size with its time stamps
// and sound. Masks are of the first frame and follow what they cover through the shot, where they are no
// clips or numbered frames themselves; a mask of strokes alone ends as white, another as black. `quality` is
// that of codecs that lose something. progress(frame, of) may throw Stopped. Throws Error where a film has
// another number of frames or another format than the clip, and as reading and writing do; nothing is left
// then.
LaidClip layOverClip(const std::string& clip, const std::vector<LaidPainting>& films,
                     const std::string& target, int quality,
                     const std::function<void(std::int64_t, std::int64_t)>& progress = {});

}  // namespace jugendstil
