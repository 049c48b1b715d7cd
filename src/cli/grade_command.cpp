// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"
#include "cli/grade_job.h"
#include "cli/moved_inputs.h"
#include "cli/options.h"
#include "cli/pipes.h"
#include "cli/recipe_options.h"
#include "grade/look_file.h"
#include "grade/lut_file.h"
#include "recipe/recipe_file.h"

namespace jugendstil::cli {

namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMaxLook = std::size_t{64} << 20;

po::options_description inputOptions() {
  auto options = optionGroup("References and results");
  options.add_options()("after,a", referencesValue(),
                        "references, all words up to the next option; each may have a share (@3)")(
      "look", textValue("LOOK"), "apply a saved look instead: .look.toml, .cube, .clf or a Hald .png")(
      "part", textsValue("MASK=REF|LOOK"),
      "where the mask is white, another reference or look (.toml, .cube, .clf) than elsewhere; may be given "
      "again, the later one lies above")("inside", textValue("MASK"),
                                         "grade only where this picture or drawing is white")(
      "outside", textValue("MASK"), "grade only where it is black")(
      "output,o", textValue("OUT|DIR/"),
      "the picture to write, or the folder for several; - for standard output")(
      "save-look", textValue("FILE.look.toml"), "keep the look that was found")(
      "chart", textValue("FILE.png"), "draw photo, reference and result with histograms, curve and colours");
  return options;
}

// The options of both commands that grade, after their own files.
std::vector<po::options_description> withSettings(const po::options_description& files) {
  auto settings = settingOptions("Settings (each can also stand in a recipe)", gradeSettingTable());
  settings.add_options()("each", "a look for each photo (the default)");
  return {files, inputOptions(), settings, reportOptions()};
}

// Grey maps to RGB and camera formats cannot be written, so a photo keeps its extension only where it can.
fs::path nameInside(const fs::path& folder, const fs::path& photo) {
  fs::path name = photo.filename();
  try {
    requireWritableName(name);
  } catch (const UsageError&) {
    name.replace_extension(".tif");
  }
  return folder / name;
}

// Several photos mean a folder, but one that is called like a picture is likelier a slip.
void requireFolderName(const std::string& word, std::size_t photos) {
  if (!meansFolder(word) && fs::path(word).has_extension())
    throw UsageError(fmt::format("{} photos need a folder: -o {}/ (with the slash)", photos, word));
}

// One a photo: that word, or files in that folder with these names.
std::vector<fs::path> outputsFor(const std::vector<fs::path>& names, const std::string& word) {
  if (names.size() == 1 && !meansFolder(word)) return {word};
  requireFolderName(word, names.size());
  std::vector<fs::path> out;
  for (const fs::path& name : names) {
    const fs::path path = nameInside(word, name);
    if (std::find(out.begin(), out.end(), path) != out.end()) {
      throw UsageError(fmt::format("two photos are called {}; grade them into different folders",
                                   path.filename().string()));
    }
    out.push_back(path);
  }
  return out;
}

void requireSense(const GradeJob& job, const po::variables_map& given) {
  const GradeRecipe& recipe = job.recipe;
  if (recipe.references.empty() && !recipe.look && recipe.parts.empty()) {
    throw UsageError(
        "grade needs a reference or a look: add --after REF, or --look FILE, or --part MASK=REF");
  }
  if (given.count("look") != 0 && given.count("after") != 0)
    throw UsageError("--look and --after exclude each other: a look is already matched");
  for (const char* option : {"match", "method", "together", "each"}) {
    if (recipe.look && recipe.parts.empty() && given.count(option) != 0) {
      throw UsageError(fmt::format("--look and --{} exclude each other: a look is already matched", option));
    }
  }
  if (given.count("together") != 0 && given.count("each") != 0) {
    throw UsageError("--together and --each exclude each other");
  }
  if (!job.graded() && job.saveLook.empty()) {
    throw UsageError("grade needs a place for the result: add -o OUT.png, or -o DIR/ for several photos");
  }
  if (!job.graded() && recipe.photos.size() > 1)
    throw UsageError("several photos need a folder: add -o DIR/");
  if (!job.saveLook.empty() && recipe.photos.size() > 1 && !recipe.settings.together && !recipe.look) {
    throw UsageError("--save-look keeps one look: add --together, or grade one photo");
  }
  if (!job.chart.empty() && recipe.photos.size() > 1)
    throw UsageError("--chart draws one photo; grade that one by itself");
  for (const char* option : {"save-look", "chart"}) {
    if (!recipe.parts.empty() && given.count(option) != 0)
      throw UsageError(
          fmt::format("--{} is of one look; for that of a part grade it alone with --inside MASK", option));
  }
  const bool named = job.saveLook.empty() || extensionOf(job.saveLook) == ".toml";
  if (!named) {
    throw UsageError(fmt::format(
        "--save-look {}: looks are kept as .toml; \"jugendstil look\" exports .cube, .clf and .png",
        job.saveLook.string()));
  }
}

// What was given on top of a recipe.
GradeJob jobFrom(GradeRecipe recipe, const po::variables_map& given) {
  applyGiven(given, gradeSettingTable(), [&](const std::string& name, const std::string& text) {
    setGradeSetting(recipe.settings, name, text);
  });
  if (given.count("each") != 0) recipe.settings.together = false;
  // A reference instead of a recipe's look, or the other way round.
  if (auto references = givenReferences(given)) {
    recipe.references = std::move(*references);
    recipe.look.reset();
  }
  if (given.count("look") != 0) {
    recipe.look = inputNamed(textOf(given, "look"));
    if (given.count("after") == 0) recipe.references.clear();
  }
  if (given.count("part") != 0) recipe.parts.clear();
  for (const std::string& word : listOf(given, "part")) recipe.parts.push_back(parsePart(word));
  if (auto mask = givenMask(given)) recipe.mask = std::move(mask);
  GradeJob job;
  static_cast<RunOptions&>(job) = runOptionsOf(given);
  job.recipe = std::move(recipe);
  job.saveLook = textOf(given, "save-look");
  job.chart = textOf(given, "chart");
  return job;
}

void takePhotos(const po::variables_map& given, GradeRecipe& recipe, Pipes& pipes) {
  if (given.count("photo") == 0) return;
  recipe.photos.clear();
  for (const std::string& word : listOf(given, "photo"))
    recipe.photos.push_back({inputNamed(pipes.input(word)), ""});
}

// The names that results get in a folder: those of the recipe, or the photos'.
std::vector<fs::path> resultNames(const GradeRecipe& recipe) {
  std::vector<fs::path> names;
  for (const GradedPhoto& p : recipe.photos)
    names.push_back(p.result.empty() ? p.photo.path.filename() : fs::path(p.result).filename());
  return names;
}

// Without a place of its own what is graded again lies beside the recipe, a series in a folder beside its.
std::string againPlace(const GradeRecipe& recipe, const fs::path& file) {
  const auto names = resultNames(recipe);
  if (names.size() == 1) return againName(file, names[0]).string();
  const fs::path folder = folderOf(fs::absolute(file));
  return (folder.parent_path() / (folder.filename().string() + "-again")).string() + "/";
}

const char* const kGradeUsage =
    "usage: jugendstil grade PHOTO... --after REF -o OUT|DIR/ [options]\n"
    "       jugendstil grade PHOTO... --look FILE -o OUT|DIR/ [options]\n\n"
    "Gives photos the tone, colour and local contrast of a reference photo. Depth, profile and metadata\n"
    "stay; the look can be kept, edited (jugendstil look) and carried to other programs.\n\n"
    "  jugendstil grade gate.tif --after rain.jpg --amount 80 --save-look rain.look.toml -o gate_rain.tif\n"
    "  jugendstil grade series/*.jpg --after dusk.jpg@2 --after noon.jpg --together -o graded/\n";

const char* const kRedoUsage =
    "usage: jugendstil redo RECIPE [-o OUT|DIR/] [options]\n\n"
    "Grades again: the same bytes on the same machine, or a variation where an option is given. Without -o\n"
    "a photo goes beside the recipe and a series into a folder beside its own, with \"-again\" behind the "
    "name.\n\n"
    "  jugendstil redo gate_rain.recipe.toml\n"
    "  jugendstil redo graded/series.recipe.toml --amount 60 -o softer/\n";

}  // namespace

