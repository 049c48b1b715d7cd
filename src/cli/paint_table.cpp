// SPDX-License-Identifier: Apache-2.0
#include "cli/paint_table.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "base/checksum.h"
#include "base/error.h"
#include "cli/calibration.h"
#include "cli/options.h"
#include "cli/paint_run.h"
#include "cli/paint_state.h"
#include "cli/painters.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "cli/vary.h"
#include "image/picture_file.h"
#include "paint/first_state.h"
#include "recipe/recipe_file.h"
#include "recipe/recipe_writer.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMostPaintings = 400;
// Cells of the sheet, in pixels: room for a name, and for as many columns as a screen shows.
constexpr int kNarrowCell = 300;
constexpr int kWideCell = 480;
// One painting, and what tells it from the others.
struct Cell {
  PaintJob job;
  std::string name;
  std::string caption;
};

Choice paintChoice(const std::string& word) {
  PaintSettings trial;
  return choiceFrom(word, [&](const std::string& setting, const std::string& value) {
    setPaintSetting(trial, setting, value);
  });
}

std::vector<Cell> byReference(const Cell& cell, bool each) {
  if (!each || cell.job.recipe.references.size() < 2) return {cell};
  std::vector<Cell> cells;
  for (const RecipeInput& reference : cell.job.recipe.references) {
    Cell one = cell;
    one.job.recipe.references = {reference};
    one.job.recipe.references.front().share = 1;
    one.name += "-after-" + reference.path.stem().string();
    one.caption += " after " + reference.path.stem().string();
    cells.push_back(std::move(one));
  }
  return cells;
}

std::vector<Cell> byChoice(const Cell& cell, const Choice& choice) {
  std::vector<Cell> cells;
  for (const std::string& value : choice.values) {
    Cell one = cell;
    setPaintSetting(one.job.recipe.settings, choice.setting, value);
    one.name += fmt::format("-{}-{}", choice.setting, fileWord(value));
    one.caption += fmt::format(", {} {}", choice.setting, value);
    cells.push_back(std::move(one));
  }
  return cells;
}

template <typename F>
std::vector<Cell> split(const std::vector<Cell>& cells, const F& f) {
  std::vector<Cell> all;
  for (const Cell& cell : cells) {
    for (Cell& one : f(cell)) all.push_back(std::move(one));
    if (all.size() > kMostPaintings)
      throw UsageError(
          fmt::format("the table has more than {} paintings; vary less at once", kMostPaintings));
  }
  return all;
}

void requireOwnNames(const std::vector<Cell>& cells) {
  std::vector<std::string> names;
  for (const Cell& cell : cells) names.push_back(cell.job.output.filename().string());
  std::sort(names.begin(), names.end());
  const auto twice = std::adjacent_find(names.begin(), names.end());
  if (twice != names.end())
    throw UsageError(fmt::format(
        "two paintings would be named {}; give photos and references names of their own", *twice));
}

// The start may have become another one.
void takeStart(PaintRecipe& recipe) {
  const std::string& start = recipe.settings.start;
  if (startIsWord(start)) {
    recipe.start.reset();
  } else if (!recipe.start || recipe.start->path != start) {
    recipe.start = inputNamed(start);
  }
}

std::vector<Cell> cellsOf(const PaintTable& table) {
  std::vector<Cell> cells;
  for (const fs::path& photo : table.photos) {
    Cell cell{table.base, photo.stem().string(), photo.stem().string()};
    cell.job.recipe.photo = inputNamed(photo);
    cells.push_back(std::move(cell));
  }
  cells = split(cells, [&](const Cell& cell) { return byReference(cell, table.each); });
  for (const std::string& word : table.vary) {
    const Choice choice = paintChoice(word);
    cells = split(cells, [&](const Cell& cell) { return byChoice(cell, choice); });
  }
  for (Cell& cell : cells) {
    takeStart(cell.job.recipe);
    cell.job.output = table.base.output / (fileWord(cell.name) + ".png");
  }
  requireOwnNames(cells);
  return cells;
}

bool sameFile(const RecipeInput& known, const RecipeInput& asked) {
  return known.share == asked.share && known.checksum == fileChecksum(asked.path);
}

bool sameFile(const std::optional<RecipeInput>& known, const std::optional<RecipeInput>& asked) {
  return known.has_value() == asked.has_value() && (!known || sameFile(*known, *asked));
}

bool samePart(const RecipePart& known, const RecipePart& asked) {
  return sameFile(known.mask, asked.mask) && sameFile(known.reference, asked.reference);
}

bool sameHold(const RecipeHold& known, const RecipeHold& asked) {
  return sameFile(known.mask, asked.mask) && known.likeness == asked.likeness;
}

bool sameMask(const std::optional<RecipeMask>& known, const std::optional<RecipeMask>& asked) {
  if (!known || !asked) return known.has_value() == asked.has_value();
  return sameFile(known->file, asked->file) && known->inside == asked->inside;
}

