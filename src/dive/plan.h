// SPDX-License-Identifier: Apache-2.0
// What a dive will do, frame by frame, before it does it.
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

#include "amplify/amplify.h"
#include "clip/clip.h"
#include "dive/inputs.h"
#include "dive/move.h"
#include "paint/plan.h"

namespace jugendstil {

// How one frame comes out of the one before.
struct DiveFrame {
  Move move;
  double strength = 0;  // 0 to 100
  double source = 0;    // 0 to 1
  KeyPlace made;        // among the keys of what it is made by: bands, references or painters

  // Whether it is the frame before, as that is.
  bool same() const { return move.still() && strength <= 0 && source <= 0; }
};

struct DivePlan {
  Size size;          // of the film
  Size worked;        // of the frames that come out of one another; brush-work is laid in beyond it
  Ratio rate;         // frames a second
  std::int64_t film;  // frames of the film
  // All that are made; the first comes from the start. A loop's last ones fade into its first.
  std::vector<DiveFrame> frames;
  std::size_t keys = 0;    // of what frames are made by
  double strongest = 0;    // of all frames
  PaintPlan paint;         // of painting; no steps where frames are not optimised
  AmplifyPlan amplify;     // of amplifying
  double furtherWork = 0;  // pixel steps of a frame after the first
  std::size_t memory = 0;  // bytes at the peak
  std::int64_t overlap() const { return std::ssize(frames) - film; }
};

// Steps of a painted frame after the first.
int stepsOfFrame(const DiveSettings& settings);

// Throws UsageError: keys out of order, a centre outside the picture or a shift beyond half of it, a zoom
// that no frame can make, nothing to paint after; and as planAmplifying() and planPainting() do. Error: a
// clip that cannot be read.
DivePlan planDive(const DiveInputs& inputs);

}  // namespace jugendstil
