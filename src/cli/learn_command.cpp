// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <filesystem>

#include "base/error.h"
#include "cli/learn_inputs.h"
#include "cli/learn_job.h"
#include "cli/moved_inputs.h"
#include "cli/options.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "recipe/recipe_file.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

const char* const kLearnUsage =
    "usage: jugendstil learn REF... --on PHOTOS|CLIP -o NAME.painter.onnx [options]\n\n"
    "Teaches a small network the manner of references, once; then it paints a picture in the blink of\n"
    "an eye: jugendstil paint PHOTO --with NAME.painter.onnx. It learns best on photos, or on the clip,\n"
    "that it will paint. Stopped by Ctrl-C it paints as well as it has learned by then, and goes on.\n\n"
    "  jugendstil learn evening.jpg --on holiday/ -o evening.painter.onnx\n"
    "  jugendstil learn oil.jpg@2 wash.jpg --on pond.mp4 --show 0=f0.png --show 60=f60.png \\\n"
    "    --likeness 60 -o pond.painter.onnx\n";

const char* const kRedoUsage =
    "usage: jugendstil redo RECIPE [-o NAME.painter.onnx] [options]\n\n"
    "Learns again: the same bytes on the same machine, or a variation where an option is given. What was\n"
    "stopped goes on where it stood. Without -o it goes beside the recipe, with \"-again\" behind its "
    "name.\n\n"
    "  jugendstil redo evening.painter.recipe.toml\n"
    "  jugendstil redo evening.painter.recipe.toml --likeness 30 -o freer.painter.onnx\n";

po::options_description lessonOptions() {
  auto options = optionGroup("What it learns on");
  options.add_options()("on", wordsValue("PHOTOS|CLIP"),
                        "photos, folders of photos, or a clip like those that it will paint (the demo's "
                        "photos, and the references)")(
      "show", textsValue("FRAME=PICTURE"),
      "a frame of the clip, or a photo, as you have painted it: taught directly; may be given again");
  return options;
}

po::options_description settings() {
  return settingOptions("Settings (each can also stand in a recipe)", learnSettingTable());
}

LearnJob jobFrom(LearnRecipe recipe, const po::variables_map& given) {
  LearnJob job;
  static_cast<RunOptions&>(job) = runOptionsOf(given);
  applyGiven(given, learnSettingTable(), [&](const std::string& name, const std::string& text) {
    setLearnSetting(recipe.settings, name, text);
  });
  if (given.count("reference") != 0) {
    recipe.references.clear();
    for (const std::string& word : listOf(given, "reference")) {
      const ReferenceWord reference = parseReference(word, "reference");
      recipe.references.push_back(inputNamed(reference.path, reference.share));
    }
  }
  if (given.count("on") != 0) takeLessons(listOf(given, "on"), recipe, job.quiet);
  if (given.count("show") != 0) {
    recipe.shown.clear();
    for (const std::string& word : listOf(given, "show")) recipe.shown.push_back(parseShown(word));
  }
  recipe.network = networkFor(given, recipe.network);
  job.recipe = std::move(recipe);
  return job;
}

po::options_description fileOptions(const char* reference, bool learns) {
  auto files = optionGroup("Files");
  files.add_options()("reference", textsValue("REF[@SHARE]..."), reference)(
      "output,o", textValue("NAME.painter.onnx"), "the painter to write, or the folder for it");
  if (learns)
    files.add_options()("recipe", textValue("RECIPE"),
                        "take settings from a recipe of a painter; options given here win");
  files.add_options()("network", textValue("FILE.onnx"), "another feature network (ONNX)");
  return files;
}

po::options_description varyOptions() {
  auto options = optionGroup("Several painters");
  options.add_options()(
      "vary", textsValue("SETTING=A,B,..."),
      "a painter for each value, into the folder -o, with a sheet of a photo by each; may be "
      "given again for all combinations");
  return options;
}

int run(LearnJob job, const std::string& output, const po::variables_map& given) {
  if (job.recipe.references.empty())
    throw UsageError("learn needs a reference: jugendstil learn REF... --on PHOTOS -o NAME.painter.onnx");
  job.vary = listOf(given, "vary");
  if (!job.vary.empty()) {
    if (!meansFolder(output) && fs::path(output).has_extension())
      throw UsageError(fmt::format("several painters need a folder: -o {}/ (with the slash)", output));
    job.output = output;
    return runLearnJob(job);
  }
  job.makesFolder = meansFolder(output);
  job.output = outputFor(output, job.recipe.references.front().path.stem().string() + ".painter.onnx");
  return runLearnJob(job);
}

}  // namespace

CommandHelp learnHelp() {
  return {kLearnUsage,
          {fileOptions("the references (the plain words)", true), lessonOptions(), settings(), varyOptions(),
           reportOptions()}};
}

int learnCommand(const Words& words) {
  const CommandHelp help = learnHelp();
  po::positional_options_description positions;
  positions.add("reference", -1);
  const auto given = parseWords(words, help.options(), positions, "learn");
  if (sayHelpIfAsked(given, help)) return 0;
  LearnRecipe recipe;
  if (given.count("recipe") != 0) {
    const std::string file = textOf(given, "recipe");
    const LearnRecipe preset = parseLearnRecipe(readRecipe(file), file);
    recipe.settings = preset.settings;
    recipe.given = preset.given;
  }
  takeDefaults("learn", learnSettingTable(), given, recipe.given,
               [&](const std::string& name, const std::string& value) {
                 setLearnSetting(recipe.settings, name, value);
               });
  LearnJob job = jobFrom(std::move(recipe), given);
  if (given.count("output") == 0)
    throw UsageError("learn needs a place for the painter: add -o NAME.painter.onnx");
  if (given.count("on") == 0) {
    takeUsualLessons(job.recipe);
    if (job.tells() && !job.recipe.references.empty())
      say(stderr, "note: it learns on the demo's photos; your own, with --on, teach it more\n");
  }
  return run(std::move(job), textOf(given, "output"), given);
}

CommandHelp redoLearnHelp() {
  auto recipe = optionGroup("Recipe");
  recipe.add_options()("recipe", textValue("RECIPE"), "the recipe of a painter (the first plain word)");
  return {kRedoUsage,
          {recipe, fileOptions("other references, or where they lie now", false), lessonOptions(), settings(),
           varyOptions(), reportOptions()}};
}

int redoLearn(const Words& words) {
  const CommandHelp help = redoLearnHelp();
  po::positional_options_description positions;
  positions.add("recipe", 1);
  const auto given = parseWords(words, help.options(), positions, "redo");
  if (sayHelpIfAsked(given, help)) return 0;
  const fs::path file = textOf(given, "recipe");
  LearnRecipe recipe = parseLearnRecipe(readRecipe(file), file);
  if (recipe.result) noteVersion(recipe.result->version, given.count("quiet") != 0);
  recipe.result.reset();
  const fs::path painter =
      recipe.painter.empty() ? fs::path("new.painter.onnx") : fs::path(recipe.painter).filename();
  LearnJob job = jobFrom(std::move(recipe), given);
  findMovedInputs(job.recipe, file, job.quiet);
  if (given.count("output") != 0) return run(std::move(job), textOf(given, "output"), given);
  // What was stopped goes on where it stood.
  fs::path output = file.parent_path() / painter;
  if (!goesOn(job.recipe, output, job.force)) output = againName(file, painter);
  return run(std::move(job), output.string(), given);
}

}  // namespace jugendstil::cli