Look readLook(const fs::path& path) {
  if (isLutName(path)) return readLut(path);
  return parseLook(readFile(path, kMaxLook), path);
}

CommandHelp gradeHelp() {
  auto files = optionGroup("Files");
  files.add_options()("photo", textsValue("PHOTO..."),
                      "the photos to grade (the plain words); - for standard input")(
      "recipe", textValue("RECIPE"),
      "take settings (and references) from a recipe of a grade; options given here win");
  addFormatOption(files, "png|jpg|tif|webp|exr");
  return {kGradeUsage, withSettings(files)};
}

int gradeCommand(const Words& words) {
  const CommandHelp help = gradeHelp();
  po::positional_options_description positions;
  positions.add("photo", -1);
  const auto given = parseWords(words, help.options(), positions, "grade");
  if (sayHelpIfAsked(given, help)) return 0;
  requirePhoto(given, "grade needs a photo: jugendstil grade PHOTO --after REF -o OUT");
  GradeRecipe recipe;
  if (given.count("recipe") != 0) {
    const std::string file = textOf(given, "recipe");
    recipe = parseGradeRecipe(readRecipe(file), file);
    // A preset brings settings and, where none are given, references; not other pictures' masks.
    recipe.parts.clear();
    recipe.mask.reset();
    recipe.result.reset();
  }
  takeDefaults("grade", gradeSettingTable(), given, recipe.given,
               [&](const std::string& name, const std::string& value) {
                 setGradeSetting(recipe.settings, name, value);
               });
  Pipes pipes;
  takePhotos(given, recipe, pipes);
  GradeJob job = jobFrom(std::move(recipe), given);
  if (given.count("recipe") != 0) findMovedInputs(job.recipe, textOf(given, "recipe"), job.quiet);
  const std::string output =
      pipes.output(textOf(given, "output"), given, job.recipe.photos[0].photo.path, ".png");
  if (!output.empty()) job.outputs = outputsFor(resultNames(job.recipe), output);
  job.series = job.outputs.size() > 1;
  job.fromPipe = pipes.hasInput();
  job.toPipe = pipes.hasOutput();
  requireSense(job, given);
  return pipes.run([&] { return runGradeJob(job); });
}

