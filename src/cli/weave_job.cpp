// SPDX-License-Identifier: Apache-2.0
#include "cli/weave_job.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <nlohmann/json.hpp>

#include "base/atomic_file.h"
#include "base/checksum.h"
#include "base/error.h"
#include "base/parallel.h"
#include "base/stop.h"
#include "cli/calibration.h"
#include "cli/interrupt.h"
#include "cli/options.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "cli/vary.h"
#include "image/mask.h"
#include "image/picture_file.h"
#include "recipe/recipe_reader.h"
#include "recipe/recipe_words.h"
#include "recipe/recipe_writer.h"
#include "report/sheet.h"
#include "weave/grow.h"
#include "weave/layout.h"
#include "weave/weave.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMostPieces = 100;
constexpr double kBlink = 3;  // seconds
// Seconds a pixel where nothing is known: two processors of 2026.
constexpr double kUsualRate = 2.8e-6;
constexpr double kBytesOfProgram = 150e6;

// What a job's files hold.
struct Inputs {
  WeaveInputs weave;
  Depth depth = Depth::eight;
  std::shared_ptr<const Metadata> metadata;  // of a filled picture
  Image alpha;                               // of a filled picture that has some
};

Image opaque(const Picture& picture, const fs::path& path) {
  for (std::size_t i = 0; picture.image.channels == 4 && i < picture.image.area(); ++i) {
    if (picture.image.pixel(i)[3] < 1)
      throw Error(fmt::format(
          "{} is transparent in places; a swatch has to be opaque: crop it, or lay it over a colour",
          path.string()));
  }
  return rgbOf(picture.image);
}

// An Error says whose it is.
void naming(const fs::path& path, const std::function<void()>& work) {
  try {
    work();
  } catch (const UsageError& e) {
    throw UsageError(fmt::format("{}: {}", path.string(), e.what()));
  } catch (const Error& e) {
    throw Error(fmt::format("{}: {}", path.string(), e.what()));
  }
}

Picture read(RecipeInput& input, const char* what, bool quiet) {
  knowFile(input, what, quiet);
  return readPicture(input.path);
}

void readPictureWithHole(WeaveRecipe& recipe, bool quiet, Inputs& inputs) {
  const Picture picture = read(*recipe.picture, "picture", quiet);
  WeaveInputs& weave = inputs.weave;
  weave.picture = rgbOf(picture.image);
  inputs.metadata = picture.metadata;
  inputs.depth = picture.depth;
  if (picture.image.channels == 4) inputs.alpha = picture.image;
  knowFile(*recipe.hole, "mask", quiet);
  weave.hole = readMaskFor(recipe.hole->path, picture.image.width, picture.image.height);
  weave.hole = resizedMask(weave.hole, picture.image.width, picture.image.height);
  if (coverage(weave.hole) <= 0)
    throw Error(fmt::format("{} is black all over: there is nothing to fill", recipe.hole->path.string()));
  if (coverage(weave.hole) >= 1 && weave.swatches.empty())
    throw Error(fmt::format("{} covers the whole picture: nothing is left to fill it with",
                            recipe.hole->path.string()));
  weave.width = picture.image.width;
  weave.height = picture.image.height;
}

// A grey map, as a picture of any size or as a drawing for a piece of this one.
Image readMap(RecipeInput& input, const char* what, bool quiet, const WeaveInputs& weave) {
  knowFile(input, what, quiet);
  return readMask(input.path, weave.width, weave.height);
}

// A map that would have to be stretched was made for another piece.
void requireFormat(const RecipeInput& input, const Image& map, const WeaveInputs& weave) {
  constexpr double kFormat = 0.02;
  const double ratio = 1.0 * map.width / map.height * weave.height / weave.width;
  if (std::abs(ratio - 1) <= kFormat) return;
  throw Error(
      fmt::format("{} is {}x{}, and the piece {}x{}: a map has its piece's format; leave --size out to take "
                  "that of the map",
                  input.path.string(), map.width, map.height, weave.width, weave.height));
}

void readLayout(WeaveRecipe& recipe, bool quiet, WeaveInputs& weave) {
  if (!recipe.layoutMap) {
    weave.layout = rgbOf(readMap(*recipe.layout, "layout", quiet, weave));
    return;
  }
  weave.layout = rgbOf(read(*recipe.layout, "layout", quiet).image);
  weave.layoutMap = rgbOf(read(*recipe.layoutMap, "swatch's map", quiet).image);
  const Image& swatch = weave.swatches.front().picture;
  if (weave.layoutMap.width != swatch.width || weave.layoutMap.height != swatch.height)
    throw Error(fmt::format("{} is {}x{}, but the swatch {} is {}x{}: a swatch's map has its size",
                            recipe.layoutMap->path.string(), weave.layoutMap.width, weave.layoutMap.height,
                            recipe.swatches.front().path.string(), swatch.width, swatch.height));
  naming(recipe.layout->path, [&] { requireColoursOf(weave.layout, weave.layoutMap); });
}

