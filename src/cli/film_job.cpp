// SPDX-License-Identifier: Apache-2.0
#include "cli/film_job.h"

#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "base/atomic_file.h"
#include "base/checksum.h"
#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"
#include "base/parallel.h"
#include "cli/film_display.h"
#include "cli/film_pace.h"
#include "cli/film_places.h"
#include "cli/paint_inputs.h"
#include "cli/painters.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "clip/clip_writer.h"
#include "clip/spool.h"
#include "film/journal.h"
#include "film/plan.h"
#include "grade/grade_file.h"
#include "image/mask.h"
#include "image/picture_file.h"
#include "learn/paint_at_once.h"
#include "network/chain_file.h"
#include "paint/first_state.h"
#include "paint/plan.h"
#include "recipe/recipe_words.h"
#include "report/steadiness_chart.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr int kProofFrames = 8;
constexpr double kProofScale = 0.5;

// Large clips are known by their size and both ends: reading all of one would take longer than its first
// frames.
std::string fingerprint(const std::string& name) {
  if (isFramePattern(name)) return name;
  std::error_code code;
  const auto size = fs::file_size(name, code);
  return fmt::format("{} bytes {}", size, fileEndsChecksum(name));
}

std::string clipOf(const FilmJob& job) { return job.recipe.clip->path.string(); }

// All that the frames depend on, as text.
std::string makingOf(const FilmJob& job, const std::string& clip) {
  std::string text = fmt::format("jugendstil {}\nclip {} {}\noutput {}\n", JUGENDSTIL_VERSION, clipOf(job),
                                 fingerprint(clip), fs::path(job.output).filename().string());
  const FilmRecipe& r = job.recipe;
  if (r.grade) {
    text += "grade\n";
  } else {
    text += fmt::format("network {}\n", fileChecksum(r.network->path));
    for (const SettingInfo& info : paintSettingTable())
      text += fmt::format("{} = {}\n", info.name, paintSettingText(job.recipe.paint, info.name));
    if (!startIsWord(job.recipe.paint.start))
      text += fmt::format("start {}\n", fileChecksum(job.recipe.paint.start));
  }
  for (const SettingInfo& info : filmSettingTable())
    text += fmt::format("{} = {}\n", info.name, filmSettingText(job.recipe.settings, info.name));
  for (const RecipeInput& one : r.references)
    text += fmt::format("after {} @{}\n", fileChecksum(one.path), one.share);
  if (r.painter) text += fmt::format("with {}\n", fileChecksum(r.painter->path));
  if (r.look) text += fmt::format("look {}\n", fileChecksum(r.look->path));
  for (const FrameInput& key : r.keys)
    text += fmt::format("key {} {}\n", key.frame, fileChecksum(key.file.path));
  for (const FrameInput& mask : r.masks)
    text += fmt::format("mask {} {} {}\n", r.maskInside, mask.frame, fileChecksum(mask.file.path));
  for (const RecipeHold& hold : r.holds)
    text += fmt::format("hold {} {}\n", hold.mask ? fileChecksum(hold.mask->path) : "faces", hold.likeness);
  if (r.maskClip) text += fmt::format("mask {} {}\n", r.maskInside, fingerprint(r.maskClip->path.string()));
  return text;
}

struct Inputs {
  Chain chain;
  QuickPainter painter;
  FilmInputs film;  // which points to one of them
};

void knowAll(FilmRecipe& recipe, bool quiet) {
  const auto ends = [&](RecipeInput& clip, const char* what) {
    const std::string name = clip.path.string();
    if (name != "-" && !isFramePattern(name)) know(clip, fileEndsChecksum(name), what, quiet);
  };
  const auto whole = [&](RecipeInput& file, const char* what) { knowFile(file, what, quiet); };
  ends(*recipe.clip, "clip");
  if (recipe.maskClip) ends(*recipe.maskClip, "mask clip");
  for (RecipeInput& r : recipe.references) whole(r, "reference");
  for (FrameInput& key : recipe.keys) whole(key.file, "key");
  for (FrameInput& mask : recipe.masks) whole(mask.file, "mask");
  if (recipe.painter) whole(*recipe.painter, "painter");
  if (recipe.look) whole(*recipe.look, "look");
  if (recipe.start) whole(*recipe.start, "start picture");
  if (recipe.network && !recipe.grade) whole(*recipe.network, "network");
}

