// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include "base/error.h"
#include "cli/moved_inputs.h"
#include "cli/options.h"
#include "cli/pipes.h"
#include "cli/recipe_options.h"
#include "cli/weave_job.h"
#include "recipe/recipe_file.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

po::options_description inputOptions() {
  auto options = optionGroup("Maps and results");
  options.add_options()(
      "over", textValue("MAP"),
      "where which swatch lies: a grey picture or drawing, black for the first and white for the last")(
      "layout", textValue("LAYOUT"),
      "a drawing that the piece follows: in the colours of --of, or dark and light as the swatch's own "
      "tones")("of", textValue("SWATCHMAP"),
               "what the layout's colours are: the swatch painted over with them, in its size")(
      "fill", textValue("MASK"),
      "do not grow a piece, but fill the picture where this is white from what is around it")(
      "from", referencesValue(), "also from these swatches")(
      "along", textValue("PHOTO"), "do not grow a piece, but show this photo in the swatches' own patches")(
      "inside", textValue("MASK"), "along a photo: only where the mask is white")(
      "outside", textValue("MASK"), "along a photo: only where the mask is black")(
      "part", textsValue("MASK=REF[@SHARE]"),
      "along a photo: what the mask shows white comes of this reference; may be given again")(
      "output,o", textValue("OUT|DIR/"),
      "the picture to write, or the folder for several; - for standard output");
  return options;
}

po::options_description settings() {
  return settingOptions("Settings (each can also stand in a recipe)", weaveSettingTable());
}

std::vector<RecipeInput> swatchesIn(const std::vector<std::string>& words, const char* option, Pipes& pipes) {
  std::vector<RecipeInput> swatches;
  for (const std::string& word : words) {
    const ReferenceWord swatch = parseReference(word, option);
    swatches.push_back(inputNamed(pipes.input(swatch.path.string()), swatch.share));
  }
  return swatches;
}

// Settings that say nothing for this kind of weave are a slip.
void requireOwnSettings(const po::variables_map& given, bool along) {
  const auto check = [&](const std::string& name, const std::string& shown) {
    if (along && isOfGrowing(name))
      throw UsageError(
          fmt::format("{} goes without --along: a photo's format is kept; --long-edge says how "
                      "large the picture is",
                      shown));
    if (!along && isOfAlong(name))
      throw UsageError(fmt::format("{} goes with --along PHOTO, which a picture is woven along", shown));
  };
  for (const SettingInfo& info : weaveSettingTable()) {
    if (given.count(info.name) != 0) check(info.name, "--" + info.name);
  }
  for (const std::string& word : listOf(given, "vary"))
    check(word.substr(0, word.find('=')), "--vary " + word.substr(0, word.find('=')));
}

// What was given on top of a recipe.
WeaveJob jobFrom(WeaveRecipe recipe, const po::variables_map& given, Pipes& pipes) {
  applyGiven(given, weaveSettingTable(), [&](const std::string& name, const std::string& text) {
    setWeaveSetting(recipe.settings, name, text);
  });
  const auto take = [&](const char* name, std::optional<RecipeInput>& input) {
    if (given.count(name) != 0) input = inputNamed(textOf(given, name));
  };
  requireOwnSettings(given, recipe.along || given.count("along") != 0);
  if (given.count("along") != 0) recipe.along = inputNamed(pipes.input(textOf(given, "along")));
  if (given.count("part") != 0) {
    recipe.parts.clear();
    for (const std::string& word : listOf(given, "part")) recipe.parts.push_back(parsePart(word));
  }
  if (auto mask = givenMask(given)) recipe.mask = std::move(mask);
  take("over", recipe.over);
  take("layout", recipe.layout);
  take("of", recipe.layoutMap);
  take("fill", recipe.hole);
  if (given.count("swatch") != 0) {
    auto swatches = swatchesIn(listOf(given, "swatch"), "swatch", pipes);
    if (recipe.hole && swatches.size() > 1)
      throw UsageError("one picture is filled at a time; swatches to fill it from go behind --from");
    if (recipe.hole)
      recipe.picture = swatches.front();
    else
      recipe.swatches = std::move(swatches);
  }
  if (given.count("from") != 0) {
    if (!recipe.hole)
      throw UsageError("--from goes with --fill MASK; swatches to grow from are the plain words");
    recipe.swatches = swatchesIn(listOf(given, "from"), "--from", pipes);
  }
  WeaveJob job;
  static_cast<RunOptions&>(job) = runOptionsOf(given);
  job.recipe = std::move(recipe);
  return job;
}

