#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/file.h"
#include "cli/options.h"
#include "cli/paint_table.h"
#include "cli/say.h"
#include "paint/first_state.h"
#include "recipe/recipe_reader.h"

namespace jugendstil::cli {
namespace {

constexpr std::size_t kMaxRecipe = std::size_t{1} << 20;

po::options_description partOptions() {
  po::options_description options("Parts (masks are grey pictures or SVG drawings; see jugendstil mask)", 100,
                                  60);
  options.add_options()("inside", po::value<std::string>()->value_name("MASK"),
                        "paint only where the mask is white")(
      "outside", po::value<std::string>()->value_name("MASK"), "paint only where the mask is black")(
      "part", po::value<std::vector<std::string>>()->value_name("MASK=REF[@SHARE]"),
      "what the mask shows white is painted after this reference; may be given again. The rest is painted "
      "after "
      "--after, or stays the photo");
  return options;
}

po::options_description tableOptions() {
  po::options_description options("Many at once", 100, 60);
  options.add_options()("each", "paint after each reference by itself, not after all of them together")(
      "vary", po::value<std::vector<std::string>>()->value_name("SETTING=A,B,..."),
      "paint with each of these values; may be given again, for all combinations. All land in the folder -o, "
      "with "
      "a sheet of them");
  return options;
}

po::options_description extraOptions() {
  po::options_description options("Besides the picture", 100, 60);
  options.add_options()(
      "layers", po::value<std::string>()->value_name("FILE.ora"),
      "also as layers for other paint programs (OpenRaster): photo below, painting above with its "
      "mask, blend mode and opacity")("chart", po::value<std::string>()->value_name("FILE.png"),
                                      "draw every term of the loss, step by step");
  return options;
}

po::options_description fileOptions() {
  po::options_description options("Files", 100, 60);
  options.add_options()("photo", po::value<std::vector<std::string>>()->value_name("PHOTO"),
                        "the photos to paint (the plain words)")(
      "after,a", po::value<std::vector<std::string>>()->value_name("REF[@SHARE]"),
      "a reference, and its share where there are several; may be given again")(
      "output,o", po::value<std::string>()->value_name("OUT"),
      "the picture to write: .png, .jpg, .tif, .webp or .exr; a folder for several")(
      "recipe", po::value<std::string>()->value_name("FILE"),
      "take settings (and references) from a recipe; options given here win")(
      "network", po::value<std::string>()->value_name("FILE"), "another feature network (ONNX)");
  return options;
}

void printPaintHelp(const po::options_description& options) {
  sayHelp(
      "usage: jugendstil paint PHOTO --after REF -o OUT [options]\n\n"
      "Repaints a photo in the manner of one or more reference pictures.\n\n"
      "  jugendstil paint palm_house.jpg --after evening.jpg -o palm_evening.png\n"
      "  jugendstil paint bench.tif --after mosaic.jpg@3 --after lino.jpg@1 --likeness 70 --stroke "
      "1.5 -o bench.tif\n"
      "  jugendstil paint gate.jpg --part sky.svg=evening.jpg --part wall.png=mosaic.jpg -o "
      "gate.png --layers "
      "gate.ora\n"
      "  jugendstil paint bench.jpg --after oil.jpg --vary likeness=20,50,80 --vary stroke=0.7,1.4 "
      "--long-edge "
      "384 -o drafts/\n",
      options);
}

void printRedoHelp(const po::options_description& options) {
  sayHelp(
      "usage: jugendstil redo RECIPE [-o OUT] [options]\n\n"
      "Runs a recipe again: the same bytes on the same machine, or a variation where an option is given.\n"
      "Without -o the picture goes beside the recipe, with \"-again\" behind its name.\n\n"
      "  jugendstil redo palm_evening.recipe.toml\n"
      "  jugendstil redo palm_evening.recipe.toml --likeness 30 -o palm_freer.png\n\n"
      "Recipes of films have the options of jugendstil film: see jugendstil redo FILM.recipe.toml --help\n",
      options);
}

void takeStart(PaintRecipe& recipe, const po::variables_map& given) {
  if (given.count("start") != 0) recipe.start.reset();
  if (recipe.start) {
    recipe.settings.start = recipe.start->path.string();
  } else if (!startIsWord(recipe.settings.start)) {
    recipe.start = RecipeInput{recipe.settings.start, "", 1};
  }
}

void takeFiles(PaintRecipe& recipe, const po::variables_map& given) {
  if (given.count("after") != 0) {
    recipe.references.clear();
    for (const std::string& word : given["after"].as<std::vector<std::string>>()) {
      const ReferenceWord r = parseReference(word);
      recipe.references.push_back({r.path, "", r.share});
    }
  }
  if (given.count("network") != 0) recipe.network = RecipeInput{given["network"].as<std::string>(), "", 1};
  if (!recipe.network) recipe.network = RecipeInput{shareFolder() / "networks" / "filigree.onnx", "", 1};
}

// The mask's name ends at the first = behind which there is something and before which there is a file.
RecipePart partFrom(const std::string& word) {
  std::size_t equals = word.find('=');
  while (equals != std::string::npos && !std::filesystem::exists(word.substr(0, equals)) &&
         word.find('=', equals + 1) != std::string::npos)
    equals = word.find('=', equals + 1);
  if (equals == std::string::npos || equals == 0 || equals + 1 == word.size())
    throw UsageError(
        fmt::format("--part is a mask and a reference like sky.png=evening.jpg, not \"{}\"", word));
  const ReferenceWord r = parseReference(word.substr(equals + 1));
  return {{word.substr(0, equals), "", 1}, {r.path, "", r.share}};
}

void takeParts(PaintRecipe& recipe, const po::variables_map& given) {
  if (given.count("part") != 0) {
    recipe.parts.clear();
    for (const std::string& word : given["part"].as<std::vector<std::string>>())
      recipe.parts.push_back(partFrom(word));
  }
  if (given.count("inside") != 0 && given.count("outside") != 0)
    throw UsageError("--inside and --outside are the two sides of one mask; give one of them");
  for (const char* side : {"inside", "outside"}) {
    if (given.count(side) == 0) continue;
    recipe.mask = RecipeInput{given[side].as<std::string>(), "", 1};
    recipe.maskInside = std::string_view(side) == "inside";
  }
}

PaintJob jobFrom(PaintRecipe recipe, const po::variables_map& given) {
  PaintJob job;
  applyGiven(given, recipe.settings);
  takeStart(recipe, given);
  takeFiles(recipe, given);
  takeParts(recipe, given);
  job.recipe = std::move(recipe);
  job.force = given.count("force") != 0;
  job.dryRun = given.count("dry-run") != 0;
  job.quiet = given.count("quiet") != 0;
  job.progress =
      progressStyle(given.count("progress") != 0 ? given["progress"].as<std::string>() : "auto", job.quiet);
  if (given.count("output") != 0) job.output = given["output"].as<std::string>();
  if (given.count("layers") != 0) job.layers = given["layers"].as<std::string>();
  if (given.count("chart") != 0) job.chart = given["chart"].as<std::string>();
  return job;
}

PaintRecipe readRecipe(const std::string& path) { return parsePaintRecipe(readFile(path, kMaxRecipe), path); }

// Films have options of their own, so it must be known what is done again before the words are read.
bool redoesFilm(const Words& words) {
  const auto file = std::find_if(words.begin(), words.end(), [](const std::string& word) {
    return !word.starts_with("-") && word.ends_with(".toml") && std::filesystem::is_regular_file(word);
  });
  return file != words.end() && recipeCommand(readFile(*file, kMaxRecipe), *file) == "film";
}

}  // namespace

int paintCommand(const Words& words) {
  const auto settings = paintSettingOptions();
  auto all = fileOptions();
  all.add(partOptions()).add(settings).add(tableOptions()).add(extraOptions()).add(reportOptions());
  po::positional_options_description positions;
  positions.add("photo", -1);
  const auto given = parseWords(words, all, positions, "paint");
  if (given.count("help") != 0) {
    printPaintHelp(all);
    return 0;
  }
  PaintRecipe recipe;
  if (given.count("recipe") != 0) {
    recipe = readRecipe(given["recipe"].as<std::string>());
    // A preset brings settings and, where none are given, references; not another picture's photo and masks.
    recipe.photo.reset();
    recipe.parts.clear();
    recipe.mask.reset();
    recipe.result.reset();
  }
  PaintTable table;
  if (given.count("photo") != 0) {
    for (const std::string& photo : given["photo"].as<std::vector<std::string>>())
      table.photos.emplace_back(photo);
  }
  if (table.photos.empty())
    throw UsageError("paint needs a photo: jugendstil paint PHOTO --after REF -o OUT");
  recipe.photo = RecipeInput{table.photos.front(), "", 1};
  const PaintJob job = jobFrom(std::move(recipe), given);
  if (job.recipe.references.empty() && job.recipe.parts.empty())
    throw UsageError("paint needs a reference: add --after REF, or --part MASK=REF");
  if (job.output.empty()) throw UsageError("paint needs a place for the result: add -o OUT.png");
  table.base = job;
  table.each = given.count("each") != 0;
  if (given.count("vary") != 0) table.vary = given["vary"].as<std::vector<std::string>>();
  return hasSeveral(table) ? runPaintTable(table) : runPaintJob(job);
}

int redoCommand(const Words& words) {
  if (redoesFilm(words)) return redoFilm(words);
  const auto settings = paintSettingOptions();
  po::options_description all("Files", 100, 60);
  all.add_options()("recipe", po::value<std::string>()->value_name("RECIPE"),
                    "the recipe (the first plain word)")(
      "photo", po::value<std::string>()->value_name("PHOTO"), "another photo, or where the photo lies now")(
      "after,a", po::value<std::vector<std::string>>()->value_name("REF[@SHARE]"),
      "other references, or where they lie now")("output,o", po::value<std::string>()->value_name("OUT"),
                                                 "the picture to write")(
      "network", po::value<std::string>()->value_name("FILE"), "another feature network (ONNX)");
  all.add(partOptions()).add(settings).add(extraOptions()).add(reportOptions());
  po::positional_options_description positions;
  positions.add("recipe", 1);
  const auto given = parseWords(words, all, positions, "redo");
  if (given.count("help") != 0) {
    printRedoHelp(all);
    return 0;
  }
  if (given.count("recipe") == 0) throw UsageError("redo needs a recipe: jugendstil redo OUT.recipe.toml");
  const std::filesystem::path file = given["recipe"].as<std::string>();
  PaintRecipe recipe = readRecipe(file.string());
  if (recipe.result && recipe.result->version != JUGENDSTIL_VERSION && given.count("quiet") == 0) {
    say(stderr, "note: the recipe is of version {}, this is {}; the result may differ\n",
        recipe.result->version, JUGENDSTIL_VERSION);
  }
  recipe.result.reset();
  const std::filesystem::path picture = recipe.picture.empty()
                                            ? std::filesystem::path("painting.png")
                                            : std::filesystem::path(recipe.picture).filename();
  if (given.count("photo") != 0) recipe.photo = RecipeInput{given["photo"].as<std::string>(), "", 1};
  PaintJob job = jobFrom(std::move(recipe), given);
  if (!job.recipe.photo) throw UsageError(fmt::format("{} names no photo; add --photo FILE", file.string()));
  if (job.recipe.references.empty() && job.recipe.parts.empty())
    throw UsageError(fmt::format("{} names no reference; add --after FILE", file.string()));
  if (job.output.empty()) {
    job.output = file.parent_path() / (picture.stem().string() + "-again" + picture.extension().string());
  }
  return runPaintJob(job);
}

}  // namespace jugendstil::cli
