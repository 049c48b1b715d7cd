// One film from files to files.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "cli/options.h"
#include "cli/progress.h"
#include "film/film.h"
#include "paint/recipe.h"

namespace jugendstil::cli {

// A file for one frame: "48=fixed.png".
struct FrameWord {
  std::int64_t frame = 0;
  std::filesystem::path path;
};

struct FilmJob {
  std::string clip;  // "-" reads YUV4MPEG2 from standard input
  std::string output;
  std::vector<ReferenceWord> references;
  std::filesystem::path network;
  PaintSettings paint;
  FilmSettings film;
  bool grade = false;
  std::filesystem::path look;
  std::vector<FrameWord> keys;
  std::vector<FrameWord> masks;  // pictures for frames
  std::string maskClip;          // or a clip
  bool maskInside = true;
  std::filesystem::path chart;
  bool proof = false;
  bool force = false;
  bool dryRun = false;
  bool quiet = false;
  ProgressStyle progress = ProgressStyle::none;
};

// Returns 0, or 130 where Ctrl-C stopped it with all finished frames kept. Throws Error.
int runFilmJob(FilmJob job);

}  // namespace jugendstil::cli
