// SPDX-License-Identifier: Apache-2.0
#include "cli/compare_clips.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <nlohmann/json.hpp>

#include "base/error.h"
#include "cli/interrupt.h"
#include "cli/options.h"
#include "cli/say.h"
#include "film/measure_clips.h"
#include "image/picture_file.h"
#include "report/steadiness_chart.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

Image chartOf(const ClipSteadiness& measured, const std::string& source,
              const std::vector<std::string>& clips) {
  SteadinessChart chart;
  chart.title = "steadiness against " + fs::path(source).filename().string();
  chart.frames = measured.frames;
  chart.cuts = measured.cuts;
  chart.series.push_back({fs::path(source).filename().string(), measured.source});
  for (std::size_t i = 0; i < clips.size(); ++i)
    chart.series.push_back({fs::path(clips[i]).filename().string(), measured.clips[i]});
  return steadinessChart(chart);
}

void tell(const ClipSteadiness& measured, const std::string& source, const std::vector<std::string>& clips,
          bool json) {
  const double own = meanError(measured.source);
  if (json) {
    nlohmann::json object{{"event", "done"},
                          {"source", source},
                          {"source_warping_error", own},
                          {"frames", measured.frames.size()},
                          {"cuts", measured.cuts}};
    for (std::size_t i = 0; i < clips.size(); ++i)
      object["clips"].push_back({{"file", clips[i]}, {"warping_error", meanError(measured.clips[i])}});
    sayJson(stdout, object);
    return;
  }
  say(stdout, "warping error over {} pairs of frames, on the pixels whose motion is trusted ({} cut{})\n",
      measured.frames.size(), measured.cuts.size(), measured.cuts.size() == 1 ? "" : "s");
  say(stdout, "  {:.3e}         {}\n", own, source);
  for (std::size_t i = 0; i < clips.size(); ++i) {
    const double error = meanError(measured.clips[i]);
    say(stdout, "  {:.3e}  x{:<5.2f} {}\n", error, own > 0 ? error / own : 0, clips[i]);
  }
}

}  // namespace

void compareClips(const std::vector<std::string>& clips, const ClipComparison& asked) {
  if (!asked.chart.empty()) {
    requireWritableName(asked.chart);
    requireFree(asked.chart, asked.force);
  }
  if (asked.dryRun) {
    say(stdout, "would measure {} against {}, frame by frame\n", fmt::join(clips, ", "), asked.source);
    if (!asked.chart.empty()) say(stdout, "would write {}\n", asked.chart.string());
    return;
  }
  const InterruptWatch interrupt;
  ProgressDisplay display(asked.progress);
  const ClipSteadiness measured =
      measureSteadiness(asked.source, clips, [&](std::int64_t done, std::int64_t frames) {
        display.show(static_cast<double>(done) / static_cast<double>(frames), "frame", done, frames);
        interrupt.stopIfWanted();
      });
  display.finish();
  if (!asked.chart.empty()) writePicture(asked.chart, chartOf(measured, asked.source, clips), Depth::eight);
  tell(measured, asked.source, clips, asked.progress == ProgressStyle::json);
}

}  // namespace jugendstil::cli