Inputs readInputs(WeaveRecipe& recipe, bool quiet) {
  Inputs inputs;
  WeaveInputs& weave = inputs.weave;
  const WeaveSettings& settings = recipe.settings;
  for (RecipeInput& swatch : recipe.swatches) {
    const Picture picture = read(swatch, "swatch", quiet);
    if (weave.swatches.empty()) inputs.depth = picture.depth;
    weave.swatches.push_back({opaque(picture, swatch.path), swatch.share});
    naming(swatch.path, [&] { requireSwatch(weave.swatches.back().picture); });
  }
  weave.width = settings.width > 0 ? settings.width : kUsualPiece;
  weave.height = settings.width > 0 ? settings.height : kUsualPiece;
  weave.repeats = settings.repeats;
  weave.seed = settings.seed;
  weave.mix = settings.mix;
  const auto fit = [&](const RecipeInput& input, const Image& map) {
    if (settings.width > 0) return requireFormat(input, map, weave);
    weave.width = map.width;
    weave.height = map.height;
  };
  if (recipe.picture) readPictureWithHole(recipe, quiet, inputs);
  if (recipe.layout) {
    readLayout(recipe, quiet, weave);
    fit(*recipe.layout, weave.layout);
  }
  if (recipe.over) {
    weave.over = readMap(*recipe.over, "map", quiet, weave);
    fit(*recipe.over, weave.over);
  }
  return inputs;
}

// What a pixel takes: time, in pixels of a piece that is only grown, and bytes held at the most. Measured
// with pieces of 4096x4096 and photos of a megapixel.
struct PixelCost {
  double time = 1;
  double bytes = 19;
};
PixelCost pixelCost(const WeaveInputs& weave) {
  // Tones are evened by solving for all pixels of a hole.
  if (!weave.hole.empty()) return {1 + 9 * coverage(weave.hole), 110};
  if (!weave.layout.empty()) return {2.9, 60};  // joins are everywhere
  const double count = countOf(weave.swatches);
  if (count < 2) return {};
  return weave.mix == Mix::apart ? PixelCost{2.1, 65} : PixelCost{1.2 * count, 20 + 46 * count};
}

// Getting ready takes as long as so many pixels.
double workOf(const WeaveInputs& weave) {
  constexpr double kGettingReady = 150e3;
  return kGettingReady + pixelCost(weave).time * weave.width * weave.height;
}

double secondsFor(const WeaveRecipe& recipe, const WeaveInputs& weave) {
  return weaveSecondsFor(workOf(weave), recipe.settings.threads);
}

double memoryFor(const WeaveInputs& weave) {
  return kBytesOfProgram + pixelCost(weave).bytes * weave.width * weave.height;
}

void requireMemory(const WeaveInputs& weave) {
  const double there =
      0.75 * static_cast<double>(sysconf(_SC_PHYS_PAGES)) * static_cast<double>(sysconf(_SC_PAGESIZE));
  const double needed = memoryFor(weave);
  if (needed <= there) return;
  throw Error(fmt::format(
      "a piece of {}x{} needs {:.0f} MB, and this machine has {:.0f} MB to give; choose a smaller size",
      weave.width, weave.height, needed / 1e6, there / 1e6));
}

std::string planLine(const WeaveRecipe& recipe, const WeaveInputs& weave) {
  const std::string from = referenceWords(recipe.swatches);
  if (recipe.picture)
    return fmt::format("filling {} where {} is white{}", recipe.picture->path.filename().string(),
                       recipe.hole->path.filename().string(), from.empty() ? "" : ", also from " + from);
  std::string line = fmt::format("weaving {}x{} from {}", weave.width, weave.height, from);
  if (recipe.layout) line += " along " + recipe.layout->path.filename().string();
  if (recipe.over) line += " over " + recipe.over->path.filename().string();
  return line;
}

void requirePlaces(const WeaveJob& job) {
  requireWritableName(job.output);
  requireEncoding(job.output, job.recipe.settings.encoding);
  const WeaveRecipe& r = job.recipe;
  for (const RecipeInput& swatch : r.swatches) requireOther(job.output, swatch.path);
  for (const auto* input : {&r.picture, &r.hole, &r.over, &r.layout, &r.layoutMap}) {
    if (*input) requireOther(job.output, (*input)->path);
  }
  requireFree(job.output, job.force);
  if (!job.toPipe) requireFree(recipePathFor(job.output), job.force);
  requirePlace(job.output, job.makesFolder);
}

