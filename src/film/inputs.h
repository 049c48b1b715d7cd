// SPDX-License-Identifier: Apache-2.0
// What a film is made from, and how it is asked for.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "film/settings.h"
#include "grade/match.h"
#include "image/image.h"
#include "learn/quick_painter.h"
#include "network/chain.h"
#include "paint/basis.h"
#include "paint/settings.h"

namespace jugendstil {

// A frame that the painter has painted or approved; it stands as it is and leads the others.
struct KeyFrame {
  std::int64_t frame = 0;  // of the clip
  Image picture;           // RGB
};

// A mask for one frame, followed from there on until the next one's, and back from the first.
struct MaskFrame {
  std::int64_t frame = 0;
  Image mask;  // 1 channel, any size
};

struct FilmMask {
  bool inside = true;             // whether white is painted, or black
  std::vector<MaskFrame> frames;  // either these
  std::string clip;               // or a clip of masks, frame by frame
};

// A part of every frame that has a likeness of its own.
struct FilmHold {
  Image mask;           // 1 channel, any size; empty: the faces in each frame
  double likeness = 0;  // 0 to 100
};

struct FilmInputs {
  std::string clip;    // as openClip() takes it
  std::string output;  // as codecForName() takes it
  // Painting.
  const Chain* chain = nullptr;
  // Paints frames at once instead, with `paint` as settingsWith gives it.
  const QuickPainter* painter = nullptr;
  // Makes what is painted over where nothing leads; `paint` with few levels and steps.
  const QuickPainter* beginner = nullptr;
  std::vector<PaintReference> references;
  PaintSettings paint;
  Image start;  // RGB; where paint.start is a file: what the first frame of each shot is painted over
  std::vector<KeyFrame> keys;
  // Grading instead: each shot matched to these, or by a given look.
  bool grade = false;
  std::vector<SharedStatistics> gradeReferences;
  std::optional<Look> look;

  FilmSettings film;
  std::optional<FilmMask> mask;
  std::vector<FilmHold> holds;  // of painting
  std::string making;           // text of all that the frames depend on, to know them again by
  bool anew = false;            // throw away what an earlier run left
};

}  // namespace jugendstil
