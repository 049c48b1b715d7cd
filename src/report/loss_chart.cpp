// SPDX-License-Identifier: Apache-2.0
#include "report/loss_chart.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "report/axis.h"
#include "report/lettering.h"
#include "report/plot.h"

namespace jugendstil {
namespace {

constexpr int kWidth = 1280;
constexpr int kHeight = 720;
constexpr Box kPlotBox{90, 110, 1150, 500};
constexpr std::array<Rgb, 6> kColours{{{0.13F, 0.13F, 0.14F},
                                       {0.78F, 0.30F, 0.16F},
                                       {0.16F, 0.42F, 0.66F},
                                       {0.85F, 0.62F, 0.05F},
                                       {0.30F, 0.56F, 0.24F},
                                       {0.55F, 0.35F, 0.60F}}};
constexpr int kMostNumbers = 9;
constexpr Rgb kLevel{0.55F, 0.55F, 0.57F};

class Chart {
 public:
  explicit Chart(const LossChart& chart)
      : chart_(chart), page_(blankPage(kWidth, kHeight)), parts_(static_cast<int>(chart.decades)) {
    double most = 1e-9;
    for (const auto& s : chart.series) {
      steps_ = std::max(steps_, s.values.size());
      for (const double v : s.values) most = std::isfinite(v) ? std::max(most, v) : most;
    }
    top_ = std::ceil(std::log10(most));
  }

  Image draw() {
    writeText(page_, 32, 48, chart_.title, 24, kInk);
    writeText(page_, 32, 78, chart_.note, 16, kQuietInk);
    grid(page_, kPlotBox, placesOf(numbers()), decades());
    axes();
    for (const std::size_t level : chart_.levels) {
      if (level > 0)
        fill(page_, {static_cast<int>(across(static_cast<double>(level))), kPlotBox.y, 2, kPlotBox.height},
             kLevel);
    }
    for (std::size_t i = chart_.series.size(); i-- > 0;)
      line(chart_.series[i], kColours[i % kColours.size()], i == 0);
    legend();
    return std::move(page_);
  }

 private:
  double across(double step) const {
    return kPlotBox.x + kPlotBox.width * step / static_cast<double>(std::max<std::size_t>(1, steps_ - 1));
  }

  // What the axis says at its right end.
  double end() const { return chart_.end > 0 ? chart_.end : static_cast<double>(steps_ - 1); }

  std::vector<double> numbers() const { return roundNumbers(0, end(), kMostNumbers, chart_.end <= 0); }

  std::vector<double> placesOf(const std::vector<double>& numbers) const {
    std::vector<double> places;
    for (const double n : numbers) places.push_back(kPlotBox.x + kPlotBox.width * n / std::max(end(), 1e-9));
    return places;
  }

  std::vector<double> decades() const {
    std::vector<double> places;
    for (int i = 0; i <= parts_; ++i) places.push_back(kPlotBox.y + kPlotBox.height * i / chart_.decades);
    return places;
  }

  void axes() {
    const std::vector<double> down = decades();
    for (std::size_t i = 0; i < down.size(); ++i)
      writeText(page_, 30, static_cast<int>(down[i]) + 5,
                fmt::format("{:g}", std::pow(10, top_ - static_cast<double>(i))), 15, kQuietInk);
    for (const double n : numbers()) {
      const std::string words = fmt::format("{:g}", n);
      writeText(page_, static_cast<int>(placesOf({n})[0]) - textWidth(words, 15) / 2,
                kPlotBox.y + kPlotBox.height + 24, words, 15, kQuietInk);
    }
    writeText(page_, kPlotBox.x + kPlotBox.width - textWidth(chart_.axis, 15),
              kPlotBox.y + kPlotBox.height + 46, chart_.axis, 15, kQuietInk);
  }

  void line(const LossChart::Series& series, const Rgb& colour, bool thick) {
    std::vector<PlotPoint> points;
    for (std::size_t i = 0; i < series.values.size(); ++i) {
      const double v = series.values[i];
      const double below = top_ - std::log10(v);
      const bool seen = std::isfinite(v) && v > 0 && below <= chart_.decades;
      points.push_back({across(static_cast<double>(i)),
                        seen ? kPlotBox.y + kPlotBox.height * below / chart_.decades : std::nan("")});
    }
    polyline(page_, points, colour, thick ? 1.8 : 1.1);
  }

  void legend() {
    int x = kPlotBox.x;
    int y = kHeight - 42;
    for (std::size_t i = 0; i < chart_.series.size(); ++i) {
      const auto& s = chart_.series[i];
      const auto last = std::find_if(s.values.rbegin(), s.values.rend(), [](double v) { return v > 0; });
      const std::string words = fmt::format("{} ({:.3g})", s.name, last == s.values.rend() ? 0 : *last);
      const int width = 56 + textWidth(words, 16);
      if (x + width > kPlotBox.x + kPlotBox.width) {
        x = kPlotBox.x;
        y += 26;
      }
      fill(page_, {x, y - 9, 22, 6}, kColours[i % kColours.size()]);
      writeText(page_, x + 30, y, words, 16, kInk);
      x += width;
    }
  }

  const LossChart& chart_;
  Image page_;
  int parts_;
  std::size_t steps_ = 1;
  double top_ = 0;
};

}  // namespace

Image lossChart(const LossChart& chart) { return Chart(chart).draw(); }

}  // namespace jugendstil