std::vector<PaintReference> readReferences(const FilmRecipe& recipe) {
  std::vector<PaintReference> references;
  for (const RecipeInput& r : recipe.references)
    references.push_back({rgbOf(readPicture(r.path).image), r.share});
  return references;
}

void takePainter(const FilmRecipe& recipe, Inputs& inputs) {
  inputs.painter = recipe.paint.quick
                       ? generalPainter(readReferences(recipe), readOnnx(recipe.network->path), recipe.paint)
                       : readQuickPainter(recipe.painter->path);
  inputs.film.painter = &inputs.painter;
  inputs.film.references = inputs.painter.references;
  inputs.film.paint = settingsWith({&inputs.painter}, recipe.paint);
}

void takeReferences(const FilmRecipe& recipe, Inputs& inputs) {
  const Chain own = readOnnx(recipe.network->path);
  inputs.chain = chainFor(own, recipe.paint);
  inputs.film.chain = &inputs.chain;
  inputs.film.references = readReferences(recipe);
  if (recipe.start) inputs.film.start = rgbOf(readPicture(recipe.start->path).image);
  if (!recipe.painter && recipe.paint.start != "quick") return;
  inputs.painter = recipe.painter ? readQuickPainter(recipe.painter->path)
                                  : generalPainter(inputs.film.references, own, recipe.paint);
  inputs.film.beginner = &inputs.painter;
  inputs.film.paint = begunSettings(recipe.paint);
}

Image heldMask(const RecipeInput& mask, const std::string& clip) {
  const ClipInfo info = openClip(clip)->info();
  Image held = readMaskFor(mask.path, info.width, info.height);
  if (!(coverage(held) > 0))
    throw UsageError(fmt::format("--hold {} covers nothing: the mask is black all over", mask.path.string()));
  return held;
}

void readInputs(const FilmJob& job, const std::string& clip, Inputs& inputs) {
  const FilmRecipe& recipe = job.recipe;
  FilmInputs& film = inputs.film;
  film.clip = clip;
  film.output = job.output;
  film.paint = recipe.paint;
  film.film = recipe.settings;
  film.grade = recipe.grade;
  film.making = makingOf(job, clip);
  // A run that was begun with --force and stopped goes on with it, too.
  film.anew = job.force && holdsOtherWork(workFolderFor(job.output), film.making);
  if (recipe.grade) {
    if (recipe.look) film.look = readLook(recipe.look->path);
    for (const RecipeInput& r : recipe.references)
      film.gradeReferences.push_back({fileStatistics(r.path), r.share});
  } else {
    for (const FrameInput& key : recipe.keys)
      film.keys.push_back({key.frame, rgbOf(readPicture(key.file.path).image)});
    if (paintsAtOnce(recipe))
      takePainter(recipe, inputs);
    else
      takeReferences(recipe, inputs);
    const std::size_t count = std::min(recipe.references.size(), film.references.size());
    for (std::size_t i = 0; job.tells() && i < count; ++i)
      noteFrame(recipe.references[i], film.references[i].image, recipe.paint.trim);
  }
  for (const RecipeHold& hold : recipe.holds)
    film.holds.push_back({hold.mask ? heldMask(*hold.mask, clip) : Image(), hold.likeness});
  if (!recipe.masks.empty() || recipe.maskClip) {
    FilmMask mask;
    mask.inside = recipe.maskInside;
    if (recipe.maskClip) mask.clip = recipe.maskClip->path.string();
    // Only a drawing has to know the frames' size.
    const bool drawn = std::any_of(recipe.masks.begin(), recipe.masks.end(), [](const FrameInput& one) {
      return extensionOf(one.file.path) == ".svg";
    });
    const ClipInfo info = drawn ? openClip(clip)->info() : ClipInfo{};
    for (const FrameInput& one : recipe.masks)
      mask.frames.push_back({one.frame, readMask(one.file.path, info.width, info.height)});
    film.mask = std::move(mask);
  }
}