bool sameSettings(const PaintSettings& known, const PaintSettings& asked) {
  const auto& table = paintSettingTable();
  return std::all_of(table.begin(), table.end(), [&](const SettingInfo& info) {
    // A file to start from is known by its content.
    if (info.name == "start" && !startIsWord(known.start) && !startIsWord(asked.start)) return true;
    return paintSettingText(known, info.name) == paintSettingText(asked, info.name);
  });
}

// Whether an earlier run has painted just this.
bool isPainted(const PaintJob& job) {
  std::error_code code;
  const fs::path file = recipePathFor(job.output);
  if (job.force || !fs::exists(job.output, code) || !fs::exists(file, code)) return false;
  const PaintRecipe known = parsePaintRecipe(readRecipe(file), file);
  PaintRecipe asked = job.recipe;
  if (paintsAtOnce(asked) && !asked.settings.quick)
    asked.settings = settingsWith(readPainters(asked, true).choice, asked.settings);
  if (!known.result || !known.result->finished || known.result->version != JUGENDSTIL_VERSION) return false;
  const auto same = [](const RecipeInput& a, const RecipeInput& b) { return sameFile(a, b); };
  return sameSettings(known.settings, asked.settings) &&
         std::equal(known.references.begin(), known.references.end(), asked.references.begin(),
                    asked.references.end(), same) &&
         std::equal(known.parts.begin(), known.parts.end(), asked.parts.begin(), asked.parts.end(),
                    samePart) &&
         std::equal(known.holds.begin(), known.holds.end(), asked.holds.begin(), asked.holds.end(),
                    sameHold) &&
         sameFile(known.drawnLines, asked.drawnLines) && sameFile(known.linesInside, asked.linesInside) &&
         sameFile(known.photo, asked.photo) && sameFile(known.start, asked.start) &&
         sameFile(known.painter, asked.painter) && sameMask(known.mask, asked.mask) &&
         sameFile(known.network, asked.network);
}

// Cells that differ in nothing but how the painting is laid over the photo have one painting: that of the
// first of them, which is given for each.
std::vector<std::size_t> leadersOf(const std::vector<Cell>& cells) {
  std::vector<std::size_t> leaders;
  std::map<std::string, std::size_t> first;
  for (std::size_t i = 0; i < cells.size(); ++i) {
    const PaintRecipe& recipe = cells[i].job.recipe;
    leaders.push_back(paintsAtOnce(recipe) ? i : first.try_emplace(makingOf(recipe), i).first->second);
  }
  return leaders;
}

// The cell's job, which lays the leader's painting over the photo where that is there by now.
PaintJob jobAfter(const Cell& leader, const Cell& cell) {
  PaintJob job = cell.job;
  const fs::path file = recipePathFor(leader.job.output);
  std::error_code code;
  if (&leader == &cell || !fs::exists(file, code)) return job;
  const PaintRecipe known = parsePaintRecipe(readRecipe(file), file);
  if (!known.result || !known.result->finished) return job;
  job.recipe.painting = known.painting;
  job.earlier = known.result;
  return job;
}

void writeSheet(const PaintTable& table, const std::vector<Cell>& cells, std::size_t across) {
  SheetOptions options;
  options.title = fmt::format("{} paintings", cells.size());
  options.columns = static_cast<int>(across);
  std::vector<SheetCell> sheet;
  int widest = 1;
  for (const Cell& cell : cells) {
    std::error_code code;
    sheet.emplace_back();
    if (fs::exists(cell.job.output, code)) sheet.back().picture = readPicture(cell.job.output).image;
    widest = std::max(widest, sheet.back().picture.width);
  }
  options.cellWidth = std::clamp(widest, across > 4 ? kNarrowCell : kNarrowCell * 4 / 3, kWideCell);
  options.cellHeight = 1;
  for (std::size_t i = 0; i < cells.size(); ++i) {
    const Image& picture = sheet[i].picture;
    if (!picture.empty()) {
      const int height = std::min(picture.height, picture.height * options.cellWidth / picture.width);
      options.cellHeight = std::max(options.cellHeight, std::min(height, kWideCell));
    }
    sheet[i].caption = cells[i].caption;
    sheet[i].note = recipePathFor(cells[i].job.output).filename().string();
  }
  writePicture(table.base.output / "sheet.png", contactSheet(sheet, options), Depth::eight);
}

// Columns: the values of the last thing that changes from cell to cell, or as many as make a good sheet.
std::size_t columnsOf(const PaintTable& table, std::size_t cells) {
  std::size_t last = table.each ? table.base.recipe.references.size() : 1;
  if (!table.vary.empty()) last = paintChoice(table.vary.back()).values.size();
  // Of two or three, a whole multiple that fills the page's width.
  while (last > 1 && last < 4 && last * 2 <= 6 && last * 2 <= cells) last *= 2;
  return last > 1 && last <= 8 ? last : std::min<std::size_t>(cells, 4);
}

