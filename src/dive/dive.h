// SPDX-License-Identifier: Apache-2.0
// A film that falls into itself: each frame is the one before, moved a little and made anew.
#pragma once

#include <cstdint>
#include <vector>

#include "dive/inputs.h"
#include "film/progress.h"
#include "image/resample.h"

namespace jugendstil {

struct DiveResult {
  bool finished = false;
  Size size;
  std::int64_t frames = 0;            // of the film
  std::int64_t done = 0;              // frames made, where not finished
  std::int64_t kept = 0;              // of them by an earlier run
  std::vector<std::int64_t> retried;  // frames that were made at a second or third try
  std::vector<std::int64_t> filled;   // that came to nothing: the one before, moved
};

// Works frame by frame through the journal in workFolderFor(output): a run that was stopped or killed goes on
// from there and gives the same bytes. A frame that fails - not a number, noise, too far from the one before
// - is made again by smaller steps, then filled; the dive goes on. Throws as planDive() does, and DiskError.
DiveResult makeDive(const DiveInputs& inputs, const FilmCallbacks& callbacks);

}  // namespace jugendstil
