// SPDX-License-Identifier: Apache-2.0
// One film from files to files.
#pragma once

#include <filesystem>
#include <functional>
#include <string>

#include "cli/run_options.h"
#include "film/film_recipe.h"

namespace jugendstil::cli {

struct FilmJob : RunOptions {
  FilmRecipe recipe;  // its clip is "-" where YUV4MPEG2 comes from standard input
  std::string output;
  std::filesystem::path chart;
  bool proof = false;
};

// Seconds that so many frames take with these settings, by earlier work on this machine or a short trial. The
// job's files are read once. Throws Error.
using FilmTimeOf = std::function<double(const PaintSettings& settings, int frames)>;
FilmTimeOf filmTime(const FilmJob& job);

// Makes the film, and its recipe beside it. Returns 0, or 130 where Ctrl-C stopped it with all finished
// frames kept. Throws Error.
int runFilmJob(FilmJob job);

}  // namespace jugendstil::cli
