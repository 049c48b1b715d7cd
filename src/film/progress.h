// SPDX-License-Identifier: Apache-2.0
// How far a film is.
#pragma once

#include <cstdint>
#include <functional>

namespace jugendstil {

struct FilmProgress {
  const char* stage = "";   // "painting", "grading", "writing", ...
  std::int64_t frame = 0;   // done in this stage
  std::int64_t frames = 0;  // in all
  int step = 0;             // of the frame in work, where it has steps
  int steps = 0;
  double loss = 0;
  std::int64_t retried = 0;
  std::int64_t kept = 0;  // frames that an earlier run had finished
};

struct FilmCallbacks {
  // Often. Stopped ends the film, with all finished frames kept.
  std::function<void(const FilmProgress&)> progress;
  // For tests of what becomes of frames that fail: called before each try of a frame of the clip; an Error
  // that it throws is the frame's.
  std::function<void(std::int64_t frame, int attempt)> attempt;
};

}  // namespace jugendstil
