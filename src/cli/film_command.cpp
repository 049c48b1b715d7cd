// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>
#include <charconv>

#include "base/error.h"
#include "cli/film_job.h"
#include "cli/frame_words.h"
#include "cli/moved_inputs.h"
#include "cli/painters.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "clip/clip_writer.h"
#include "paint/recipe.h"
#include "recipe/recipe_file.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

po::options_description fileOptions(const char* clip, const char* recipe) {
  auto options = optionGroup("Files");
  options.add_options()("clip", textValue("CLIP"), clip)(
      "after,a", referencesValue(),
      "references, all words up to the next option; each may have a share (@3)")(
      "with,w", textValue("PAINTER"),
      "a quick painter (NAME.painter.onnx, see jugendstil learn), in place of references: paints at once. "
      "Beside --after it begins what is then optimised, in fewer steps")(
      "output,o", textValue("OUT"),
      "what to write: .mkv (FFV1, lossless), .mp4 or .mov (H.264), .webm (VP9), shot_%05d.png (frames), .y4m "
      "or - "
      "(YUV4MPEG2)")("grade", "match colour, tone and local contrast of each shot instead of painting")(
      "look", textValue("LOOK"), "grade by a saved look, the same on all shots")(
      "key", textsValue("FRAME=PICTURE"),
      "a frame that you painted or approved: it stands as it is and leads the others; may be given again")(
      "inside", textsValue("[FRAME=]MASK"),
      "paint only where the mask is white: a picture (followed from its frame, 0 if none is named), a clip "
      "of masks, "
      "or frames by pattern")("outside", textsValue("[FRAME=]MASK"), "the same where it is black")(
      "hold", textsValue("MASK=LIKENESS"),
      "what the mask shows white has a likeness of its own in every frame, like desk.png=85; faces=85 finds "
      "the "
      "faces and follows them. May be given again")("chart", textValue("FILE.png"),
                                                    "draw the steadiness of every frame")(
      "proof", switchValue(),
      "a small, short film (8 frames, half size) named OUT.proof, and what the whole would take")(
      "recipe", textValue("RECIPE"), recipe)("network", textValue("FILE.onnx"),
                                             "another feature network (ONNX)");
  return options;
}

// Of painting, all but what a film decides by itself.
std::vector<SettingInfo> paintingSettings() {
  std::vector<SettingInfo> infos;
  for (const SettingInfo& info : paintSettingTable()) {
    if (settingOfFilms(info.name)) infos.push_back(info);
  }
  return infos;
}

std::vector<po::options_description> allOptions(const char* clip, const char* recipe) {
  return {fileOptions(clip, recipe), settingOptions("Film", filmSettingTable()),
          settingOptions("Painting", paintingSettings()), reportOptions()};
}

void takeFilmDefaults(FilmRecipe& recipe, const po::variables_map& given) {
  std::vector<SettingInfo> known = filmSettingTable();
  const std::size_t films = known.size();
  for (const SettingInfo& info : paintingSettings()) known.push_back(info);
  takeDefaults("film", known, given, recipe.given, [&](const std::string& name, const std::string& value) {
    const auto has = [&](const SettingInfo& info) { return info.name == name; };
    if (std::any_of(known.begin(), known.begin() + films, has))
      setFilmSetting(recipe.settings, name, value);
    else
      setPaintSetting(recipe.paint, name, value);
  });
}

// A painter in place of a recipe's references, or references in place of its painter, or both.
void takePainter(const po::variables_map& given, FilmRecipe& recipe) {
  if (given.count("with") != 0) {
    recipe.painter = inputNamed(textOf(given, "with"));
    if (given.count("after") == 0) recipe.references.clear();
  } else if (given.count("after") != 0) {
    recipe.painter.reset();
  }
}

