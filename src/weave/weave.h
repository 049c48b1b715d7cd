// SPDX-License-Identifier: Apache-2.0
// All that weaving does, from swatches to a picture.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "image/image.h"
#include "weave/mix.h"
#include "weave/woven.h"

namespace jugendstil {

struct WeaveSwatch {
  Image picture;  // RGB, display-encoded
  double share = 1;
};

struct WeaveInputs {
  std::vector<WeaveSwatch> swatches;
  int width = 0;
  int height = 0;
  Repeats repeats;
  std::uint64_t seed = 1;
  Mix mix = Mix::apart;
  Image over;       // one channel, any size: black is the first swatch and white the last; or empty
  Image layout;     // RGB, any size of the piece's format; or empty
  Image layoutMap;  // RGB of the first swatch's size; empty where its own tones are meant
  // One channel of `picture`'s size, above 0 where it is filled: from what is around, and from the swatches
  // where there are any. Empty where a piece is grown.
  Image picture;
  Image hole;
};

// The piece, RGB, display-encoded. Progress is told from 0 to 1 and may throw Stopped. Throws Error and
// UsageError, as grow.h, layout.h say it, and where maps do not go together with the swatches.
Image weave(const WeaveInputs& inputs, const std::function<void(double)>& progress);

}  // namespace jugendstil
