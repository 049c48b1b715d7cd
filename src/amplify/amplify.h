// SPDX-License-Identifier: Apache-2.0
// Patterns that a network sees in a picture are strengthened, size by size.
#pragma once

#include <functional>
#include <vector>

#include "amplify/settings.h"
#include "image/image.h"
#include "network/chain.h"
#include "paint/basis.h"
#include "paint/level.h"

namespace jugendstil {

struct AmplifyInputs {
  Image photo;                          // RGB or RGBA, display-encoded
  std::vector<PaintReference> towards;  // patterns of these; none: the photo's own
  Image shown;                          // 1 channel, any size: amplified where it is white; empty: everywhere
};

// The distance from the photo at strength 100, as distanceOf() has it: there little of it can be made out.
inline constexpr double kFarthest = 0.24;

struct AmplifyPlan {
  std::vector<LevelPlan> sizes;  // coarse to fine, one octave or less apart
  double pattern = 0;            // pixels of the last size
  std::size_t memory = 0;        // bytes at the peak, to about a fifth
  bool tiled = false;            // whether a size is worked on in tiles
  Size size() const { return sizes.back().picture; }
  double work() const;  // pixel steps
};

// Throws UsageError: bands that the network does not have (the nearest is offered), channels that a band does
// not have, patterns too small for the bands or too large for the picture, too little memory; Error where the
// photo is too small.
AmplifyPlan planAmplifying(Size photo, const AmplifySettings& settings, const Chain& chain);

struct AmplifyCallbacks {
  // What part is done, before each step; may throw.
  std::function<void(double)> progress;
  // Where the settings ask for it: the picture at its size of then, before it is laid over the photo, and the
  // steps done in all.
  std::function<void(const Image&, int step)> snapshot{};
};

// The photo amplified and laid over itself, RGB in [0, 1], of the plan's size. Gradient ascent on
// activations (Simonyan, Vedaldi & Zisserman 2014; Olah, Mordvintsev & Schubert 2017) at each size of the
// plan, what was found at one carried on to the next. With strength 0 the photo comes back as it is. Throws
// as planAmplifying() does.
Image amplified(const Chain& chain, const AmplifyInputs& inputs, const AmplifySettings& settings,
                const AmplifyCallbacks& callbacks);

}  // namespace jugendstil