void takeMasks(const po::variables_map& given, FilmRecipe& recipe) {
  if (given.count("hold") != 0) {
    recipe.holds.clear();
    for (const std::string& word : listOf(given, "hold")) recipe.holds.push_back(parseHold(word));
  }
  if (given.count("inside") != 0 && given.count("outside") != 0)
    throw UsageError("--inside and --outside exclude each other; turn one of the masks round");
  const char* option = given.count("outside") == 0 ? "inside" : "outside";
  if (given.count(option) == 0) return;
  recipe.maskInside = given.count("outside") == 0;
  recipe.masks.clear();
  recipe.maskClip.reset();
  const auto& words = given[option].as<std::vector<std::string>>();
  for (const std::string& word : words) {
    if (isClipName(word)) {
      recipe.maskClip = inputNamed(word);
    } else {
      recipe.masks.push_back(parseFrameWord(option, word, false));
    }
  }
  if (recipe.maskClip && !recipe.masks.empty())
    throw UsageError(
        fmt::format("--{} takes a clip of masks or pictures for single frames, not both", option));
  // A picture without a number belongs to the first frame that is worked on.
  const std::string& first = recipe.settings.from;
  if (recipe.masks.size() == 1 && words[0].find('=') == std::string::npos && !first.empty()) {
    std::int64_t from = 0;
    const auto [end, error] = std::from_chars(first.data(), first.data() + first.size(), from);
    if (error != std::errc() || end != first.data() + first.size())
      throw UsageError(fmt::format("say for which frame the mask is: --{} FRAME={}", option,
                                   recipe.masks[0].file.path.string()));
    recipe.masks[0].frame = from;
  }
}

fs::path proofName(const fs::path& output) {
  return output.parent_path() / (output.stem().string() + ".proof" + output.extension().string());
}

void requireSenseOfQuick(const FilmRecipe& recipe, const po::variables_map& given) {
  if (recipe.painter) throw UsageError("--with and --quick both paint at once; leave one out");
  if (recipe.references.empty()) throw UsageError("--quick paints after references; add --after REF");
  if (given.count("frame-steps") != 0)
    throw UsageError("--frame-steps goes without --quick, which paints at once, without steps");
  refuseWithQuick(given);
}

void requireSenseOfPainter(const FilmRecipe& recipe, const po::variables_map& given) {
  if (recipe.grade) throw UsageError("--with paints; leave it out where the clip is graded");
  if (!paintsAtOnce(recipe)) {
    if (given.count("start") != 0)
      throw UsageError("--with and --start both say what a painting begins with; leave one out");
    return;
  }
  if (given.count("frame-steps") != 0)
    throw UsageError("--frame-steps goes with --after REF: a painter paints at once, without steps");
  refuseLearnedOrOptimising(given);
}

