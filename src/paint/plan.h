// SPDX-License-Identifier: Apache-2.0
// What a painting will do, before it does it: sizes, steps, work and memory.
#pragma once

#include <vector>

#include "image/resample.h"
#include "network/chain.h"
#include "paint/level.h"
#include "paint/settings.h"

namespace jugendstil {

struct PaintPlan {
  std::vector<LevelPlan> levels;  // coarse to fine
  Size softened;                  // what the painting is then reduced to, for brush-work to be laid in
  std::vector<Size> quiet;        // what its quiet places go through before (quiet.h)
  std::vector<Size> enlarging;    // and from there enlarged to, with brush-work
  Size working;                   // of the last level, also where a proof leaves it out
  Precision precision = Precision::full;
  std::size_t memory = 0;  // bytes at the peak, to about a fifth
  bool tiled = false;      // whether a level is painted in tiles to stay within what is allowed

  Size size() const { return enlarging.empty() ? levels.back().picture : enlarging.back(); }
  double work() const;                        // pixel steps, or what takes as long as these
  double enlargingWork(std::size_t i) const;  // one stage's part of it
};

// The longer side that a painting has: as set, or the photo's own up to 1024.
int longEdgeFor(Size photo, const PaintSettings& settings);

// Throws UsageError where the numbers of steps and levels do not agree, the emphasis is bad or the memory
// allowed is too little, Error where the photo is below 16 pixels a side.
PaintPlan planPainting(Size photo, const PaintSettings& settings, const Chain& chain);

// The same where no losses are optimised, because something else paints the working size at once (src/learn),
// in the strokes of pictures of this longer side: that is one level without steps, and brush-work beyond it.
// Without brush-work it is the painting's own size.
PaintPlan planAtOnce(Size photo, const PaintSettings& settings, int edge);

// The chain with bands where the settings want style and likeness measured. Throws UsageError for layers that
// are not there.
Chain chainFor(Chain chain, const PaintSettings& settings);

// The emphasis of each of the chain's style bands. Throws UsageError for unknown bands or none above 0.
std::vector<double> emphasisFor(const Chain& chain, const PaintSettings& settings);

// What `automatic` means on this processor.
Precision chosenPrecision(PrecisionChoice choice);

}  // namespace jugendstil
