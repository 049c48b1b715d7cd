// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>

#include "cli/demo_parts.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "cli/weave_job.h"
#include "image/picture_file.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr int kWidth = 720;
constexpr int kHeight = 480;
// Of a photo by patches, at most. It takes a tenth of a painting's time; in a smaller one the dome is lost.
constexpr int kLongEdge = 640;
int longEdgeOf(const Demo& demo) { return std::min(kLongEdge, 3 * demo.scale.longEdge); }

// A piece, by the words of the command that weaves it.
struct Piece {
  const char* result;
  const char* title;
  std::vector<const char*> swatches;  // none where a picture is filled
  const char* option = "";            // of weave, with its file or value
  const char* value = "";
};

constexpr const char* kMoss = "swatches/moss.png";
constexpr const char* kRattan = "swatches/rattan.png";
constexpr const char* kGlaze = "swatches/glaze.png";
constexpr const char* kGravel = "swatches/gravel.png";
constexpr const char* kPalmHouse = "photos/palm_house.jpg";

const std::vector<Piece>& pieces() {
  static const std::vector<Piece> all{
      {"moss-grown.png", "Moss on stone, grown", {kMoss}},
      {"rattan-grown.png", "Rattan that repeats without a seam", {kRattan}, "--repeats", "both"},
      {"glaze-grown.png", "Cracked glaze, grown", {kGlaze}},
      {"gravel-grown.png", "Gravel, grown", {kGravel}},
      {"ground-mixed.png", "Gravel going over into moss", {kGravel, kMoss}, "--mix", "blended"},
      {"path-of-stone.png", "Moss on stone along a drawing", {kMoss}, "--layout", "drawings/path.svg"},
      {"pond-filled.png", "The pond without its left-hand lily", {}, "--fill", "drawings/lily.svg"},
      {"palm-of-strokes.png",
       "The palm house in the evening's own strokes",
       {"references/evening_impasto.jpg"},
       "--along",
       kPalmHouse},
      {"palm-of-prints.png",
       "The palm house in patches of poster and wash",
       {"references/lily_poster.jpg", "references/moor_wash.jpg"},
       "--along",
       kPalmHouse},
  };
  return all;
}

bool fills(const Piece& piece) { return piece.swatches.empty(); }
bool isAlong(const Piece& piece) { return std::string_view(piece.option) == "--along"; }

std::string commandOf(const Demo& demo, const Piece& piece) {
  std::string command = "jugendstil weave";
  for (const char* swatch : piece.swatches) command += fmt::format(" {}", swatch);
  if (fills(piece)) command += fmt::format(" {}", kPalmHouse);
  if (*piece.option != '\0') command += fmt::format(" {} {}", piece.option, piece.value);
  if (isAlong(piece))
    command += fmt::format(" --long-edge {}", longEdgeOf(demo));
  else if (!fills(piece))
    command += fmt::format(" --size {}x{}", kWidth, kHeight);
  return command + fmt::format(" -o {}", piece.result);
}

WeaveJob jobOf(const Demo& demo, const Piece& piece) {
  WeaveJob job;
  static_cast<RunOptions&>(job) = demo;
  job.quiet = true;
  job.progress = ProgressStyle::none;
  WeaveRecipe& recipe = job.recipe;
  for (const char* swatch : piece.swatches) recipe.swatches.push_back(inputNamed(demo.inputs / swatch));
  const std::string_view option = piece.option;
  if (option == "--layout")
    recipe.layout = inputNamed(demo.inputs / piece.value);
  else if (option == "--along")
    recipe.along = inputNamed(demo.inputs / piece.value);
  else if (option == "--fill")
    recipe.hole = inputNamed(demo.inputs / piece.value);
  else if (!option.empty())
    setWeaveSetting(recipe.settings, option.substr(2), piece.value);
  if (fills(piece)) {
    recipe.picture = inputNamed(demo.inputs / kPalmHouse);
  } else if (isAlong(piece)) {
    recipe.settings.longEdge = longEdgeOf(demo);
  } else {
    recipe.settings.width = kWidth;
    recipe.settings.height = kHeight;
  }
  job.output = demo.folder / piece.result;
  return job;
}

GalleryItem itemOf(const Demo& demo, const Piece& piece) {
  GalleryItem item;
  item.caption = piece.title;
  item.file = piece.result;
  if (fills(piece) || isAlong(piece)) item.before = kPalmHouse;
  if (!fills(piece)) item.beside = piece.swatches.front();
  item.command = commandOf(demo, piece);
  return item;
}

void writeSheet(const Demo& demo) {
  std::vector<SheetCell> cells;
  for (const char* swatch : {kMoss, kRattan, kGlaze, kGravel})
    cells.push_back(
        {readPicture(demo.inputs / swatch).image, fs::path(swatch).stem().string(), "swatch, 256x256"});
  for (const Piece& piece : pieces())
    cells.push_back({readPicture(demo.folder / piece.result).image, piece.title, piece.result});
  SheetOptions options;
  options.title = "Palmarium Ostermoor: swatches woven";
  options.columns = 5;
  options.cellWidth = 240;
  options.cellHeight = 160;
  const fs::path target = demo.folder / "weave-sheet.png";
  writePicture(target, contactSheet(cells, options), Depth::eight);
  say(stdout, "{}: swatches grown, mixed, along a drawing; a hole filled; photos by patches\n",
      target.string());
}

}  // namespace

double weavingSeconds() {
  // The filled photo and the mixed piece take about two pieces' time each, and those along a photo fourteen
  // of their size.
  double pieceCount = 3;
  double photoCount = 0;
  for (const Piece& piece : pieces()) ++(isAlong(piece) ? photoCount : pieceCount);
  const double photo = kLongEdge * kLongEdge / 1.5;
  return weaveSecondsFor(pieceCount * kWidth * kHeight + photoCount * 14 * photo, 0);
}

DemoPart weaveDemo(const Demo& demo) {
  DemoPart part{
      0,
      {"Woven",
       "Larger pieces grown from small swatches, each pixel one of the swatch's own: alone, mixed, along "
       "a drawing; a photo with something taken out of it, and one shown in paintings' own patches.",
       {}}};
  for (const Piece& piece : pieces()) {
    part.outcome = runWeaveJob(jobOf(demo, piece));
    if (part.outcome != 0) return part;
    part.section.items.push_back(itemOf(demo, piece));
  }
  writeSheet(demo);
  return part;
}

}  // namespace jugendstil::cli
