// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

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

// A piece, by the words of the command that weaves it.
struct Piece {
  const char* result;
  const char* title;
  std::vector<const char*> swatches;  // or the picture that is filled
  const char* option = "";            // of weave, with its file or value
  const char* value = "";
};

std::string swatchFile(const char* name) { return fmt::format("swatches/{}.png", name); }

const std::vector<Piece>& pieces() {
  static const std::vector<Piece> all{
      {"moss-grown.png", "Moss on stone, grown", {"moss"}},
      {"rattan-grown.png", "Rattan that repeats without a seam", {"rattan"}, "--repeats", "both"},
      {"glaze-grown.png", "Cracked glaze, grown", {"glaze"}},
      {"gravel-grown.png", "Gravel, grown", {"gravel"}},
      {"ground-mixed.png", "Gravel going over into moss", {"gravel", "moss"}, "--mix", "blended"},
      {"path-of-stone.png", "Moss on stone along a drawing", {"moss"}, "--layout", "drawings/path.svg"},
      {"pond-filled.png", "The pond without its left-hand lily", {}, "--fill", "drawings/lily.svg"},
  };
  return all;
}

const char* const kFilledPhoto = "photos/palm_house.jpg";

bool fills(const Piece& piece) { return piece.swatches.empty(); }

std::string commandOf(const Piece& piece) {
  std::string command = "jugendstil weave";
  for (const char* swatch : piece.swatches) command += " " + swatchFile(swatch);
  if (fills(piece)) command += fmt::format(" {}", kFilledPhoto);
  if (*piece.option != '\0') command += fmt::format(" {} {}", piece.option, piece.value);
  if (!fills(piece)) command += fmt::format(" --size {}x{}", kWidth, kHeight);
  return command + fmt::format(" -o {}", piece.result);
}

WeaveJob jobOf(const Demo& demo, const Piece& piece) {
  WeaveJob job;
  static_cast<RunOptions&>(job) = demo;
  job.quiet = true;
  job.progress = ProgressStyle::none;
  WeaveRecipe& recipe = job.recipe;
  for (const char* swatch : piece.swatches)
    recipe.swatches.push_back(inputNamed(demo.inputs / swatchFile(swatch)));
  const std::string_view option = piece.option;
  if (option == "--layout")
    recipe.layout = inputNamed(demo.inputs / piece.value);
  else if (option == "--fill")
    recipe.hole = inputNamed(demo.inputs / piece.value);
  else if (!option.empty())
    setWeaveSetting(recipe.settings, option.substr(2), piece.value);
  if (fills(piece)) {
    recipe.picture = inputNamed(demo.inputs / kFilledPhoto);
  } else {
    recipe.settings.width = kWidth;
    recipe.settings.height = kHeight;
  }
  job.output = demo.folder / piece.result;
  return job;
}

GalleryItem itemOf(const Piece& piece) {
  GalleryItem item;
  item.caption = piece.title;
  item.file = piece.result;
  if (fills(piece))
    item.before = kFilledPhoto;
  else
    item.beside = swatchFile(piece.swatches.front());
  item.command = commandOf(piece);
  return item;
}

void writeSheet(const Demo& demo) {
  std::vector<SheetCell> cells;
  for (const char* swatch : {"moss", "rattan", "glaze", "gravel"})
    cells.push_back({readPicture(demo.inputs / swatchFile(swatch)).image, swatch, "swatch, 256x256"});
  for (const Piece& piece : pieces())
    cells.push_back({readPicture(demo.folder / piece.result).image, piece.title, piece.result});
  SheetOptions options;
  options.title = "Palmarium Ostermoor: swatches woven";
  options.columns = 4;
  options.cellWidth = 300;
  options.cellHeight = 200;
  const fs::path target = demo.folder / "weave-sheet.png";
  writePicture(target, contactSheet(cells, options), Depth::eight);
  say(stdout, "{}: swatches grown, mixed, along a drawing; a hole filled\n", target.string());
}

}  // namespace

double weavingSeconds() {
  // The filled photo and the mixed piece take about two pieces' time each.
  const double pixels = 1.0 * kWidth * kHeight * (static_cast<double>(pieces().size()) + 3);
  return weaveSecondsFor(pixels, 0);
}

DemoPart weaveDemo(const Demo& demo) {
  DemoPart part{
      0,
      {"Woven",
       "Larger pieces grown from small swatches, each pixel one of the swatch's own: alone, mixed, along "
       "a drawing; and a photo with something taken out of it.",
       {}}};
  for (const Piece& piece : pieces()) {
    part.outcome = runWeaveJob(jobOf(demo, piece));
    if (part.outcome != 0) return part;
    part.section.items.push_back(itemOf(piece));
  }
  writeSheet(demo);
  return part;
}

}  // namespace jugendstil::cli
