// SPDX-License-Identifier: Apache-2.0
#include "report/steadiness_chart.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "base/number.h"
#include "report/axis.h"
#include "report/lettering.h"
#include "report/plot.h"

namespace jugendstil {
namespace {

constexpr int kWidth = 1280;
constexpr int kHeight = 720;
constexpr Box kPlotBox{90, 110, 1150, 500};
constexpr int kMostNumbers = 9;
constexpr int kMostValues = 6;
constexpr std::array<Rgb, 4> kColours{
    {{0.45F, 0.47F, 0.50F}, {0.78F, 0.30F, 0.16F}, {0.16F, 0.42F, 0.66F}, {0.30F, 0.56F, 0.24F}}};
constexpr Rgb kCut{0.20F, 0.20F, 0.24F};
constexpr Rgb kRetry{0.85F, 0.62F, 0.05F};

double codes(double error) { return 255 * std::sqrt(error); }

class Chart {
 public:
  explicit Chart(const SteadinessChart& chart) : chart_(chart), page_(blankPage(kWidth, kHeight)) {
    double most = 1;
    for (const auto& s : chart.series) {
      for (const double e : s.errors) most = std::isfinite(e) ? std::max(most, codes(e)) : most;
    }
    top_ = roundedUp(most);
  }

  Image draw() {
    writeText(page_, 32, 42, chart_.title, 24, kInk);
    writeText(
        page_, 32, 68,
        "How much each frame differs from the one before, carried along the clip's motion; lower is steadier",
        16, kQuietInk);
    std::vector<double> upright;
    for (const double frame : numbers()) upright.push_back(place(frame));
    std::vector<double> level;
    for (const double value : roundNumbers(0, top_, kMostValues)) level.push_back(heightOf(value));
    grid(page_, kPlotBox, upright, level);
    axes();
    for (const std::int64_t cut : chart_.cuts)
      fill(page_, {across(cut), kPlotBox.y, 2, kPlotBox.height}, kCut);
    for (std::size_t i = 0; i < chart_.series.size(); ++i)
      line(chart_.series[i], kColours[i % kColours.size()]);
    for (const std::int64_t retry : chart_.retries)
      fill(page_, {across(retry) - 3, kPlotBox.y + kPlotBox.height - 9, 7, 7}, kRetry);
    legend();
    return std::move(page_);
  }

 private:
  double first() const { return chart_.frames.empty() ? 0 : static_cast<double>(chart_.frames.front()); }
  double last() const {
    return chart_.frames.empty() ? 1 : std::max(first() + 1, static_cast<double>(chart_.frames.back()));
  }
  std::vector<double> numbers() const { return roundNumbers(first(), last(), kMostNumbers, true); }
  double heightOf(double value) const {
    return kPlotBox.y + kPlotBox.height * (1 - std::min(1.0, value / top_));
  }
  double place(double frame) const {
    return kPlotBox.x + (frame - first()) / (last() - first()) * kPlotBox.width;
  }
  int across(std::int64_t frame) const { return rounded(place(static_cast<double>(frame))); }

  void axes() {
    for (const double value : roundNumbers(0, top_, kMostValues))
      writeText(page_, 36, static_cast<int>(heightOf(value)) + 5, fmt::format("{:g}", value), 15, kQuietInk);
    for (const double frame : numbers()) {
      const std::string words = fmt::format("{:.0f}", frame);
      writeText(page_, static_cast<int>(place(frame)) - textWidth(words, 15) / 2,
                kPlotBox.y + kPlotBox.height + 24, words, 15, kQuietInk);
    }
    writeText(page_, kPlotBox.x + kPlotBox.width - 44, kPlotBox.y + kPlotBox.height + 46, "frame", 15,
              kQuietInk);
    writeText(page_, 36, kPlotBox.y - 12, "code values of 255", 15, kQuietInk);
  }

  void line(const SteadinessChart::Series& series, const Rgb& colour) {
    std::vector<PlotPoint> points;
    for (std::size_t i = 0; i < series.errors.size(); ++i) {
      points.push_back({place(static_cast<double>(chart_.frames[i])),
                        std::isfinite(series.errors[i]) ? heightOf(codes(series.errors[i])) : std::nan("")});
    }
    polyline(page_, points, colour, 1.3);
  }

  void legend() {
    int x = kPlotBox.x;
    const int y = kHeight - 34;
    const auto entry = [&](const Rgb& colour, const std::string& words) {
      fill(page_, {x, y - 9, 22, 6}, colour);
      writeText(page_, x + 30, y, words, 16, kInk);
      x += 60 + textWidth(words, 16);
    };
    for (std::size_t i = 0; i < chart_.series.size(); ++i) {
      double sum = 0;
      double count = 0;
      for (const double e : chart_.series[i].errors) {
        if (!std::isfinite(e)) continue;
        sum += e;
        ++count;
      }
      entry(kColours[i % kColours.size()],
            fmt::format("{} ({:.2f})", chart_.series[i].name, count > 0 ? codes(sum / count) : 0));
    }
    if (!chart_.cuts.empty()) entry(kCut, "cut");
    if (!chart_.retries.empty()) entry(kRetry, "tried again or filled");
  }

  const SteadinessChart& chart_;
  Image page_;
  double top_ = 1;
};

}  // namespace

Image steadinessChart(const SteadinessChart& chart) { return Chart(chart).draw(); }

}  // namespace jugendstil