std::string planLine(const FilmJob& job, const FilmPlan& plan) {
  return fmt::format(
      "{} {} ({}x{}, {} frame{}, {:.3g} a second) {} {}: {} frame{} at {}x{}{}",
      job.recipe.grade ? "grading" : "painting",
      clipOf(job) == "-" ? "the pipe" : job.recipe.clip->path.filename().string(), plan.clip.width,
      plan.clip.height, plan.clip.times.size(), plan.clip.times.size() == 1 ? "" : "s",
      plan.clip.rate.value(), job.recipe.painter && paintsAtOnce(job.recipe) ? "with" : "after",
      afterWords(job.recipe), plan.frames, plan.frames == 1 ? "" : "s", plan.size.width, plan.size.height,
      plan.clip.sound.empty() || !job.recipe.settings.sound ? "" : ", sound " + plan.clip.sound);
}

// What each word was taken for.
void printInputs(const FilmRecipe& recipe) {
  say(stdout, "  clip {}\n", recipe.clip->path.string());
  tellInputs(recipe.references, {}, {}, recipe.holds);
  if (recipe.painter)
    say(stdout, "  {} {}\n", paintsAtOnce(recipe) ? "with" : "begun by", recipe.painter->path.string());
  if (recipe.look) say(stdout, "  look {}\n", recipe.look->path.string());
  for (const FrameInput& key : recipe.keys)
    say(stdout, "  key at frame {}: {}\n", key.frame, key.file.path.string());
  for (const FrameInput& mask : recipe.masks)
    say(stdout, "  {} from frame {}: {}\n", recipe.maskInside ? "inside" : "outside", mask.frame,
        mask.file.path.string());
  if (recipe.maskClip)
    say(stdout, "  {} {}\n", recipe.maskInside ? "inside" : "outside", recipe.maskClip->path.string());
}

void printPlan(const FilmJob& job, const Inputs& inputs, const FilmPlan& plan) {
  say(stdout, "{}\n", planLine(job, plan));
  printInputs(job.recipe);
  tellSettings(settingsOf(job.recipe));
  say(stdout, "memory: about {} MB\n", plan.memory >> 20);
  const Size kept = job.recipe.grade ? plan.size : plan.paint.working;
  const double pixels = static_cast<double>(plan.frames) * kept.width * kept.height;
  say(stdout, "disk while working: about {:.0f} MB in {}\n", pixels * (plan.clip.bits <= 8 ? 2.2 : 5.0) / 1e6,
      workFolderFor(job.output).string());
  const FilmTime time = foretoldTime(job.recipe, inputs.film, plan);
  say(stdout, "time: about {} ({})\n", duration(time.seconds),
      time.known ? "from earlier work on this machine" : "from a short trial");
  say(stdout, "would write {}\n",
      job.output == "-" ? "YUV4MPEG2 to standard output"
                        : fmt::format("{} and {}", job.output, filmRecipePathFor(job.output).string()));
}

std::uintmax_t bytesOf(const std::string& output) {
  std::error_code code;
  if (isFramePattern(output) || output == "-") return 0;
  return fs::file_size(output, code);
}

// What went otherwise than it should have, and how steady the film is.
void tellFigures(const FilmJob& job, const FilmResult& result) {
  std::vector<std::int64_t> retried;
  std::vector<std::int64_t> filled;
  double lowest = 1;
  std::int64_t lowestFrame = 0;
  for (const FrameFigures& f : result.frames) {
    if (f.tries > 1 && !f.filled) retried.push_back(f.source);
    if (f.filled) filled.push_back(f.source);
    if (f.maskConfidence < lowest) {
      lowest = f.maskConfidence;
      lowestFrame = f.source;
    }
  }
  if (!retried.empty())
    say(stderr, "tried again: frame{} {}\n", retried.size() == 1 ? "" : "s", frameList(retried));
  if (!filled.empty()) {
    say(stderr, "note: frame{} {} could not be made and {} filled in from {} neighbours\n",
        filled.size() == 1 ? "" : "s", frameList(filled), filled.size() == 1 ? "was" : "were",
        filled.size() == 1 ? "its" : "their");
  }
  if (!job.recipe.masks.empty()) {
    say(stderr, "mask followed; confidence {:.0f} % at its lowest, frame {}{}\n", 100 * lowest, lowestFrame,
        lowest < 0.6 ? fmt::format("; look there, and give a mask for it: --{} {}=MASK",
                                   job.recipe.maskInside ? "inside" : "outside", lowestFrame)
                     : "");
  }
  if (result.sourceError > 0) {
    say(stderr, "steadiness: warping error {:.2e}, the clip's own {:.2e}, ratio {:.2f}\n", result.error,
        result.sourceError, result.error / result.sourceError);
  }
}

