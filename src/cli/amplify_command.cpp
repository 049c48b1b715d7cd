// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <filesystem>

#include "base/error.h"
#include "cli/amplify_job.h"
#include "cli/moved_inputs.h"
#include "cli/options.h"
#include "cli/pipes.h"
#include "cli/recipe_options.h"
#include "recipe/recipe_file.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

const char* const kAmplifyUsage =
    "usage: jugendstil amplify PHOTO -o OUT [options]\n"
    "       jugendstil amplify PHOTO --survey -o SHEET.png\n\n"
    "Strengthens the patterns that the network sees in a photo, from waves and scales (band small,\n"
    "medium) to whole forms (broad, large); or those of references that fit it. What is there already\n"
    "grows; where nothing is, something comes.\n\n"
    "  jugendstil amplify gate.jpg --survey -o bands.png\n"
    "  jugendstil amplify gate.jpg --towards poster.jpg --pattern 15% --strength 70 -o gate_lines.png\n";

const char* const kRedoUsage =
    "usage: jugendstil redo RECIPE [-o OUT] [options]\n\n"
    "Amplifies again: the same bytes on the same machine, or a variation where an option is given.\n"
    "Without -o the picture goes beside the recipe, with \"-again\" behind its name.\n\n"
    "  jugendstil redo gate_lines.recipe.toml\n"
    "  jugendstil redo gate_lines.recipe.toml --strength 40 -o gate_calmer.png\n";

po::options_description fileOptions(const char* photo) {
  auto files = optionGroup("Files");
  files.add_options()("photo", textValue("PHOTO"), photo)(
      "towards", referencesValue(),
      "strengthen the patterns of these references, all words up to the next option; each may have a share "
      "(@3)")("inside", textValue("MASK"), "only where the mask is white")("outside", textValue("MASK"),
                                                                           "only where the mask is black")(
      "output,o", textValue("OUT|DIR/"),
      "the picture to write, or the folder for several; - for standard output");
  return files;
}

void addNetworkOption(po::options_description& files) {
  files.add_options()("network", textValue("FILE.onnx"), "another feature network (ONNX)");
}

po::options_description severalOptions() {
  auto options = optionGroup("Several pictures");
  options.add_options()("vary", textsValue("SETTING=A,B,..."),
                        "a picture for each value, laid on a sheet; may be given again for all combinations")(
      "survey", switchValue(), "all bands by three sizes of patterns, small, on one sheet: to choose from");
  return options;
}

po::options_description settings() {
  return settingOptions("Settings (each can also stand in a recipe)", amplifySettingTable());
}

AmplifyJob jobFrom(AmplifyRecipe recipe, const po::variables_map& given, Pipes& pipes) {
  applyGiven(given, amplifySettingTable(), [&](const std::string& name, const std::string& text) {
    setAmplifySetting(recipe.settings, name, text);
  });
  settleThreads(recipe.settings.painting);
  if (given.count("photo") != 0) recipe.photo = inputNamed(pipes.input(textOf(given, "photo")));
  if (given.count("towards") != 0) {
    recipe.towards.clear();
    for (const std::string& word : listOf(given, "towards")) {
      const ReferenceWord reference = parseReference(word, "--towards");
      recipe.towards.push_back(inputNamed(reference.path, reference.share));
    }
  }
  if (auto mask = givenMask(given)) recipe.mask = std::move(mask);
  recipe.network = networkFor(given, recipe.network);
  AmplifyJob job;
  static_cast<RunOptions&>(job) = runOptionsOf(given);
  job.recipe = std::move(recipe);
  job.vary = listOf(given, "vary");
  return job;
}

