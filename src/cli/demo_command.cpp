// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <optional>

#include "base/atomic_file.h"
#include "base/checksum.h"
#include "base/error.h"
#include "base/file.h"
#include "base/number.h"
#include "cli/demo_parts.h"
#include "cli/paint_run.h"
#include "cli/say.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

// Seconds that one likes to wait, for the first painting and for all. What is foretold is kept below:
// machines have other work, too.
constexpr double kFirst = 0.75 * 60;
constexpr double kWhole = 0.72 * 360;

constexpr std::size_t kMostBytes = std::size_t{64} << 20;

PaintSettings settingsAt(Demo demo, const DemoScale& scale, int longEdge) {
  demo.scale = scale;
  PaintSettings settings = paintingOf(demo);
  settings.longEdge = longEdge;
  return settings;
}

DemoPace paceOf(const Demo& demo) {
  DemoPace pace;
  pace.painting = [demo, time = paintTime(firstPainting(demo))](const DemoScale& scale) {
    return time(settingsAt(demo, scale, scale.longEdge));
  };
  // Each photo is graded twice, the second time together; weaving and amplifying take their time, too.
  pace.grading = 2 * foretoldSeconds(gradings(demo).back()) + weavingSeconds() + amplifyingSeconds();
  pace.learning = learningSeconds(demo);
  pace.diving = divingSeconds(demo);
  pace.film = [demo, painted = filmTime(paintedFilm(demo)),
               graded = filmTime(gradedFilm(demo))](const DemoScale& scale) {
    return painted(settingsAt(demo, scale, scale.filmEdge), scale.frames) + graded({}, scale.frames);
  };
  return pace;
}

std::string inWords(const DemoScale& scale, int paintings) {
  return fmt::format(
      "{} paintings of {} pixels, ten graded photos, nine woven pieces, four amplified, {}{} of the clip at "
      "{}{}",
      paintings, scale.longEdge, scale.all ? "" : "and ",
      scale.frames == 0 ? "all" : fmt::format("{} frames", scale.frames), scale.filmEdge,
      scale.all ? ", all of it by a quick painter, and two dives" : "");
}

std::string inWords(const DemoScale& scale) { return inWords(scale, scale.photos * kDemoReferences); }

std::string pathText(const fs::path& path) { return fs::absolute(path).lexically_normal().string(); }

std::vector<fs::path> laidOutFiles(const Demo& demo) {
  std::vector<fs::path> files;
  for (const char* folder : {"photos", "references", "photo_references", "swatches", "drawings", "clip"}) {
    for (const auto& entry : fs::directory_iterator(demo.inputs / folder)) {
      if (entry.is_regular_file() && entry.path().extension() != ".toml")
        files.push_back(fs::path(folder) / entry.path().filename());
    }
  }
  return files;
}

struct Wish {
  bool all = false;
  std::optional<int> longEdge;
  std::optional<int> frames;
};

Wish wishOf(const po::variables_map& given) {
  Wish wish;
  wish.all = given.count("all") != 0;
  if (given.count("long-edge") != 0) {
    PaintSettings settings;
    setPaintSetting(settings, "long-edge", textOf(given, "long-edge"));
    wish.longEdge = settings.longEdge;
  }
  if (given.count("frames") != 0) {
    FilmSettings settings;
    setFilmSetting(settings, "frames", textOf(given, "frames"));
    wish.frames = settings.frames;
  }
  return wish;
}

// What was asked for, and of the rest what fits.
DemoScale firstScale(const Wish& wish, const DemoPace& pace) {
  DemoScale scale;
  scale.all = wish.all;
  if (!wish.all && !wish.longEdge) scale = withPaintings(scale, pace, kFirst, kWhole);
  if (wish.longEdge) scale.longEdge = *wish.longEdge;
  return scale;
}

DemoScale filmFitted(DemoScale scale, const Wish& wish, const DemoPace& pace, double seconds) {
  if (!wish.all && !wish.frames) scale = withFilm(scale, pace, seconds);
  if (wish.frames) scale.frames = *wish.frames;
  if (wish.longEdge) scale.filmEdge = std::min(scale.filmEdge, *wish.longEdge);
  return scale;
}

void tellBeginning(const Demo& demo, const Wish& wish, const DemoPace& pace) {
  std::FILE* to = demo.dryRun ? stdout : stderr;
  say(to, "the demo: {}; about {} on this machine\n", inWords(demo.scale),
      duration(secondsOf(demo.scale, pace)));
  if (!wish.all) say(to, "with --all: {}; about {}\n", inWords({}), duration(secondsOf({}, pace)));
}

