// A clip painted or graded, steadily.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "film/journal.h"
#include "film/settings.h"
#include "grade/match.h"
#include "paint/basis.h"
#include "paint/plan.h"

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

struct FilmPlan {
  std::string clip;    // as openClip() takes it
  std::string output;  // as codecForName() takes it
  // Painting.
  const Chain* chain = nullptr;
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
  std::string making;  // text of all that the frames depend on, to know them again by
  bool anew = false;   // throw away what an earlier run left
};

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
  // Often; false stops, with all finished frames kept.
  std::function<bool(const FilmProgress&)> progress;
  // Before each try of a frame of the clip; an Error that it throws counts as the frame's failure.
  std::function<void(std::int64_t frame, int attempt)> attempt;
};

// What the finished film says of one frame.
struct FrameFigures {
  std::int64_t source = 0;  // its number in the clip
  bool shotBegins = false;
  int tries = 1;        // 0: the clip's frame is damaged
  bool filled = false;  // made from its neighbours
  double error = 0;     // warping errors against the frame before; 0 where a shot begins
  double sourceError = 0;
  double trusted = 0;  // part of the pixels that they were measured on
  double loss = 0;
  int steps = 0;
  double maskConfidence = 1;
};

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

// What will be done, before it is.
struct FilmOutline {
  ClipInfo clip;
  Size size;
  std::int64_t frames = 0;
  PaintPlan paint;  // of a shot's first frame; empty for grading
  int frameSteps = 0;
  std::size_t memory = 0;
};
FilmOutline outlineFilm(const FilmPlan& plan);

// Works frame by frame with bounded memory, through the journal in workFolderFor(output): a run that was
// stopped goes on from there and gives the same bytes. Throws Error: unreadable clip, nothing chosen, full
// disk (finished frames are kept).
FilmResult makeFilm(const FilmPlan& plan, const FilmCallbacks& callbacks);

}  // namespace jugendstil