int tellPlan(const WeaveJob& job, const WeaveInputs& weave) {
  say(stdout, "{}\n", planLine(job.recipe, weave));
  tellSettings(settingsOf(job.recipe));
  say(stdout, "would write {}\n", job.shownOutput());
  if (!job.toPipe) say(stdout, "would write {}\n", recipePathFor(job.output).string());
  say(stdout, "memory: about {:.0f} MB\n", memoryFor(weave) / 1e6);
  say(stdout, "time: about {}\n", duration(secondsFor(job.recipe, weave)));
  return 0;
}

Image woven(const WeaveJob& job, const WeaveInputs& weave, double foretold, const InterruptWatch& watch) {
  ProgressDisplay display(job.quiet ? ProgressStyle::none : job.progress);
  Image piece = jugendstil::weave(weave, [&](double done) {
    watch.stopIfWanted();
    const double elapsed = display.seconds();
    // What is done in a blink needs no lines.
    if (job.progress == ProgressStyle::lines && elapsed < kBlink) return;
    const double remaining = done > 0.2 ? elapsed / done * (1 - done) : std::max(0.0, foretold - elapsed);
    display.show(done, fmt::format("about {} to go", duration(remaining)),
                 progressEvent(done, elapsed, remaining), done >= 1);
  });
  display.finish();
  return piece;
}

void write(const WeaveJob& job, const Inputs& inputs, const Image& piece) {
  if (job.makesFolder) makeFolderFor(job.output);
  Image transparent = inputs.alpha;
  for (std::size_t i = 0; i < transparent.area(); ++i) std::copy_n(piece.pixel(i), 3, transparent.pixel(i));
  writePicture(job.output, transparent.empty() ? piece : transparent, inputs.depth, inputs.metadata.get(),
               job.recipe.settings.encoding);
}

int weaveOne(const WeaveJob& asked, const InterruptWatch& watch) {
  WeaveJob job = asked;
  requirePlaces(job);
  setThreads(job.recipe.settings.threads);
  const Inputs inputs = readInputs(job.recipe, job.quiet);
  requireMemory(inputs.weave);
  if (job.dryRun) return tellPlan(job, inputs.weave);
  const double foretold = secondsFor(job.recipe, inputs.weave);
  if (job.tells()) say(stderr, "{}, about {}\n", planLine(job.recipe, inputs.weave), duration(foretold));
  const auto begin = std::chrono::steady_clock::now();
  const Image piece = woven(job, inputs.weave, foretold, watch);
  const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
  learnRate(calibrationFile(), weaveCalibrationKey(job.recipe.settings.threads),
            seconds / workOf(inputs.weave), seconds);
  write(job, inputs, piece);
  fs::path recipe;
  if (!job.toPipe) {
    job.recipe.piece = job.output.filename().string();
    job.recipe.result = WeaveRecipeResult{JUGENDSTIL_VERSION, piece.width, piece.height, seconds};
    recipe = recipePathFor(job.output);
    writeFileAtomically(recipe, weaveRecipeText(job.recipe, fs::absolute(recipe).parent_path()));
  }
  if (job.progress == ProgressStyle::json)
    sayJson(stdout, {{"event", "done"},
                     {"file", job.output.string()},
                     {"recipe", recipe.string()},
                     {"width", piece.width},
                     {"height", piece.height},
                     {"seconds", seconds}});
  else
    say(stdout, "{}: {}x{}, {} in {}\n", job.shownOutput(), piece.width, piece.height,
        job.recipe.picture ? "filled" : "woven", duration(seconds));
  return 0;
}

// One job for each combination of values.
std::vector<WeaveJob> variations(const WeaveJob& job) {
  const RecipeInput& named = job.recipe.picture ? *job.recipe.picture : job.recipe.swatches.front();
  std::vector<std::pair<WeaveJob, std::string>> all{{job, named.path.stem().string()}};
  all.front().first.vary.clear();
  for (const std::string& word : job.vary) {
    WeaveSettings trial;
    const Choice choice = choiceFrom(word, [&](const std::string& setting, const std::string& value) {
      setWeaveSetting(trial, setting, value);
    });
    std::vector<std::pair<WeaveJob, std::string>> more;
    for (const auto& [one, name] : all) {
      for (const std::string& value : choice.values) {
        more.emplace_back(one, fmt::format("{}-{}-{}", name, choice.setting, fileWord(value)));
        setWeaveSetting(more.back().first.recipe.settings, choice.setting, value);
      }
    }
    all = std::move(more);
    if (all.size() > kMostPieces)
      throw UsageError(fmt::format("these are more than {} pieces; vary less at once", kMostPieces));
  }
  std::vector<WeaveJob> jobs;
  for (auto& [one, name] : all) {
    one.output = job.output / (name + ".png");
    one.makesFolder = true;
    jobs.push_back(std::move(one));
  }
  return jobs;
}

