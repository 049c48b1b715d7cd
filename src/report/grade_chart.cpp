// SPDX-License-Identifier: Apache-2.0
#include "report/grade_chart.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "base/number.h"
#include "grade/gamut.h"
#include "grade/statistics.h"
#include "image/resample.h"
#include "report/lettering.h"
#include "report/plot.h"

namespace jugendstil {
namespace {

constexpr int kWidth = 1600;
constexpr int kHeight = 880;
constexpr int kMargin = 32;
constexpr int kPictureWidth = 380;
constexpr int kPictureHeight = 270;
constexpr int kHistogramHeight = 130;
constexpr int kPlane = 330;
constexpr int kCaption = 17;
constexpr int kSmall = 14;
constexpr int kBins = 128;
constexpr float kChromaEdge = 0.16F;  // of the plane, in Oklab

std::array<std::vector<float>, 3> histograms(const Image& picture) {
  std::array<std::vector<float>, 3> out;
  float most = 0;
  for (std::size_t c = 0; c < 3; ++c) {
    std::vector<float> raw(kBins);
    for (std::size_t i = 0; i < picture.area(); ++i) {
      const float v = picture.pixels[i * picture.channels + c];
      raw[static_cast<std::size_t>(std::clamp(v, 0.0F, 0.9999F) * kBins)] += 1;
    }
    out[c].resize(kBins);
    for (std::size_t b = 0; b < kBins; ++b) {
      out[c][b] = (raw[b > 0 ? b - 1 : b] + 2 * raw[b] + raw[b + 1 < kBins ? b + 1 : b]) / 4;
      // Square roots, so that a full sky does not flatten everything else.
      out[c][b] = std::sqrt(out[c][b]);
      most = std::max(most, out[c][b]);
    }
  }
  for (auto& h : out) {
    for (float& v : h) v /= std::max(most, 1e-6F) * 1.05F;
  }
  return out;
}

void drawHistogram(Image& page, const Box& box, const Image& picture) {
  constexpr std::array<Rgb, 3> kChannels{
      {{0.82F, 0.25F, 0.22F}, {0.22F, 0.62F, 0.28F}, {0.22F, 0.36F, 0.80F}}};
  grid(page, box, 4, 4);
  const auto h = histograms(picture);
  const auto at = [&](std::size_t c) {
    return [&h, c](float u) {
      const float x = std::clamp(u * kBins - 0.5F, 0.0F, kBins - 1.001F);
      const auto low = static_cast<std::size_t>(x);
      const float part = x - static_cast<float>(low);
      return h[c][low] * (1 - part) + h[c][low + 1] * part;
    };
  };
  for (std::size_t c = 0; c < 3; ++c) graph(page, box, kChannels[c], 0.28F, true, at(c));
  for (std::size_t c = 0; c < 3; ++c) graph(page, box, kChannels[c], 0.9F, false, at(c));
}

// Where a picture's colours lie, drawn in those colours: the denser, the more opaque.
void drawChroma(Image& page, const Box& box, const Image& picture) {
  grid(page, box, 4, 4);
  std::vector<float> count(cellCount(box.width, box.height));
  for (std::size_t i = 0; i < picture.area(); ++i) {
    const float* p = picture.pixel(i);
    const Oklab c = oklabOfDisplay({p[0], p[1], p[2]});
    const int x = static_cast<int>((c.a / kChromaEdge + 1) / 2 * static_cast<float>(box.width));
    const int y = static_cast<int>((1 - c.b / kChromaEdge) / 2 * static_cast<float>(box.height));
    if (x >= 0 && y >= 0 && x < box.width && y < box.height) {
      count[cellAt(x, y, box.width)] += 1;
    }
  }
  // Spread over a few pixels, so that single pictures' pixels join into clouds.
  const auto at = [&](int x, int y) {
    float sum = 0;
    for (int v = std::max(0, y - 2); v <= std::min(box.height - 1, y + 2); ++v) {
      for (int u = std::max(0, x - 2); u <= std::min(box.width - 1, x + 2); ++u) {
        sum += count[cellAt(u, v, box.width)];
      }
    }
    return sum / static_cast<float>(picture.area());
  };
  for (int y = 0; y < box.height; ++y) {
    for (int x = 0; x < box.width; ++x) {
      const float density = at(x, y);
      if (density <= 0) continue;
      const Oklab c{0.66F, (2 * static_cast<float>(x) / static_cast<float>(box.width) - 1) * kChromaEdge,
                    (1 - 2 * static_cast<float>(y) / static_cast<float>(box.height)) * kChromaEdge};
      mixPixel(page, box.x + x, box.y + y, fittedDisplay(c, {c.lightness, 0, 0}),
               0.15F + 9 * std::sqrt(density));
    }
  }
}

void drawCurve(Image& page, const Box& box, const Look& look) {
  grid(page, box, 4, 4);
  graph(page, box, kGrid, 1, false, [](float u) { return u; });
  graph(page, box, kInk, 1, false, [&](float u) { return lookTone(look, u); });
}

void column(Image& page, int x, const Image& picture, const std::string& title, const std::string& name) {
  if (picture.empty()) return;
  writeText(page, x, kMargin + kCaption, title, kCaption, kInk);
  writeText(page, x + textWidth(title, kCaption) + 14, kMargin + kCaption, name, kSmall, kQuietInk);
  int y = kMargin + kCaption + 14;
  placeFitted(page, picture, x, y, kPictureWidth, kPictureHeight);
  y += kPictureHeight + 16;
  drawHistogram(page, {x, y, kPictureWidth, kHistogramHeight}, picture);
  y += kHistogramHeight + 16;
  drawChroma(page, {x + (kPictureWidth - kPlane) / 2, y, kPlane, kPlane}, picture);
  writeText(page, x + (kPictureWidth - kPlane) / 2, y + kPlane + kSmall + 8,
            "green < > red,  blue to yellow upwards (Oklab)", kSmall - 2, kQuietInk);
}

int paragraph(Image& page, int x, int y, const std::vector<std::string>& lines, const Rgb& colour) {
  for (const std::string& line : lines) {
    writeText(page, x, y, line, kSmall, colour);
    y += kSmall + 9;
  }
  return y;
}

}  // namespace

Image gradeChart(const GradeChart& chart) {
  Image page = blankPage(kWidth, kHeight);
  const int step = kPictureWidth + kMargin - 8;
  column(page, kMargin, chart.photo, "Photo", chart.photoName);
  column(page, kMargin + step, chart.reference, "Reference", chart.referenceName);
  column(page, kMargin + 2 * step, chart.result, "Result", chart.resultName);
  const int x = kMargin + 3 * step;
  constexpr int kCurve = 270;
  writeText(page, x, kMargin + kCaption, "Tone curve", kCaption, kInk);
  drawCurve(page, {x, kMargin + kCaption + 14, kCurve, kCurve}, chart.look);
  int y = kMargin + kCaption + 14 + kCurve + 16 + kCaption;
  writeText(page, x, y, "What the look does", kCaption, kInk);
  y = paragraph(page, x, y + kCaption + 12, lookInWords(chart.look), kInk) + 14;
  if (chart.closeness) {
    const Closeness& c = *chart.closeness;
    writeText(page, x, y, "Distance to the reference", kCaption, kInk);
    paragraph(page, x, y + kCaption + 12,
              {fmt::format("colour difference {:.1f} -> {:.1f}", c.ciedeBefore, c.ciedeAfter),
               "(mean CIEDE2000 of matched quantiles)",
               fmt::format("sliced Wasserstein {:.4f} -> {:.4f}", c.slicedBefore, c.slicedAfter)},
              kInk);
  }
  return page;
}

}  // namespace jugendstil