int run(AmplifyJob job, const std::string& word, const po::variables_map& given, Pipes& pipes) {
  const bool survey = switchOf(given, "survey");
  if (!job.vary.empty()) {
    if (survey)
      throw UsageError("--survey and --vary exclude each other: a survey varies bands and patterns");
    if (word == "-" || pipes.hasInput())
      throw UsageError("a single picture goes through pipes (-); name files and a folder for several");
    if (!meansFolder(word) && fs::path(word).has_extension())
      throw UsageError(fmt::format("several pictures need a folder: -o {}/ (with the slash)", word));
    job.output = word;
    return runAmplifyJob(job);
  }
  for (const char* own : {"band", "pattern", "long-edge"}) {
    if (survey && given.count(own) != 0)
      throw UsageError(fmt::format("--survey goes without --{}: it shows all bands, small", own));
  }
  if (word == "-" && job.recipe.settings.painting.snapshots.wanted())
    throw UsageError("a single picture goes through pipes (-); snapshots need a file's name");
  const fs::path& photo = job.recipe.photo->path;
  const std::string output = pipes.output(word, given, photo, ".png");
  job.fromPipe = pipes.hasInput();
  job.toPipe = pipes.hasOutput();
  job.makesFolder = meansFolder(output);
  job.output = outputFor(output, photo.stem().string() + (survey ? "-bands.png" : "-amplified.png"));
  return pipes.run([&] { return survey ? runAmplifySurvey(job) : runAmplifyJob(job); });
}

}  // namespace

CommandHelp amplifyHelp() {
  auto files = fileOptions("the photo (the first plain word); - for standard input");
  files.add_options()("recipe", textValue("RECIPE"),
                      "take settings from a recipe of amplifying; options given here win");
  addNetworkOption(files);
  addFormatOption(files, "png|jpg|tif|webp|exr");
  return {kAmplifyUsage, {files, settings(), severalOptions(), reportOptions()}};
}

int amplifyCommand(const Words& words) {
  const CommandHelp help = amplifyHelp();
  po::positional_options_description positions;
  positions.add("photo", 1);
  const auto given = parseWords(words, help.options(), positions, "amplify");
  if (sayHelpIfAsked(given, help)) return 0;
  requirePhoto(given, "amplify needs a photo: jugendstil amplify PHOTO -o OUT.png");
  if (given.count("output") == 0) throw UsageError("amplify needs a place for the result: add -o OUT.png");
  AmplifyRecipe recipe;
  if (given.count("recipe") != 0) {
    const std::string file = textOf(given, "recipe");
    recipe = parseAmplifyRecipe(readRecipe(file), file);
    recipe.result.reset();
    recipe.photo.reset();
    recipe.mask.reset();
  }
  takeDefaults("amplify", amplifySettingTable(), given, recipe.given,
               [&](const std::string& name, const std::string& value) {
                 setAmplifySetting(recipe.settings, name, value);
               });
  Pipes pipes;
  AmplifyJob job = jobFrom(std::move(recipe), given, pipes);
  return run(std::move(job), textOf(given, "output"), given, pipes);
}

CommandHelp redoAmplifyHelp() {
  auto files = optionGroup("Files");
  files.add_options()("recipe", textValue("RECIPE"),
                      "the recipe of an amplified photo (the first plain word)");
  auto others = fileOptions("another photo, or where it lies now");
  addNetworkOption(others);
  files.add(others);
  return {kRedoUsage, {files, settings(), severalOptions(), reportOptions()}};
}

int redoAmplify(const Words& words) {
  const CommandHelp help = redoAmplifyHelp();
  po::positional_options_description positions;
  positions.add("recipe", 1);
  const auto given = parseWords(words, help.options(), positions, "redo");
  if (sayHelpIfAsked(given, help)) return 0;
  const fs::path file = textOf(given, "recipe");
  AmplifyRecipe recipe = parseAmplifyRecipe(readRecipe(file), file);
  if (recipe.result) noteVersion(recipe.result->version, given.count("quiet") != 0);
  recipe.result.reset();
  const fs::path picture =
      recipe.picture.empty() ? fs::path("amplified.png") : fs::path(recipe.picture).filename();
  Pipes pipes;
  AmplifyJob job = jobFrom(std::move(recipe), given, pipes);
  findMovedInputs(job.recipe, file, job.quiet);
  if (!job.recipe.photo) throw UsageError(fmt::format("{} names no photo; add --photo FILE", file.string()));
  return run(std::move(job), textOf(given, "output", againName(file, picture).string()), given, pipes);
}

}  // namespace jugendstil::cli