CommandHelp redoGradeHelp() {
  auto files = optionGroup("Files");
  files.add_options()("recipe", textValue("RECIPE"), "the recipe of a grade (the first plain word)")(
      "photo", wordsValue("PHOTO..."), "other photos, or where they lie now");
  return {kRedoUsage, withSettings(files)};
}

int redoGrade(const Words& words) {
  const CommandHelp help = redoGradeHelp();
  po::positional_options_description positions;
  positions.add("recipe", 1);
  const auto given = parseWords(words, help.options(), positions, "redo");
  if (sayHelpIfAsked(given, help)) return 0;
  const fs::path file = textOf(given, "recipe");
  GradeRecipe recipe = parseGradeRecipe(readRecipe(file), file);
  if (recipe.result) noteVersion(recipe.result->version, given.count("quiet") != 0);
  recipe.result.reset();
  Pipes pipes;
  takePhotos(given, recipe, pipes);
  GradeJob job = jobFrom(std::move(recipe), given);
  findMovedInputs(job.recipe, file, job.quiet);
  if (job.recipe.photos.empty())
    throw UsageError(fmt::format("{} names no photo; add --photo FILE", file.string()));
  const std::string output = textOf(given, "output", againPlace(job.recipe, file));
  job.outputs = outputsFor(resultNames(job.recipe), output);
  job.series = job.outputs.size() > 1;
  job.fromPipe = pipes.hasInput();
  requireSense(job, given);
  return pipes.run([&] { return runGradeJob(job); });
}

}  // namespace jugendstil::cli
