// SPDX-License-Identifier: Apache-2.0
// A clip painted or graded, steadily.
#pragma once

#include <cstdint>
#include <vector>

#include "film/figures.h"
#include "film/inputs.h"
#include "film/progress.h"

namespace jugendstil {

struct FilmResult {
  bool finished = false;
  int width = 0;
  int height = 0;
  std::vector<FrameFigures> frames;
  std::int64_t done = 0;  // frames made, where not finished
  std::int64_t kept = 0;  // of them by an earlier run
  double error = 0;       // means over the frames that have a predecessor
  double sourceError = 0;
  double paintSeconds = 0;  // all that was spent on frames, by earlier runs too
};

// Works frame by frame with bounded memory, through the journal in workFolderFor(output): a run that was
// stopped goes on from there and gives the same bytes. Throws Error: unreadable clip, nothing chosen, full
// disk (finished frames are kept).
FilmResult makeFilm(const FilmInputs& inputs, const FilmCallbacks& callbacks);

}  // namespace jugendstil