// What stands in the folder already, as an earlier run of this table left it.
std::vector<bool> paintedBefore(const std::vector<Cell>& cells) {
  std::vector<bool> painted;
  for (const Cell& cell : cells) {
    painted.push_back(isPainted(cell.job));
    if (painted.back() || goesOn(cell.job.recipe, cell.job.output, cell.job.force)) continue;
    requireFree(cell.job.output, cell.job.force);
    requireFree(recipePathFor(cell.job.output), cell.job.force);
  }
  return painted;
}

// ", about 12 min to go for all", or nothing while one of the speeds is not known: the first painting will
// tell it.
std::string timeFor(const std::vector<PaintWork>& works, const std::vector<bool>& painted) {
  const fs::path cache = calibrationFile();
  double seconds = 0;
  for (std::size_t i = 0; i < works.size(); ++i) {
    if (painted[i] || works[i].key.empty()) continue;
    const auto rate = knownRate(cache, works[i].key);
    if (!rate) return "";
    seconds += *rate * works[i].work;
  }
  return fmt::format(", about {} to go for all", duration(seconds));
}

int foretellTable(const std::vector<Cell>& cells, const fs::path& folder) {
  for (const Cell& cell : cells) say(stdout, "{}\n", cell.job.output.string());
  say(stdout, "{} paintings and {}; each like this one:\n", cells.size(), (folder / "sheet.png").string());
  const std::vector<std::size_t> leaders = leadersOf(cells);
  std::vector<const Cell*> missing;
  for (std::size_t i = 0; i < cells.size(); ++i) {
    if (leaders[i] == i && !isPainted(cells[i].job)) missing.push_back(&cells[i]);
  }
  PaintJob first = missing.empty() ? cells.front().job : missing.front()->job;
  first.makesFolder = true;
  first.force = first.force || missing.empty();
  runPaintJob(first);
  double seconds = 0;
  for (const Cell* cell : missing) seconds += paintTime(cell->job)(cell->job.recipe.settings);
  const auto paintings = std::set<std::size_t>(leaders.begin(), leaders.end()).size();
  say(stdout, "time for {} {}: about {}\n", missing.size() == paintings ? "all" : "the missing",
      missing.size(), duration(seconds));
  if (paintings < cells.size())
    say(stdout, "the other {} are one of these, laid over the photo in another way\n",
        cells.size() - paintings);
  return 0;
}

}  // namespace

bool hasSeveral(const PaintTable& table) {
  return table.photos.size() > 1 || table.each || !table.vary.empty();
}

int runPaintTable(const PaintTable& table) {
  const std::vector<Cell> cells = cellsOf(table);
  if (!table.base.layers.empty() || !table.base.chart.empty())
    throw UsageError("--layers and --chart are of one painting; leave them out where several are painted");
  std::error_code code;
  const fs::path folder = table.base.output;
  if (folder.has_filename() && folder.has_extension() && !fs::is_directory(folder, code))
    throw UsageError(
        fmt::format("several paintings need a folder, like -o drafts/, not {}", folder.string()));
  if (table.base.dryRun) return foretellTable(cells, folder);
  std::vector<bool> painted = paintedBefore(cells);
  const auto kept = std::count(painted.begin(), painted.end(), true);
  const bool begun = std::any_of(cells.begin(), cells.end(), [](const Cell& cell) {
    return goesOn(cell.job.recipe, cell.job.output, cell.job.force);
  });
  // A sheet that lies there with paintings of this table is this table's.
  if (kept == 0 && !begun) requireFree(folder / "sheet.png", table.base.force);
  if (kept > 0 && !table.base.quiet)
    say(stderr, "{} of {} paintings are there already and kept\n", kept, cells.size());
  // A damaged picture is to be told of now, not in the middle of the night.
  std::vector<PaintWork> works(cells.size());
  const std::vector<std::size_t> leaders = leadersOf(cells);
  for (std::size_t i = 0; i < cells.size(); ++i)
    if (!painted[i] && leaders[i] == i) works[i] = workOf(cells[i].job);
  fs::create_directories(folder, code);
  if (code) throw Error(fmt::format("cannot make the folder {}: {}", folder.string(), code.message()));
  const auto layOut = [&] { writeSheet(table, cells, columnsOf(table, cells.size())); };
  for (std::size_t i = 0; i < cells.size(); ++i) {
    if (painted[i]) continue;
    if (table.base.progress == ProgressStyle::bar || table.base.progress == ProgressStyle::lines)
      say(stderr, "painting {} of {}{}: {}\n", i + 1, cells.size(), timeFor(works, painted),
          cells[i].caption);
    const int result = runPaintJob(jobAfter(cells[leaders[i]], cells[i]));
    painted[i] = true;
    if (result == 0) continue;
    layOut();
    say(stdout, "the same command goes on with it, and with the rest\n");
    return result;
  }
  layOut();
  say(stdout, "{}: {} paintings side by side\n", (folder / "sheet.png").string(), cells.size());
  return 0;
}

}  // namespace jugendstil::cli