int runDemo(Demo demo, const Wish& wish, const DemoPace& pace, Clock::time_point begin) {
  const auto left = [&] { return kWhole - std::chrono::duration<double>(Clock::now() - begin).count(); };
  layOutDemo(demo);
  // How long the first painting took tells more than any trial.
  if (const int outcome = runPaintJob(firstPainting(demo)); outcome != 0) return outcome;
  demo.begun = true;
  const bool fitted = !wish.all && !wish.longEdge;
  if (fitted) demo.scale.photos = photosWithin(demo.scale, pace, left());
  std::vector<DemoPart> parts;
  parts.push_back(paintDemo(demo, [&] { return !fitted || timeForPainting(demo.scale, pace, left()); }));
  if (parts.back().outcome == 0) parts.push_back(quickDemo(demo));
  if (parts.back().outcome == 0) parts.push_back(gradeDemo(demo));
  if (parts.back().outcome == 0) parts.push_back(weaveDemo(demo));
  if (parts.back().outcome == 0) parts.push_back(amplifyDemo(demo));
  if (parts.back().outcome == 0) parts.push_back(shelfDemo(demo));
  demo.scale = filmFitted(demo.scale, wish, pace, left());
  if (parts.back().outcome == 0) parts.push_back(filmDemo(demo));
  if (parts.back().outcome == 0 && demo.scale.all) parts.push_back(learnDemo(demo));
  if (parts.back().outcome == 0 && demo.scale.all) parts.push_back(diveDemo(demo));
  if (parts.back().outcome != 0) return parts.back().outcome;
  std::vector<GallerySection> sections;
  for (DemoPart& part : parts) sections.push_back(std::move(part.section));
  const int paintings = countOf(sections.front().items);
  const std::string lead = fmt::format(
      "A glasshouse garden that does not exist, and what jugendstil made of its photos and its clip here: "
      "{}. The "
      "commands work in this folder.",
      inWords(demo.scale, paintings));
  writeFileAtomically(demo.folder / "index.html", galleryPage("The Palmarium Ostermoor", lead, sections));
  say(stdout, "{}: all of it on one page, for a browser\n", pathText(demo.folder / "index.html"));
  return 0;
}

po::options_description demoOptions() {
  auto all = optionGroup("Options");
  all.add_options()("folder", textValue("DIR"), "where the pictures go (jugendstil-demo)");
  all.add_options()("all", "as large as it was meant, however long it takes");
  all.add_options()("long-edge", textValue("PX"),
                    "longer side of the paintings (what fits into six minutes)");
  all.add_options()("steps", textValue("N[,N...]"), "steps of each level (auto)");
  all.add_options()("frames", textValue("N"), "no more of the clip than N frames (what fits)");
  return all.add(reportOptions());
}

}  // namespace

PaintSettings paintingOf(const Demo& demo) {
  PaintSettings settings;
  if (!demo.steps.empty()) setPaintSetting(settings, "steps", demo.steps);
  settleThreads(settings);
  return settings;
}

std::string stepsOption(const Demo& demo) { return demo.steps.empty() ? "" : " --steps " + demo.steps; }

void layOutDemo(Demo& demo) {
  for (const fs::path& name : laidOutFiles(demo)) {
    const fs::path to = demo.folder / name;
    std::error_code code;
    fs::create_directories(to.parent_path(), code);
    if (code)
      throw Error(fmt::format("cannot make the folder {}: {}", to.parent_path().string(), code.message()));
    if (fs::exists(to, code) && fileChecksum(to) == fileChecksum(demo.inputs / name)) continue;
    requireFree(to, demo.force);
    writeFileAtomically(to, readFile(demo.inputs / name, kMostBytes));
  }
  demo.inputs = demo.folder;
}

CommandHelp demoHelp() {
  return {
      "usage: jugendstil demo [DIR] [options]\n\n"
      "Paints the Palmarium's photos after its paintings, grades them after its photos, weaves its\n"
      "swatches, amplifies some, puts its references on a shelf, and paints and grades its clip: as much "
      "and\n"
      "as large as fits into six minutes here. A sheet for each, and index.html with all of it. With --all "
      "a\n"
      "quick painter learns the clip, and there are two dives.\n\n"
      "  jugendstil demo\n  jugendstil demo /tmp/look --long-edge 384 --frames 24\n",
      {demoOptions()}};
}

int demoCommand(const Words& words) {
  const CommandHelp help = demoHelp();
  po::positional_options_description positions;
  positions.add("folder", 1);
  const auto given = parseWords(words, help.options(), positions, "demo");
  if (sayHelpIfAsked(given, help)) return 0;
  Demo demo;
  static_cast<RunOptions&>(demo) = runOptionsOf(given);
  demo.folder = textOf(given, "folder", "jugendstil-demo");
  demo.inputs = shareFolder() / "demo";
  demo.steps = textOf(given, "steps");
  for (const char* file :
       {"index.html", "sheet.png", "grade-sheet.png", "weave-sheet.png", "amplify-sheet.png",
        "shelf-sheet.png", "shelf.html", "film-sheet.png", "dive-sheet.png"})
    requireFree(demo.folder / file, demo.force || demo.dryRun);
  const Wish wish = wishOf(given);
  if (wish.all) requireFree(demo.folder / kDemoPainter, demo.force || demo.dryRun);
  const Clock::time_point begin = Clock::now();
  const DemoPace pace = paceOf(demo);
  demo.scale = firstScale(wish, pace);
  demo.scale = filmFitted(demo.scale, wish, pace, kWhole - paintingSeconds(demo.scale, pace) - pace.grading);
  if (demo.tells() || demo.dryRun) tellBeginning(demo, wish, pace);
  return demo.dryRun ? 0 : runDemo(std::move(demo), wish, pace, begin);
}

}  // namespace jugendstil::cli