void requireSense(const FilmJob& job, const po::variables_map& given) {
  const FilmRecipe& r = job.recipe;
  if (!r.clip) {
    const std::size_t taken = listOf(given, "after").size();
    throw UsageError(fmt::format("film needs a clip: jugendstil film CLIP --after REF -o OUT.mkv{}",
                                 taken > 1 ? "; all words behind --after were taken as references" : ""));
  }
  if (job.output.empty()) throw UsageError("film needs a place for the result: add -o OUT.mkv");
  if (r.grade && r.references.empty() && !r.look)
    throw UsageError("film --grade needs a reference or a look: add --after REF, or --look FILE");
  if (!r.grade && r.references.empty() && r.keys.empty() && !r.painter)
    throw UsageError(
        "film needs a reference: add --after REF, a painted frame with --key FRAME=PICTURE, or --with "
        "PAINTER");
  if (r.paint.quick && !r.grade)
    requireSenseOfQuick(r, given);
  else if (r.painter)
    requireSenseOfPainter(r, given);
  if (!r.holds.empty() && (r.grade || r.paint.quick || (r.painter && paintsAtOnce(r))))
    throw UsageError(
        "--hold is of painting after references: it goes neither with --grade nor with a painter");
  if (r.grade && !r.keys.empty())
    throw UsageError("--key leads painted frames; with --grade save a look instead");
  if (r.grade && r.look && !r.references.empty())
    throw UsageError("--look and --after exclude each other: a look is already matched");
  for (const char* name : {"match", "method"}) {
    if (r.look && given.count(name) != 0)
      throw UsageError(fmt::format("--look and --{} exclude each other: a look is already matched", name));
  }
  for (const char* name : {"match", "method", "amount"}) {
    if (!r.grade && given.count(name) != 0) throw UsageError(fmt::format("--{} belongs to --grade", name));
  }
  if (r.grade) {
    for (const SettingInfo& info : paintSettingTable()) {
      if (settingOfFilms(info.name) && info.name != "opacity" && info.name != "threads" &&
          given.count(info.name) != 0)
        throw UsageError(fmt::format("--{} is of painting and does nothing with --grade", info.name));
    }
  }
  if (job.proof && (job.output == "-" || isFramePattern(job.output)))
    throw UsageError("--proof writes one small file; name a clip like OUT.mp4");
  std::error_code code;
  if (r.clip->path != "-" && fs::equivalent(r.clip->path, job.output, code))
    throw UsageError("the result would replace the clip itself; choose another name with -o");
}

void takeReferences(const po::variables_map& given, FilmRecipe& recipe) {
  if (given.count("after") == 0 && given.count("look") == 0) return;
  // A reference instead of a recipe's look, or the other way round.
  recipe.references.clear();
  recipe.look.reset();
  if (auto references = givenReferences(given)) recipe.references = std::move(*references);
  if (given.count("look") != 0) recipe.look = inputNamed(textOf(given, "look"));
}

// What was given on top of a recipe.
FilmJob jobFrom(FilmRecipe recipe, const po::variables_map& given) {
  applyGiven(given, paintingSettings(), [&](const std::string& name, const std::string& text) {
    setPaintSetting(recipe.paint, name, text);
  });
  applyGiven(given, filmSettingTable(), [&](const std::string& name, const std::string& text) {
    setFilmSetting(recipe.settings, name, text);
  });
  settleThreads(recipe.paint);
  takeStart(given, recipe.paint, recipe.start);
  if (given.count("clip") != 0) recipe.clip = inputNamed(textOf(given, "clip"));
  takeReferences(given, recipe);
  recipe.network = networkFor(given, recipe.network);
  // A look is of grading; it needs no further word.
  if (given.count("grade") != 0 || given.count("look") != 0) recipe.grade = true;
  if (given.count("key") != 0) recipe.keys.clear();
  for (const std::string& word : listOf(given, "key"))
    recipe.keys.push_back(parseFrameWord("key", word, true));
  takePainter(given, recipe);
  takeMasks(given, recipe);
  FilmJob job;
  static_cast<RunOptions&>(job) = runOptionsOf(given);
  job.recipe = std::move(recipe);
  job.output = textOf(given, "output");
  job.chart = textOf(given, "chart");
  job.proof = switchOf(given, "proof");
  return job;
}

int run(FilmJob job, const po::variables_map& given) {
  if (job.output == "-" && job.progress == ProgressStyle::json)
    throw UsageError("--progress json and -o - would both write to standard output; name a file");
  job.makesFolder = job.output != "-" && meansFolder(job.output);
  if (job.makesFolder) job.output = (fs::path(job.output) / "frame_%05d.png").string();
  requireSense(job, given);
  if (job.proof) job.output = proofName(job.output).string();
  return runFilmJob(std::move(job));
}

