// SPDX-License-Identifier: Apache-2.0
// The coarse-to-fine painter.
#pragma once

#include <functional>
#include <vector>

#include "image/image.h"
#include "network/chain.h"
#include "paint/keeping.h"
#include "paint/plan.h"
#include "paint/regions.h"
#include "paint/settings.h"
#include "style/objective.h"

namespace jugendstil {

struct PaintProgress {
  int level = 0;  // from 0
  int levels = 0;
  int step = 0;  // within the level, from 1
  int steps = 0;
  LossTerms loss;
  double done = 0;         // part of the whole work, 0 to 1
  bool enlarging = false;  // the level is one of those that only lay brush-work in; the loss stays
};

struct PaintCallbacks {
  // After each step. Stopped ends the painting with the state reached, which is kept.
  std::function<void(const PaintProgress&)> progress;
  // Where settings.snapshots asks for it: the picture at the level's size, and the steps done in all.
  std::function<void(const Image&, int step)> snapshot;
  // Where a state of the same making lies in its file, the painting goes on from there and this tells from
  // where; it gives the same bytes as one that was never stopped.
  StateKeeping keeping;
  std::function<void(const PaintProgress&)> resumed;
};

struct PaintResult {
  Image picture;   // RGB, display-encoded, at the final size whatever level was reached
  Image painting;  // the same before it was laid over the photo
  Image photo;     // the photo at that size, RGB
  Image shown;     // 1 channel: where the painting lies over the photo; empty: everywhere
  bool finished = false;
  LossTerms loss;
  PaintProgress last;
  int recovered = 0;  // times a bad step was taken back
  int spared = 0;     // steps that were not needed, where settings.untilGood looked for them
  // Why the state could not be kept; empty where it was, or where it need not be.
  std::string notKept;
};

// Paints the photo in the manner of the references. Threads must have been set before (setThreads). Same
// inputs, settings and processor give the same bytes. Throws Error: photo or reference too small, no
// references, unknown bands in the emphasis, a mask that leaves nothing, memory.
PaintResult paint(const Chain& chain, const PaintInputs& inputs, const PaintSettings& settings,
                  const PaintCallbacks& callbacks);

}  // namespace jugendstil