void writeChart(const FilmJob& job, const FilmResult& result) {
  SteadinessChart chart;
  chart.title = fmt::format("{} {}", fs::path(job.output).filename().string(),
                            job.recipe.grade ? "(graded)" : "(painted)");
  chart.series.push_back({"the clip's own", {}});
  chart.series.push_back({"result", {}});
  for (const FrameFigures& f : result.frames) {
    chart.frames.push_back(f.source);
    chart.series[0].errors.push_back(f.trusted > 0 ? f.sourceError : std::nan(""));
    chart.series[1].errors.push_back(f.trusted > 0 ? f.error : std::nan(""));
    if (f.shotBegins && &f != &result.frames.front()) chart.cuts.push_back(f.source);
    if (f.tries != 1 || f.filled) chart.retries.push_back(f.source);
  }
  writePicture(job.chart, steadinessChart(chart), Depth::eight);
}

// What the frames came from and how, beside them.
void writeRecipe(const FilmJob& job, const FilmResult& result) {
  if (job.output == "-") return;
  FilmRecipe recipe = job.recipe;
  recipe.film = fs::path(job.output).filename().string();
  if (clipOf(job) == "-") recipe.clip.reset();  // what came through a pipe is gone
  recipe.result = FilmRecipeResult{
      JUGENDSTIL_VERSION,  result.width, result.height,     static_cast<std::int64_t>(result.frames.size()),
      result.paintSeconds, result.error, result.sourceError};
  const fs::path file = filmRecipePathFor(job.output);
  writeFileAtomically(file, filmRecipeText(recipe, fs::absolute(file).parent_path()));
}

void requireFreeFile(const FilmJob& job) {
  if (job.output == "-") return;
  if (!isFramePattern(job.output)) requireFree(job.output, job.force);
  requireFree(filmRecipePathFor(job.output), job.force);
}

// A smaller, shorter film that shows what the whole would be.
FilmJob proofOf(const FilmJob& job, const FilmPlan& whole) {
  FilmJob proof = job;
  if (proof.recipe.settings.frames == 0 || proof.recipe.settings.frames > kProofFrames)
    proof.recipe.settings.frames = kProofFrames;
  if (!job.recipe.grade) {
    const int edge = std::max(whole.size.width, whole.size.height);
    proof.recipe.paint.longEdge = std::max(std::min(edge, 256), static_cast<int>(edge * kProofScale));
  }
  return proof;
}

void tellProof(const FilmPlan& whole, const FilmResult& proof, std::uintmax_t bytes, double seconds) {
  const double pixelsWhole = 1.0 * whole.size.width * whole.size.height;
  const double scale = pixelsWhole / (1.0 * proof.width * proof.height);
  const auto frames = static_cast<double>(proof.frames.size());
  say(stderr, "the whole: {} frames at {}x{}, about {}", whole.frames, whole.size.width, whole.size.height,
      duration(seconds));
  if (bytes > 0) {
    say(stderr, ", about {:.1f} MB",
        static_cast<double>(bytes) * scale * static_cast<double>(whole.frames) / frames / 1e6);
  }
  say(stderr, "\n");
}

void tellResult(const FilmJob& job, const FilmResult& result, double seconds) {
  if (job.progress == ProgressStyle::json) {
    const nlohmann::json object{{"event", result.finished ? "done" : "stopped"},
                                {"file", job.output},
                                {"width", result.width},
                                {"height", result.height},
                                {"frames", result.finished ? result.frames.size() : result.done},
                                {"seconds", seconds},
                                {"warping_error", result.error},
                                {"source_warping_error", result.sourceError}};
    sayJson(job.output == "-" ? stderr : stdout, object);
    return;
  }
  std::FILE* to = job.output == "-" ? stderr : stdout;
  if (!result.finished) {
    say(to, "{}: stopped after {} frame{}, kept in {}; the same command goes on from there\n", job.output,
        result.done, result.done == 1 ? "" : "s", workFolderFor(job.output).string());
    return;
  }
  if (job.output == "-" && job.quiet) return;
  say(to, "{}: {}x{}, {} frame{}, {} in {}\n", job.output, result.width, result.height, result.frames.size(),
      result.frames.size() == 1 ? "" : "s", job.recipe.grade ? "graded" : "painted", duration(seconds));
}

