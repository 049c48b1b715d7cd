// SPDX-License-Identifier: Apache-2.0
// Which solver brings the loss down faster? Both on the demo pairs, one level, loss against time:
// jugendstil_solvers [CHART.png]
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <filesystem>

#include "image/picture_file.h"
#include "network/chain_file.h"
#include "paint/painter.h"
#include "report/loss_chart.h"

namespace {

using namespace jugendstil;
using Clock = std::chrono::steady_clock;

constexpr int kLongEdge = 480;
constexpr int kSteps = 250;
constexpr std::size_t kPoints = 400;

struct Run {
  std::vector<double> seconds;
  std::vector<double> loss;
};

Image picture(const char* name) {
  return rgbOf(readPicture(std::filesystem::path(JUGENDSTIL_SHARE_SOURCE) / "demo" / name).image);
}

Run painted(const Chain& chain, const PaintInputs& inputs, SolverKind solver) {
  PaintSettings settings;
  settings.longEdge = kLongEdge;
  settings.levels = 1;
  settings.steps = {kSteps};
  settings.brushwork = false;  // which is not solved for
  settings.solver = solver;
  Run run;
  Clock::time_point begin;
  PaintCallbacks callbacks;
  callbacks.progress = [&](const PaintProgress& p) {
    if (p.step == 1) begin = Clock::now();
    run.seconds.push_back(std::chrono::duration<double>(Clock::now() - begin).count());
    run.loss.push_back(p.loss.total());
  };
  paint(chain, inputs, settings, callbacks);
  return run;
}

// When the loss first was that low; infinite where it never was.
double reached(const Run& run, double loss) {
  for (std::size_t i = 0; i < run.loss.size(); ++i) {
    if (run.loss[i] <= loss) return run.seconds[i];
  }
  return std::numeric_limits<double>::infinity();
}

std::vector<double> overTime(const Run& run, double end) {
  std::vector<double> values;
  std::size_t i = 0;
  for (std::size_t p = 0; p < kPoints; ++p) {
    const double t = end * static_cast<double>(p) / static_cast<double>(kPoints - 1);
    while (i + 1 < run.seconds.size() && run.seconds[i + 1] <= t) ++i;
    values.push_back(t <= run.seconds.back() ? run.loss[i] : 0);
  }
  return values;
}

}  // namespace

int main(int count, char** words) {
  const Chain chain = readOnnx(std::string(JUGENDSTIL_SHARE_SOURCE) + "/networks/filigree.onnx");
  LossChart chart;
  chart.title = "Adam and L-BFGS on the demo's pairs";
  chart.note = fmt::format("The whole loss against time, one level of {} px, {} evaluations; logarithmic",
                           kLongEdge, kSteps);
  chart.axis = "seconds";
  chart.decades = 2;
  std::vector<std::pair<std::string, Run>> runs;
  for (const auto& [photo, reference] :
       {std::pair{"palm_house", "evening_impasto"}, std::pair{"palm_house", "moon_linocut"},
        std::pair{"potting_bench", "sun_lily_mosaic"}}) {
    const PaintInputs inputs{picture(fmt::format("photos/{}.jpg", photo).c_str()),
                             {{picture(fmt::format("references/{}.jpg", reference).c_str()), 1}}};
    const Run adam = painted(chain, inputs, SolverKind::adam);
    const Run lbfgs = painted(chain, inputs, SolverKind::lbfgs);
    fmt::print(
        "{} after {}: adam {:.4f} in {:.1f} s, lbfgs {:.4f} in {:.1f} s; to 1.2 times adam's end: {:.1f} and "
        "{:.1f} s\n",
        photo, reference, adam.loss.back(), adam.seconds.back(), lbfgs.loss.back(), lbfgs.seconds.back(),
        reached(adam, 1.2 * adam.loss.back()), reached(lbfgs, 1.2 * adam.loss.back()));
    runs.emplace_back(fmt::format("adam, {}", reference), adam);
    runs.emplace_back(fmt::format("lbfgs, {}", reference), lbfgs);
  }
  for (const auto& [name, run] : runs) chart.end = std::max(chart.end, run.seconds.back());
  for (const auto& [name, run] : runs) chart.series.push_back({name, overTime(run, chart.end)});
  if (count > 1) writePicture(words[1], lossChart(chart), Depth::eight);
}
