#include "report/loss_chart.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

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
constexpr Rgb kLevel{0.55F, 0.55F, 0.57F};

class Drawing {
 public:
  explicit Drawing(const LossChart& chart)
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
    grid(page_, kPlotBox, parts_, parts_);
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

  void axes() {
    for (int i = 0; i <= parts_; ++i) {
      writeText(page_, 30, kPlotBox.y + kPlotBox.height * i / parts_ + 5,
                fmt::format("{:g}", std::pow(10, top_ - i)), 15, kQuietInk);
      const double step = (chart_.end > 0 ? chart_.end : static_cast<double>(steps_)) * i / parts_;
      writeText(page_, kPlotBox.x + kPlotBox.width * i / parts_ - 12, kPlotBox.y + kPlotBox.height + 24,
                fmt::format("{:.0f}", step), 15, kQuietInk);
    }
    writeText(page_, kPlotBox.x + kPlotBox.width - 34, kPlotBox.y + kPlotBox.height + 46, chart_.axis, 15,
              kQuietInk);
  }

  void line(const LossChart::Series& series, const Rgb& colour, bool thick) {
    std::vector<Place> places;
    for (std::size_t i = 0; i < series.values.size(); ++i) {
      const double v = series.values[i];
      const double below = top_ - std::log10(v);
      const bool seen = std::isfinite(v) && v > 0 && below <= chart_.decades;
      places.push_back({across(static_cast<double>(i)),
                        seen ? kPlotBox.y + kPlotBox.height * below / chart_.decades : std::nan("")});
    }
    polyline(page_, places, colour, thick ? 1.8 : 1.1);
  }

  void legend() {
    int x = kPlotBox.x;
    int y = kHeight - 42;
    for (std::size_t i = 0; i < chart_.series.size(); ++i) {
      const auto& s = chart_.series[i];
      const auto last = std::find_if(s.values.rbegin(), s.values.rend(), [](double v) { return v > 0; });
      const std::string words = fmt::format("{} ({:.3g})", s.name, last == s.values.rend() ? 0 : *last);
      const int width = 56 + static_cast<int>(words.size()) * 9;
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

Image lossChart(const LossChart& chart) { return Drawing(chart).draw(); }

}  // namespace jugendstil