void requireOwnNames(const std::vector<WeaveJob>& jobs) {
  std::vector<fs::path> names;
  for (const WeaveJob& one : jobs) names.push_back(one.output);
  std::sort(names.begin(), names.end());
  const auto twice = std::adjacent_find(names.begin(), names.end());
  if (twice != names.end())
    throw UsageError(
        fmt::format("two pieces would be named {}; vary to values of their own", twice->filename().string()));
}

// Whether an earlier run has woven just this.
bool isWoven(const WeaveJob& job) {
  std::error_code code;
  const fs::path file = recipePathFor(job.output);
  if (job.force || !fs::exists(job.output, code) || !fs::exists(file, code)) return false;
  WeaveRecipe known = parseWeaveRecipe(readRecipe(file), file);
  if (!known.result || known.result->version != JUGENDSTIL_VERSION) return false;
  known.result.reset();
  WeaveRecipe asked = job.recipe;
  asked.piece = job.output.filename().string();
  for (RecipeInput& swatch : asked.swatches) swatch.checksum = fileChecksum(swatch.path);
  for (auto* input : {&asked.picture, &asked.hole, &asked.over, &asked.layout, &asked.layoutMap}) {
    if (*input) (*input)->checksum = fileChecksum((*input)->path);
  }
  const fs::path folder = fs::absolute(file).parent_path();
  return weaveRecipeText(known, folder) == weaveRecipeText(asked, folder);
}

void writeSheet(const fs::path& file, const std::vector<WeaveJob>& jobs) {
  std::vector<SheetCell> cells;
  for (const WeaveJob& one : jobs)
    cells.push_back({readPicture(one.output).image,
                     fmt::format("{}", fmt::join(unusualOf(settingsOf(one.recipe)), ", ")),
                     recipePathFor(one.output).filename().string()});
  SheetOptions options;
  options.title = fmt::format("{} pieces", jobs.size());
  options.columns = std::min(4, countOf(cells));
  writePicture(file, contactSheet(cells, options), Depth::eight);
}

int weaveSeveral(const WeaveJob& job, const InterruptWatch& watch) {
  const std::vector<WeaveJob> jobs = variations(job);
  requireOwnNames(jobs);
  const fs::path sheet = job.output / "sheet.png";
  std::vector<WeaveJob> missing;
  std::copy_if(jobs.begin(), jobs.end(), std::back_inserter(missing),
               [](const WeaveJob& one) { return !isWoven(one); });
  const std::size_t kept = jobs.size() - missing.size();
  // A sheet that lies there with pieces of these is theirs.
  if (kept == 0) requireFree(sheet, job.force);
  for (const WeaveJob& one : missing) requirePlaces(one);
  if (kept > 0 && !job.quiet) say(stderr, "{} of {} pieces are there already and kept\n", kept, jobs.size());
  std::size_t done = kept;
  try {
    for (const WeaveJob& one : missing) {
      weaveOne(one, watch);
      ++done;
    }
  } catch (const Stopped&) {
    if (done == 0) throw;
    const std::string message = fmt::format(
        "stopped; {} of {} pieces are there, the same command goes on with the rest", done, jobs.size());
    say(stderr, "jugendstil: {}\n", message);
    if (job.progress == ProgressStyle::json)
      sayJson(stdout, {{"event", "stopped"}, {"message", message}, {"code", 130}});
    return 130;
  }
  if (job.dryRun) {
    say(stdout, "{} pieces and {}\n", jobs.size(), sheet.string());
    return 0;
  }
  writeSheet(sheet, jobs);
  if (job.progress != ProgressStyle::json)
    say(stdout, "{}: {} pieces side by side\n", sheet.string(), jobs.size());
  return 0;
}

}  // namespace

double weaveSecondsFor(double pixels, int threads) {
  const auto known = knownRate(calibrationFile(), weaveCalibrationKey(threads));
  return std::max(1.0, known.value_or(kUsualRate) * pixels);
}

int runWeaveJob(const WeaveJob& job) {
  // Of several it listens between them, too.
  const InterruptWatch watch;
  return job.vary.empty() ? weaveOne(job, watch) : weaveSeveral(job, watch);
}

}  // namespace jugendstil::cli
