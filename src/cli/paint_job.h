// One painting from files to files: what `paint`, `redo` and `demo` have in common.
#pragma once

#include <filesystem>

#include "cli/progress.h"
#include "paint/recipe.h"

namespace jugendstil::cli {

struct PaintJob {
  Recipe recipe;  // inputs and settings; checksums of a recipe run again are compared
  std::filesystem::path output;
  std::filesystem::path layers;  // an OpenRaster file as well; empty: none
  std::filesystem::path chart;   // the loss's terms, drawn; empty: none
  bool force = false;
  bool dryRun = false;
  bool quiet = false;
  ProgressStyle progress = ProgressStyle::none;
};

// Paints, writes the picture and the recipe beside it, and says where. Returns 0, or 130 where Ctrl-C
// stopped it with the state kept. Throws Error.
int runPaintJob(const PaintJob& job);

}  // namespace jugendstil::cli
