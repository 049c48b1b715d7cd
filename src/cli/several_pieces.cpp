// SPDX-License-Identifier: Apache-2.0
#include "cli/several_pieces.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/number.h"
#include "base/stop.h"
#include "cli/options.h"
#include "cli/say.h"
#include "image/picture_file.h"
#include "recipe/recipe_writer.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

void writeSheet(const fs::path& file, const SeveralPieces& pieces) {
  std::vector<SheetCell> cells;
  for (std::size_t i = 0; i < pieces.outputs.size(); ++i) {
    const fs::path& output = pieces.outputs[i];
    cells.push_back(
        {readPicture(output).image, pieces.caption(i), recipePathFor(output).filename().string()});
  }
  SheetOptions options;
  options.title = fmt::format("{} pieces", cells.size());
  options.columns = std::min(4, countOf(cells));
  writePicture(file, contactSheet(cells, options), Depth::eight);
}

}  // namespace

int makeSeveral(const SeveralPieces& pieces, const RunOptions& run) {
  const std::size_t count = pieces.outputs.size();
  const fs::path sheet = pieces.folder / "sheet.png";
  std::vector<std::size_t> missing;
  for (std::size_t i = 0; i < count; ++i) {
    if (run.force || !pieces.isMade(i)) missing.push_back(i);
  }
  const std::size_t kept = count - missing.size();
  // A sheet that lies there with pieces of these is theirs.
  if (kept == 0) requireFree(sheet, run.force);
  for (const std::size_t i : missing) pieces.requirePlaces(i);
  if (kept > 0 && !run.quiet) say(stderr, "{} of {} pieces are there already and kept\n", kept, count);
  std::size_t done = kept;
  try {
    for (const std::size_t i : missing) {
      pieces.make(i);
      ++done;
    }
  } catch (const Stopped&) {
    if (done == 0) throw;
    const std::string message = fmt::format(
        "stopped; {} of {} pieces are there, the same command goes on with the rest", done, count);
    return tellStopped(run, message);
  }
  if (run.dryRun) {
    say(stdout, "{} pieces and {}\n", count, sheet.string());
    return 0;
  }
  writeSheet(sheet, pieces);
  if (run.progress != ProgressStyle::json) say(stdout, "{}: {} pieces side by side\n", sheet.string(), count);
  return 0;
}

}  // namespace jugendstil::cli
