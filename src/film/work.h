// SPDX-License-Identifier: Apache-2.0
// What the stages of a film share.
#pragma once

#include <vector>

#include "film/frame_feed.h"
#include "film/inputs.h"
#include "film/journal.h"
#include "film/progress.h"

namespace jugendstil {

struct FilmWork {
  const FilmInputs& inputs;
  const FilmCallbacks& callbacks;
  FrameFeed& feed;
  Journal& journal;
  Size size;                 // of the film's frames
  Size painted;              // of those that are painted and lead one another: as large or smaller
  std::vector<float> fades;  // of each place; empty where nothing fades
  std::int64_t retried = 0;
  std::int64_t kept = 0;

  float fade(std::int64_t place) const { return fades.empty() ? 1.0F : fades[place]; }

  // Tells how far a stage is; may throw Stopped.
  void tell(const char* stage, std::int64_t frame, std::int64_t frames, int step = 0, int steps = 0,
            double loss = 0) const;
};

}  // namespace jugendstil