void requireSense(const WeaveJob& job) {
  const WeaveRecipe& r = job.recipe;
  const WeaveSettings& s = r.settings;
  if (r.along) {
    if (r.swatches.empty() && r.parts.empty())
      throw UsageError(
          "--along needs references, as plain words before it or with --part: jugendstil weave REF... "
          "--along "
          "PHOTO -o OUT");
    if (r.hole || r.layout || r.layoutMap || r.over)
      throw UsageError(
          "--along goes without --fill, --layout, --of and --over: the photo says what lies where; --part "
          "says "
          "which reference");
    return;
  }
  if (!r.parts.empty() || r.mask)
    throw UsageError("--part, --inside and --outside go with --along PHOTO, which a picture is woven along");
  if (r.hole) {
    if (!r.picture)
      throw UsageError(
          "--fill needs the picture that is filled: jugendstil weave PICTURE --fill MASK -o OUT");
    if (r.layout || r.over || r.layoutMap)
      throw UsageError(
          "--fill goes without --layout, --of and --over: a hole is filled from what is around it");
    if (s.width > 0 || s.repeats.across || s.repeats.down)
      throw UsageError(
          "--fill goes without --size and --repeats: the picture stays as it is, but for the hole");
    return;
  }
  if (r.swatches.empty())
    throw UsageError("weave needs a swatch: jugendstil weave SWATCH -o OUT --size 2048x1536");
  if (r.layoutMap && !r.layout)
    throw UsageError("--of goes with --layout: it says what the layout's colours are");
  if (r.layout && r.swatches.size() > 1)
    throw UsageError("--layout takes one swatch; --over says where which of several lies");
  if (r.over && r.swatches.size() < 2)
    throw UsageError("--over says where which of several swatches lies; name more than one");
  if (r.over && r.layout) throw UsageError("--over and --layout exclude each other");
}

// The name of a piece in a folder.
std::string pieceName(const WeaveRecipe& recipe) {
  return namedAfter(recipe).path.stem().string() + (recipe.picture ? "-filled.png" : "-woven.png");
}

int run(WeaveJob job, const std::string& word, const po::variables_map& given, Pipes& pipes) {
  requireSense(job);
  job.vary = listOf(given, "vary");
  if (!job.vary.empty()) {
    if (word == "-" || pipes.hasInput())
      throw UsageError("a single piece goes through pipes (-); name files and a folder for several");
    if (!meansFolder(word) && fs::path(word).has_extension())
      throw UsageError(fmt::format("several pieces need a folder: -o {}/ (with the slash)", word));
    job.output = word;
    return runWeaveJob(job);
  }
  const std::string output = pipes.output(word, given, namedAfter(job.recipe).path, ".png");
  job.fromPipe = pipes.hasInput();
  job.toPipe = pipes.hasOutput();
  job.makesFolder = meansFolder(output);
  job.output = outputFor(output, pieceName(job.recipe));
  return pipes.run([&] { return runWeaveJob(job); });
}

po::options_description varyOptions() {
  auto options = optionGroup("Several pieces");
  options.add_options()("vary", textsValue("SETTING=A,B,..."),
                        "a piece for each value, laid on a sheet; may be given again for all combinations");
  return options;
}