// What is wrong with the names is said before anything is read.
void requirePlaces(const FilmJob& job) {
  const ClipCodec codec = codecForName(job.output);
  if (job.recipe.settings.codec != "auto")
    requireCodecFits(job.output, codecFromWord(job.recipe.settings.codec));
  requireFreeFile(job);
  if (!job.chart.empty()) requireFree(job.chart, job.force);
  if (job.output != "-")
    requirePlace(isFramePattern(job.output) ? frameName(job.output, 0) : job.output, job.makesFolder);
  if (!job.chart.empty()) requireWritableName(job.chart);
  if (job.recipe.settings.sound && clipOf(job) != "-" && codec != ClipCodec::y4m && codec != ClipCodec::png)
    requireSoundFits(job.output, clipOf(job));
}

// Before hours of work: is the work folder ours?
void requireReady(const FilmJob& job, const std::string& making) {
  requireFreeFrames(job.output, making, job.force);
  requireOwnWork(job.output, making, job.force);
}

void tellBeginning(const FilmJob& job, const FilmPlan& plan) {
  if (!job.tells()) return;
  say(stderr, "{}\n", planLine(job, plan));
  if (plan.clip.endsEarly)
    say(stderr, "note: {} breaks off: {:.1f} s were announced, {} frames are there\n", clipOf(job),
        plan.clip.seconds, plan.clip.times.size());
}

}  // namespace

FilmTimeOf filmTime(const FilmJob& asked) {
  FilmJob job = asked;
  setThreads(job.recipe.paint.threads);
  knowAll(job.recipe, true);
  const auto inputs = std::make_shared<Inputs>();
  readInputs(job, clipOf(job), *inputs);
  return [recipe = job.recipe, inputs](const PaintSettings& settings, int frames) mutable {
    recipe.paint = inputs->film.paint = settings;
    if (inputs->film.painter != nullptr) inputs->film.paint = settingsWith({&inputs->painter}, settings);
    if (inputs->film.beginner != nullptr) inputs->film.paint = begunSettings(settings);
    recipe.settings.frames = inputs->film.film.frames = frames;
    return foretoldTime(recipe, inputs->film, planFilm(inputs->film)).seconds;
  };
}

int runFilmJob(FilmJob job) {
  requirePlaces(job);
  if (job.makesFolder && !job.dryRun) makeFolderFor(job.output);
  setThreads(job.recipe.paint.threads);
  const SpooledClip spooled(clipOf(job), workFolderFor(job.output));
  knowAll(job.recipe, job.quiet);
  Inputs inputs;
  readInputs(job, spooled.name(), inputs);
  const FilmPlan whole = planFilm(inputs.film);
  double wholeSeconds = 0;
  if (job.proof) {
    if (!job.dryRun) wholeSeconds = foretoldTime(job.recipe, inputs.film, whole).seconds;
    job = proofOf(job, whole);
    inputs = {};
    readInputs(job, spooled.name(), inputs);
  }
  requireReady(job, inputs.film.making);
  const FilmPlan plan = planFilm(inputs.film);
  if (job.dryRun) {
    printPlan(job, inputs, plan);
    return 0;
  }
  tellBeginning(job, plan);
  FilmDisplay display(job.progress);
  const FilmResult result = withKeptFrames(
      job.output, display, [&](const FilmCallbacks& callbacks) { return makeFilm(inputs.film, callbacks); });
  if (result.finished) {
    if (result.kept == 0) learnPace(job.recipe, inputs.film, plan, display.seconds());
    writeRecipe(job, result);
    if (!job.chart.empty()) writeChart(job, result);
    if (!job.quiet) tellFigures(job, result);
    if (job.proof && !job.quiet) tellProof(whole, result, bytesOf(job.output), wholeSeconds);
  }
  tellResult(job, result, display.seconds());
  return result.finished ? 0 : 130;
}

}  // namespace jugendstil::cli
