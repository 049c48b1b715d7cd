// SPDX-License-Identifier: Apache-2.0
// What a dive is made from, and how it is asked for.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "clip/sound.h"
#include "dive/settings.h"
#include "image/image.h"
#include "learn/quick_painter.h"
#include "network/chain.h"
#include "paint/basis.h"

namespace jugendstil {

struct DiveInputs {
  Image start;         // RGB, any size; empty: noise
  bool grey = false;   // of noise: without colours
  std::string clip{};  // its frames are mixed in, as settings.source says; `start` is its first one
  Image inside{};      // one channel, any size: frames are made anew where it is white; empty: everywhere
  // Of amplifying and of painting.
  const Chain* chain = nullptr;
  std::vector<PaintReference> towards{};         // patterns of these are amplified; none: the picture's own
  Keys<std::vector<PaintReference>> references;  // painted after these, from one set to the next
  Keys<const QuickPainter*> painters;            // or by these at once
  std::optional<Sound> sound{};                  // what settings follow
  std::string soundFile{};                       // what is laid under; empty: nothing
  DiveSettings settings{};
  std::string output;    // as codecForName() takes it
  std::string making{};  // text of all that the frames depend on, to know them again by
  bool anew = false;     // throw away what an earlier run left
};

}  // namespace jugendstil