// A preset brings settings and, where none are given, references; not another clip's masks and keys.
FilmRecipe presetFrom(const std::string& file) {
  const std::string text = readRecipe(file);
  FilmRecipe preset;
  if (recipeCommand(text, file) == "film") {
    preset = parseFilmRecipe(text, file);
    preset.keys.clear();
    preset.masks.clear();
    std::erase_if(preset.holds, [](const RecipeHold& hold) { return hold.mask.has_value(); });
    preset.maskClip.reset();
    preset.result.reset();
    return preset;
  }
  PaintRecipe painting = parsePaintRecipe(text, file);
  preset.paint = painting.settings;
  preset.given = painting.given;
  preset.paint.snapshots = {};
  preset.paint.untilGood = false;
  preset.paint.finish = preset.paint.proof = false;
  preset.start = std::move(painting.start);
  preset.references = std::move(painting.references);
  preset.painter = std::move(painting.painter);
  return preset;
}

}  // namespace

CommandHelp filmHelp() {
  return {
      "usage: jugendstil film CLIP --after REF -o OUT [options]\n"
      "       jugendstil film CLIP --grade --after PHOTO -o OUT [options]\n\n"
      "Paints a clip in the manner of references, each frame led by the ones before it along the\n"
      "motion, or grades it shot by shot. Stopped at any moment, the same command goes on where it "
      "stood.\n\n"
      "  jugendstil film pond.mp4 --after evening.jpg --frames 8 -o draft.mp4\n"
      "  jugendstil film pond.mp4 --after evening.jpg --inside boat_mask.png --steady 80 --chart "
      "pond.png -o "
      "pond_evening.mkv\n",
      allOptions("the clip (the first plain word): a film file, frames like shot_%05d.png, or - for "
                 "YUV4MPEG2 from standard input",
                 "take settings (and references) from a recipe of a film or a painting; options given "
                 "here win")};
}

int filmCommand(const Words& words) {
  const CommandHelp help = filmHelp();
  po::positional_options_description positions;
  positions.add("clip", 1);
  const auto given = parseWords(words, help.options(), positions, "film");
  if (sayHelpIfAsked(given, help)) return 0;
  FilmRecipe recipe;
  if (given.count("recipe") != 0) recipe = presetFrom(textOf(given, "recipe"));
  recipe.clip.reset();
  takeFilmDefaults(recipe, given);
  FilmJob job = jobFrom(std::move(recipe), given);
  if (given.count("recipe") != 0) findMovedInputs(job.recipe, textOf(given, "recipe"), job.quiet);
  return run(std::move(job), given);
}

CommandHelp redoFilmHelp() {
  return {
      "usage: jugendstil redo RECIPE [-o OUT] [options]\n\n"
      "Makes a film again: the same bytes on the same machine, or a variation where an option is\n"
      "given. Without -o it goes beside the recipe, with \"-again\" behind its name.\n\n"
      "  jugendstil redo pond_evening.recipe.toml\n"
      "  jugendstil redo pond_evening.recipe.toml --steady 80 -o pond_calm.mkv\n",
      allOptions("another clip, or where the clip lies now", "the recipe of a film (the first plain word)")};
}

int redoFilm(const Words& words) {
  const CommandHelp help = redoFilmHelp();
  po::positional_options_description positions;
  positions.add("recipe", 1);
  const auto given = parseWords(words, help.options(), positions, "redo");
  if (sayHelpIfAsked(given, help)) return 0;
  const fs::path file = textOf(given, "recipe");
  FilmRecipe recipe = parseFilmRecipe(readRecipe(file), file);
  if (recipe.result) noteVersion(recipe.result->version, given.count("quiet") != 0);
  recipe.result.reset();
  const fs::path film = fs::path(recipe.film).filename();
  FilmJob job = jobFrom(std::move(recipe), given);
  findMovedInputs(job.recipe, file, job.quiet);
  if (!job.recipe.clip) throw UsageError(fmt::format("{} names no clip; add --clip FILE", file.string()));
  if (job.output.empty() && !film.empty() && !isFramePattern(film.string()))
    job.output = againName(file, film).string();
  return run(std::move(job), given);
}

}  // namespace jugendstil::cli