const char* const kWeaveUsage =
    "usage: jugendstil weave SWATCH... -o OUT --size WIDTHxHEIGHT [options]\n"
    "       jugendstil weave SWATCH --layout DRAWING [--of SWATCHMAP] -o OUT [options]\n"
    "       jugendstil weave PICTURE --fill MASK -o OUT [options]\n"
    "       jugendstil weave REF... --along PHOTO -o OUT [options]\n\n"
    "Grows pieces of any size from swatches, alone or mixed, along a drawing, repeating without a\n"
    "seam; fills holes in pictures; or shows a photo in the patches of reference pictures alone. Each\n"
    "pixel is one of a swatch's own, joins go over softly.\n\n"
    "  jugendstil weave moss.png --size 2048x1536 --repeats both -o moss_tile.png\n"
    "  jugendstil weave moss.png@2 gravel.png --mix blended --vary seed=1,2,3 -o grounds/\n"
    "  jugendstil weave mosaic.jpg --along palm_house.jpg --likeness 65 -o palm_mosaic.png\n";

const char* const kRedoUsage =
    "usage: jugendstil redo RECIPE [-o OUT] [options]\n\n"
    "Weaves again: the same bytes, or a variation where an option is given. Without -o the piece goes\n"
    "beside the recipe, with \"-again\" behind its name.\n\n"
    "  jugendstil redo moss_tile.recipe.toml\n"
    "  jugendstil redo moss_tile.recipe.toml --seed 2 -o moss_tile_2.png\n";

}  // namespace

CommandHelp weaveHelp() {
  auto files = optionGroup("Files");
  files.add_options()(
      "swatch", textsValue("SWATCH[@SHARE]..."),
      "what it is woven from (the plain words), or the picture to fill; - for standard input")(
      "recipe", textValue("RECIPE"), "take settings from a recipe of a weave; options given here win");
  addFormatOption(files, "png|jpg|tif|webp|exr");
  return {kWeaveUsage, {files, inputOptions(), settings(), varyOptions(), reportOptions()}};
}

int weaveCommand(const Words& words) {
  const CommandHelp help = weaveHelp();
  po::positional_options_description positions;
  positions.add("swatch", -1);
  const auto given = parseWords(words, help.options(), positions, "weave");
  if (sayHelpIfAsked(given, help)) return 0;
  WeaveRecipe recipe;
  if (given.count("recipe") != 0) {
    const std::string file = textOf(given, "recipe");
    const WeaveRecipe preset = parseWeaveRecipe(readRecipe(file), file);
    recipe.settings = preset.settings;
    recipe.given = preset.given;
  }
  takeDefaults("weave", weaveSettingTable(), given, recipe.given,
               [&](const std::string& name, const std::string& value) {
                 setWeaveSetting(recipe.settings, name, value);
               });
  Pipes pipes;
  WeaveJob job = jobFrom(std::move(recipe), given, pipes);
  if (given.count("swatch") == 0) requireSense(job);
  if (given.count("output") == 0) throw UsageError("weave needs a place for the result: add -o OUT.png");
  return run(std::move(job), textOf(given, "output"), given, pipes);
}

CommandHelp redoWeaveHelp() {
  auto files = optionGroup("Files");
  files.add_options()("recipe", textValue("RECIPE"), "the recipe of a weave (the first plain word)")(
      "swatch", wordsValue("SWATCH[@SHARE]..."), "other swatches or another picture, or where they lie now");
  return {kRedoUsage, {files, inputOptions(), settings(), varyOptions(), reportOptions()}};
}

int redoWeave(const Words& words) {
  const CommandHelp help = redoWeaveHelp();
  po::positional_options_description positions;
  positions.add("recipe", 1);
  const auto given = parseWords(words, help.options(), positions, "redo");
  if (sayHelpIfAsked(given, help)) return 0;
  const fs::path file = textOf(given, "recipe");
  WeaveRecipe recipe = parseWeaveRecipe(readRecipe(file), file);
  if (recipe.result) noteVersion(recipe.result->version, given.count("quiet") != 0);
  recipe.result.reset();
  const fs::path piece = recipe.piece.empty() ? fs::path("piece.png") : fs::path(recipe.piece).filename();
  Pipes pipes;
  WeaveJob job = jobFrom(std::move(recipe), given, pipes);
  findMovedInputs(job.recipe, file, job.quiet);
  return run(std::move(job), textOf(given, "output", againName(file, piece).string()), given, pipes);
}

}  // namespace jugendstil::cli
