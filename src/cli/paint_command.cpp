// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/file_name.h"
#include "cli/moved_inputs.h"
#include "cli/options.h"
#include "cli/paint_run.h"
#include "cli/paint_state.h"
#include "cli/paint_table.h"
#include "cli/painters.h"
#include "cli/pipes.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "recipe/recipe_file.h"

namespace jugendstil::cli {
namespace {

constexpr const char* kWith =
    "a quick painter (NAME.painter.onnx, see jugendstil learn), in place of references: paints at once. "
    "With --after it paints the beginning, from which the painting takes fewer steps";
constexpr const char* kSettings = "Settings (each can also stand in a recipe)";

po::options_description partOptions() {
  auto options = optionGroup("Parts (masks are grey pictures or SVG drawings; see jugendstil mask)");
  options.add_options()("inside", textValue("MASK"), "paint only where the mask is white")(
      "outside", textValue("MASK"), "paint only where the mask is black")(
      "part", textsValue("MASK=REF[@SHARE]"),
      "what the mask shows white is painted after this reference; may be given again. The rest is painted "
      "after "
      "--after, or stays the photo")("lines-inside", textValue("MASK"),
                                     "lines only where the mask is white (with --lines)")(
      "lines-from", textValue("DRAWING"),
      "lines from a drawing in dark ink on light or no paper, or an SVG, in place of the photo's own")(
      "hold", textsValue("MASK=LIKENESS"),
      "what the mask shows white has a likeness of its own, like hand.png=85; "
      "faces=85 finds the faces. May be "
      "given again");
  return options;
}

po::options_description tableOptions() {
  auto options = optionGroup("Many at once");
  options.add_options()("each", "paint after each reference by itself, not after all of them together")(
      "vary", textsValue("SETTING=A,B,..."),
      "paint with each of these values; may be given again, for all combinations. All land in the folder -o, "
      "with "
      "a sheet of them");
  return options;
}

po::options_description extraOptions() {
  auto options = optionGroup("Besides the picture");
  options.add_options()(
      "layers", textValue("FILE.ora"),
      "also as layers for other paint programs (OpenRaster): photo below, painting above with its "
      "mask, blend mode and opacity")("chart", textValue("FILE.png"),
                                      "draw every term of the loss, step by step");
  return options;
}

po::options_description fileOptions() {
  auto options = optionGroup("Files");
  options.add_options()("photo", textsValue("PHOTO"),
                        "the photos to paint (the plain words); - for standard input")(
      "after,a", referencesValue(),
      "references, all words up to the next option; each may have a share (@3)")("with,w",
                                                                                 textValue("PAINTER"), kWith)(
      "output,o", textValue("OUT"),
      "the picture to write: .png, .jpg, .tif, .webp or .exr; a folder for several; - for standard output")(
      "recipe", textValue("RECIPE"), "take settings (and references) from a recipe; options given here win")(
      "network", textValue("FILE.onnx"), "another feature network (ONNX)");
  addFormatOption(options, "png|jpg|tif|webp|exr");
  return options;
}

const char* const kPaintUsage =
    "usage: jugendstil paint PHOTO --after REF -o OUT [options]\n"
    "       jugendstil paint PHOTO --with NAME.painter.onnx -o OUT [options]\n\n"
    "Repaints a photo in the manner of one or more reference pictures, or with a quick painter that has\n"
    "learned them.\n\n"
    "  jugendstil paint palm_house.jpg --after evening.jpg -o palm_evening.png\n"
    "  jugendstil paint bench.tif --after mosaic.jpg@3 --after lino.jpg@1 --likeness 70 --stroke "
    "1.5 -o bench.tif\n"
    "  jugendstil paint gate.jpg --part sky.svg=evening.jpg --part wall.png=mosaic.jpg -o "
    "gate.png --layers "
    "gate.ora\n"
    "  jugendstil paint bench.jpg --after oil.jpg --vary likeness=20,50,80 --vary stroke=0.7,1.4 "
    "--long-edge "
    "384 -o drafts/\n";

const char* const kRedoUsage =
    "usage: jugendstil redo RECIPE [-o OUT] [options]\n\n"
    "Runs a recipe again: the same bytes on the same machine, or a variation where an option is given.\n"
    "Without -o the picture goes beside the recipe, with \"-again\" behind its name. A painting that was\n"
    "stopped goes on where it stood, and to its own name. Where only its opacity, blend mode, depth or "
    "quality\n"
    "is another one, nothing is painted anew.\n\n"
    "  jugendstil redo palm_evening.recipe.toml\n"
    "  jugendstil redo palm_evening.recipe.toml --likeness 30 -o palm_freer.png\n"
    "  jugendstil redo palm_evening.recipe.toml --opacity 60 -o palm_60.png\n\n"
    "Recipes of films and grades have the options of those: see jugendstil redo FILM.recipe.toml --help\n";

void takeParts(PaintRecipe& recipe, const po::variables_map& given) {
  if (given.count("part") != 0) {
    recipe.parts.clear();
    for (const std::string& word : listOf(given, "part")) recipe.parts.push_back(parsePart(word));
  }
  if (given.count("hold") != 0) {
    recipe.holds.clear();
    for (const std::string& word : listOf(given, "hold")) recipe.holds.push_back(parseHold(word));
  }
  for (const auto& [option, input] :
       {std::pair{"lines-from", &recipe.drawnLines}, std::pair{"lines-inside", &recipe.linesInside}}) {
    if (given.count(option) == 0) continue;
    *input = inputNamed(textOf(given, option));
    // Whoever gives them wants to see them.
    if (given.count("lines") == 0 && recipe.settings.lines == 0) recipe.settings.lines = 100;
  }
  if (auto mask = givenMask(given)) recipe.mask = std::move(mask);
}

bool isAfterSomething(const PaintRecipe& recipe) {
  return !recipe.references.empty() || !recipe.parts.empty() || recipe.painter;
}

PaintJob jobFrom(PaintRecipe recipe, const po::variables_map& given) {
  PaintJob job;
  static_cast<RunOptions&>(job) = runOptionsOf(given);
  applyGiven(given, paintSettingTable(), [&](const std::string& name, const std::string& text) {
    setPaintSetting(recipe.settings, name, text);
  });
  settleThreads(recipe.settings);
  takeStart(given, recipe.settings, recipe.start);
  if (auto references = givenReferences(given)) recipe.references = std::move(*references);
  recipe.network = networkFor(given, recipe.network);
  if (given.count("with") != 0) recipe.painter = inputNamed(textOf(given, "with"));
  takeParts(recipe, given);
  requireSenseOfPainters(recipe, given);
  job.recipe = std::move(recipe);
  job.output = textOf(given, "output");
  job.layers = textOf(given, "layers");
  job.chart = textOf(given, "chart");
  return job;
}

// Whether how the painting is laid over the photo is new; with nothing new it is painted again, to compare.
bool isLaidAnew(const PaintRecipe& known, const PaintJob& job) {
  if (!known.result || !known.result->finished) return false;
  const auto& table = paintSettingTable();
  const bool changed = std::any_of(table.begin(), table.end(), [&](const SettingInfo& info) {
    return isOfLaying(info.name) && info.name != "snapshots" &&
           paintSettingText(known.settings, info.name) != paintSettingText(job.recipe.settings, info.name);
  });
  return changed || extensionOf(known.picture) != extensionOf(job.output);
}

// Each command has options of its own, so it must be known what is done again before the words are read.
std::string commandOfRecipe(const Words& words) {
  const auto file = std::find_if(words.begin(), words.end(), [](const std::string& word) {
    return !word.starts_with("-") && word.ends_with(".toml") && std::filesystem::is_regular_file(word);
  });
  return file == words.end() ? "paint" : recipeCommand(readRecipe(*file), *file);
}

}  // namespace

CommandHelp paintHelp() {
  return {kPaintUsage,
          {fileOptions(), partOptions(), settingOptions(kSettings, paintSettingTable()), tableOptions(),
           extraOptions(), reportOptions()}};
}

CommandHelp redoHelp() {
  auto files = optionGroup("Files");
  files.add_options()("recipe", textValue("RECIPE"), "the recipe (the first plain word)")(
      "photo", textValue("PHOTO"), "another photo, or where the photo lies now")(
      "after,a", referencesValue(), "other references, or where they lie now")(
      "with,w", textValue("PAINTER"), kWith)("output,o", textValue("OUT"), "the picture to write")(
      "network", textValue("FILE.onnx"), "another feature network (ONNX)");
  return {kRedoUsage,
          {files, partOptions(), settingOptions(kSettings, paintSettingTable()), extraOptions(),
           reportOptions()}};
}

int paintCommand(const Words& words) {
  Pipes pipes;
  const CommandHelp help = paintHelp();
  po::positional_options_description positions;
  positions.add("photo", -1);
  const auto given = parseWords(words, help.options(), positions, "paint");
  if (sayHelpIfAsked(given, help)) return 0;
  PaintRecipe recipe;
  if (given.count("recipe") != 0) {
    const std::string file = textOf(given, "recipe");
    recipe = parsePaintRecipe(readRecipe(file), file);
    // A preset brings settings and, where none are given, references; not another picture's photo and masks.
    recipe.photo.reset();
    recipe.parts.clear();
    recipe.drawnLines.reset();
    recipe.linesInside.reset();
    std::erase_if(recipe.holds, [](const RecipeHold& hold) { return hold.mask.has_value(); });
    recipe.mask.reset();
    recipe.painting.reset();
    recipe.result.reset();
  }
  takeDefaults("paint", paintSettingTable(), given, recipe.given,
               [&](const std::string& name, const std::string& value) {
                 setPaintSetting(recipe.settings, name, value);
               });
  PaintTable table;
  for (const std::string& photo : listOf(given, "photo")) table.photos.push_back(pipes.input(photo));
  requirePhoto(given, "paint needs a photo: jugendstil paint PHOTO --after REF -o OUT");
  recipe.photo = inputNamed(table.photos.front());
  PaintJob job = jobFrom(std::move(recipe), given);
  if (given.count("recipe") != 0) findMovedInputs(job.recipe, textOf(given, "recipe"), job.quiet);
  if (!isAfterSomething(job.recipe))
    throw UsageError("paint needs a reference: add --after REF, --part MASK=REF, or --with PAINTER");
  if (job.output.empty()) throw UsageError("paint needs a place for the result: add -o OUT.png");
  table.base = job;
  table.each = given.count("each") != 0;
  table.vary = listOf(given, "vary");
  if (hasSeveral(table)) {
    if (pipes.hasInput() || job.output == "-")
      throw UsageError("a single painting goes through pipes (-); name files and a folder for several");
    return runPaintTable(table);
  }
  PaintJob one = job;
  one.output = pipes.output(job.output.string(), given, table.photos.front(), ".png");
  one.fromPipe = pipes.hasInput();
  one.toPipe = pipes.hasOutput();
  one.makesFolder = meansFolder(one.output.string());
  one.output = outputFor(one.output.string(), table.photos.front().stem().string() + ".png");
  return pipes.run([&] { return runPaintJob(one); });
}

int redoCommand(const Words& words) {
  const std::string command = commandOfRecipe(words);
  if (command == "film") return redoFilm(words);
  if (command == "grade") return redoGrade(words);
  if (command == "weave") return redoWeave(words);
  if (command == "amplify") return redoAmplify(words);
  if (command == "dive") return redoDive(words);
  if (command == "learn") return redoLearn(words);
  const CommandHelp help = redoHelp();
  po::positional_options_description positions;
  positions.add("recipe", 1);
  const auto given = parseWords(words, help.options(), positions, "redo");
  if (sayHelpIfAsked(given, help)) return 0;
  if (given.count("recipe") == 0) throw UsageError("redo needs a recipe: jugendstil redo OUT.recipe.toml");
  const std::filesystem::path file = textOf(given, "recipe");
  PaintRecipe recipe = parsePaintRecipe(readRecipe(file), file);
  if (recipe.result) noteVersion(recipe.result->version, given.count("quiet") != 0);
  const PaintRecipe known = recipe;
  recipe.result.reset();
  const std::filesystem::path picture = recipe.picture.empty()
                                            ? std::filesystem::path("painting.png")
                                            : std::filesystem::path(recipe.picture).filename();
  if (given.count("photo") != 0) recipe.photo = inputNamed(textOf(given, "photo"));
  PaintJob job = jobFrom(std::move(recipe), given);
  findMovedInputs(job.recipe, file, job.quiet);
  if (!job.recipe.photo) throw UsageError(fmt::format("{} names no photo; add --photo FILE", file.string()));
  if (!isAfterSomething(job.recipe))
    throw UsageError(fmt::format("{} names no reference; add --after FILE", file.string()));
  if (job.output.empty()) {
    // A painting that was stopped goes on where it stood.
    job.output = file.parent_path() / picture;
    if (!goesOn(job.recipe, job.output, job.force)) job.output = againName(file, picture);
  }
  job.makesFolder = meansFolder(job.output.string());
  job.output = outputFor(job.output.string(), picture);
  if (isLaidAnew(known, job)) job.earlier = known.result;
  return runPaintJob(job);
}

}  // namespace jugendstil::cli
