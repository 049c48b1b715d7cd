#include <fmt/format.h>

#include <iostream>
#include <nlohmann/json.hpp>

#include "cli/interrupt.h"
#include "cli/options.h"
#include "cli/progress.h"
#include "film/measure_clips.h"
#include "image/error.h"
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
    fmt::print("{}\n", object.dump());
    return;
  }
  fmt::print("warping error over {} pairs of frames, on the pixels whose motion is trusted ({} cut{})\n",
             measured.frames.size(), measured.cuts.size(), measured.cuts.size() == 1 ? "" : "s");
  fmt::print("  {:.3e}         {}\n", own, source);
  for (std::size_t i = 0; i < clips.size(); ++i) {
    const double error = meanError(measured.clips[i]);
    fmt::print("  {:.3e}  x{:<5.2f} {}\n", error, own > 0 ? error / own : 0, clips[i]);
  }
}

}  // namespace

int compareCommand(const Words& words) {
  po::options_description all("Options", 100, 60);
  all.add_options()("clips", po::value<std::vector<std::string>>()->value_name("A B"),
                    "the clips to compare (the plain words)")(
      "steadiness", "measure how steady clips are against their source")(
      "source", po::value<std::string>()->value_name("CLIP"), "the clip that they were made from")(
      "chart", po::value<std::string>()->value_name("FILE.png"), "draw the errors frame by frame");
  all.add(reportOptions());
  po::positional_options_description positions;
  positions.add("clips", -1);
  const auto given = parseWords(words, all, positions, "compare");
  if (given.count("help") != 0) {
    std::cout
        << "usage: jugendstil compare --steadiness A [B...] --source CLIP [options]\n\n"
           "Measures how much each frame of a clip differs from the one before, carried along the source's "
           "motion.\n\n"
           "  jugendstil compare --steadiness pond_evening.mkv --source pond.mp4\n"
           "  jugendstil compare --steadiness draft.mp4 final.mp4 --source pond.mp4 --chart steady.png\n"
        << all;
    return 0;
  }
  if (given.count("steadiness") == 0)
    throw UsageError(
        "compare measures --steadiness so far: jugendstil compare --steadiness A B --source CLIP");
  if (given.count("clips") == 0) throw UsageError("compare needs the clips to measure: --steadiness A B");
  if (given.count("source") == 0)
    throw UsageError("compare needs the clip they were made from: add --source CLIP");
  const auto clips = given["clips"].as<std::vector<std::string>>();
  const std::string source = given["source"].as<std::string>();
  const fs::path chart = given.count("chart") != 0 ? given["chart"].as<std::string>() : std::string();
  if (!chart.empty()) {
    requireWritableName(chart);
    requireFree(chart, given.count("force") != 0);
  }
  const ProgressStyle style = progressStyle(
      given.count("progress") != 0 ? given["progress"].as<std::string>() : "auto", given.count("quiet") != 0);
  const InterruptWatch interrupt;
  ProgressDisplay display(style);
  const ClipSteadiness measured =
      measureSteadiness(source, clips, [&](std::int64_t done, std::int64_t frames) {
        display.show(static_cast<double>(done) / static_cast<double>(frames), "frame",
                     static_cast<std::size_t>(done), static_cast<std::size_t>(frames));
        return !interrupt.wanted();
      });
  display.finish();
  if (interrupt.wanted()) throw Error("stopped; nothing was measured to the end");
  if (!chart.empty()) writePicture(chart, chartOf(measured, source, clips), Depth::eight);
  tell(measured, source, clips, style == ProgressStyle::json);
  return 0;
}

}  // namespace jugendstil::cli
