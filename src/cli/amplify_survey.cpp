// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <nlohmann/json.hpp>

#include "amplify/band_choice.h"
#include "base/parallel.h"
#include "cli/amplify_inputs.h"
#include "cli/amplify_job.h"
#include "cli/interrupt.h"
#include "cli/options.h"
#include "cli/say.h"
#include "image/picture_file.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

// Large enough for the forms of the largest band, small enough to be made in a few seconds each.
constexpr int kMostEdge = 384;
// Of the smallest patterns that a band makes.
constexpr std::array<double, 3> kSizes{1, 2, 4};
// Of the picture's shorter side, patterns are no larger.
constexpr double kLargest = 0.8;

// Bands of styles, each with its sizes, as parts of the picture's longer side; without what a small photo has
// no room for.
std::vector<AmplifySettings> surveyed(const AmplifyJob& job, const AmplifyFiles& files) {
  const int edge = std::min(kMostEdge, std::max(files.photo().width, files.photo().height));
  const Size size = sizeForLongEdge(files.photo().width, files.photo().height, edge);
  std::vector<AmplifySettings> all;
  for (const std::string& name : files.chain.styleBands) {
    const double smallest = smallestPattern(files.chain.bands[files.chain.bandIndex(name)]);
    for (const double times : kSizes) {
      AmplifySettings settings = job.recipe.settings;
      settings.bands = {{name, 1}};
      const double pixels = std::min(smallest * times, kLargest * std::min(size.width, size.height));
      if (pixels < smallest) continue;
      settings.pattern = {std::ceil(1000 * pixels / edge) / 10, true};
      settings.painting.longEdge = edge;
      settings.painting.finish = settings.painting.proof = false;
      settings.painting.snapshots = {};
      all.push_back(settings);
    }
  }
  return all;
}

double workOf(const std::vector<AmplifySettings>& all, const AmplifyFiles& files) {
  double work = 0;
  for (const AmplifySettings& settings : all)
    work += planAmplifying(files.photo(), settings, files.chain).work();
  return work;
}

Image sheetOf(const AmplifyJob& job, const AmplifyFiles& files, const std::vector<AmplifySettings>& all,
              double foretold) {
  const InterruptWatch watch;
  ProgressDisplay display(job.quiet ? ProgressStyle::none : job.progress);
  SheetOptions options;
  options.title = fmt::format("{}, strength {}", job.recipe.photo->path.filename().string(),
                              amplifySettingText(job.recipe.settings, "strength"));
  options.columns = static_cast<int>(kSizes.size());
  std::vector<SheetCell> cells;
  for (const AmplifySettings& settings : all) {
    const Image picture = amplified(
        files.chain, files.inputs, settings, {[&](double part) {
          watch.stopIfWanted();
          const double done = (static_cast<double>(cells.size()) + part) / static_cast<double>(all.size());
          const double elapsed = display.seconds();
          const double remaining =
              done > 0.2 ? elapsed / done * (1 - done) : std::max(0.0, foretold - elapsed);
          display.show(
              done,
              fmt::format("{} of {}, about {} to go", cells.size() + 1, all.size(), duration(remaining)),
              progressEvent(done, elapsed, remaining), false);
        }});
    cells.push_back({picture,
                     fmt::format("--band {} --pattern {}", amplifySettingText(settings, "band"),
                                 amplifySettingText(settings, "pattern")),
                     {}});
  }
  display.finish();
  return contactSheet(cells, options);
}

}  // namespace

int runAmplifySurvey(const AmplifyJob& asked) {
  AmplifyJob job = asked;
  requireWritableName(job.output);
  requireOtherThanInputs(job.output, job.recipe);
  requireFree(job.output, job.force);
  requirePlace(job.output, job.makesFolder);
  setThreads(job.recipe.settings.painting.threads);
  const AmplifyFiles files = readAmplify(job.recipe, job.quiet);
  const std::vector<AmplifySettings> all = surveyed(job, files);
  const double foretold = amplifySecondsFor(workOf(all, files), job.recipe);
  if (job.dryRun) {
    say(stdout, "{} bands with patterns of {} sizes\nwould write {}\ntime: about {}\n",
        files.chain.styleBands.size(), kSizes.size(), job.shownOutput(), duration(foretold));
    return 0;
  }
  if (job.tells())
    say(stderr, "all bands of the network in {}, about {}\n", job.recipe.photo->path.filename().string(),
        duration(foretold));
  const Image sheet = sheetOf(job, files, all, foretold);
  if (job.makesFolder) makeFolderFor(job.output);
  writePicture(job.output, sheet, Depth::eight);
  if (job.progress == ProgressStyle::json)
    sayJson(stdout, {{"event", "done"}, {"file", job.output.string()}, {"pieces", all.size()}});
  else
    say(stdout, "{}: {} bands side by side\n", job.shownOutput(), files.chain.styleBands.size());
  return 0;
}

}  // namespace jugendstil::cli
