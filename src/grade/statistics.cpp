// SPDX-License-Identifier: Apache-2.0
#include "grade/statistics.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/error.h"
#include "base/parallel.h"
#include "image/colour.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

constexpr std::size_t kMostPooled = 10 * kMostSamples;

// One output row: the average over the rows and columns that it covers, the border ones in part.
void averageRow(const StoredPicture& picture, int y, Image& out) {
  const double tall = 1.0 * picture.height() / out.height;
  const double wide = 1.0 * picture.width() / out.width;
  const double top = y * tall;
  const double bottom = (y + 1) * tall;
  const int first = static_cast<int>(top);
  const int last = std::min(picture.height(), static_cast<int>(std::ceil(bottom)));
  const Image rows = picture.rows(first, last - first);
  const std::size_t step = rows.channels;
  std::vector<float> column(static_cast<std::size_t>(rows.width) * 3);
  for (int k = 0; k < rows.height; ++k) {
    const double covered = std::min<double>(bottom, first + k + 1) - std::max<double>(top, first + k);
    const auto weight = static_cast<float>(covered / tall);
    const float* from = rows.row(k);
    for (std::size_t x = 0; x < static_cast<std::size_t>(rows.width); ++x) {
      for (std::size_t c = 0; c < 3; ++c) column[x * 3 + c] += weight * from[x * step + c];
    }
  }
  for (int x = 0; x < out.width; ++x) {
    const double left = x * wide;
    const double right = (x + 1) * wide;
    const int end = std::min(rows.width, static_cast<int>(std::ceil(right)));
    std::array<double, 3> sum{};
    for (int u = static_cast<int>(left); u < end; ++u) {
      const double covered = (std::min<double>(right, u + 1) - std::max<double>(left, u)) / wide;
      for (std::size_t c = 0; c < 3; ++c) {
        sum[c] += covered * column[std::size_t{3} * u + c];
      }
    }
    for (std::size_t c = 0; c < 3; ++c) out.at(x, y, static_cast<int>(c)) = static_cast<float>(sum[c]);
  }
}

// The cumulative weight of all pixels, for drawing samples in proportion.
std::vector<double> cumulativeWeights(const Image& picture, const Image* mask) {
  std::vector<double> sums(picture.area());
  const Image fitted = mask == nullptr ? Image() : resample(*mask, picture.width, picture.height);
  double sum = 0;
  for (std::size_t i = 0; i < sums.size(); ++i) {
    const float weight = mask == nullptr ? 1.0F : std::clamp(fitted.pixels[i * fitted.channels], 0.0F, 1.0F);
    sum += weight;
    sums[i] = sum;
  }
  return sums;
}

}  // namespace

float toneOf(const Oklab& colour) {
  const float l = std::max(0.0F, colour.lightness);
  return linearToSrgb(l * l * l);
}

float lightnessOfTone(float tone) { return std::cbrt(srgbToLinear(tone)); }

std::array<float, 3> displayOf(const Oklab& colour) {
  const LinearRgb c = linearOf(colour);
  return {quickToDisplay(c.red), quickToDisplay(c.green), quickToDisplay(c.blue)};
}

Image reducedPicture(const StoredPicture& picture, int longEdge) {
  const int own = std::max(picture.width(), picture.height());
  if (own <= longEdge) return rgbOf(picture.rows(0, picture.height()));
  const Size size = sizeForLongEdge(picture.width(), picture.height(), longEdge);
  Image out(size.width, size.height);
  parallelFor(size.height, [&](int y) { averageRow(picture, y, out); });
  return out;
}

GradeStatistics gradeStatistics(const Image& reduced, const Image* mask) {
  const std::vector<double> sums = cumulativeWeights(reduced, mask);
  if (!(sums.back() > 1e-6)) {
    throw Error("the mask is black all over, so there is nothing to grade; paint white what shall change");
  }
  const std::size_t count = std::min(kMostSamples, reduced.area());
  GradeStatistics out;
  const std::vector<PixelDetail> details = detailOf(reduced);
  out.colours.resize(count);
  out.details.resize(count);
  std::size_t pixel = 0;
  for (std::size_t i = 0; i < count; ++i) {
    const double wanted = (static_cast<double>(i) + 0.5) / static_cast<double>(count) * sums.back();
    while (sums[pixel] < wanted) ++pixel;
    const float* p = reduced.pixel(pixel);
    out.colours[i] = oklabOfDisplay({p[0], p[1], p[2]});
    out.details[i] = details[pixel];
  }
  return out;
}

GradeStatistics pooledStatistics(const std::vector<GradeStatistics>& parts) {
  std::size_t all = 0;
  for (const GradeStatistics& part : parts) all += part.colours.size();
  const std::size_t step = (all + kMostPooled - 1) / kMostPooled;
  GradeStatistics out;
  for (const GradeStatistics& part : parts) {
    for (std::size_t i = 0; i < part.colours.size(); i += step) {
      out.colours.push_back(part.colours[i]);
      out.details.push_back(part.details[i]);
    }
  }
  return out;
}

double GradeStatistics::detailStrength(std::size_t band) const {
  double sum = 0;
  for (const PixelDetail& d : details) sum += std::fabs(d.band[band]);
  return sum / static_cast<double>(std::max<std::size_t>(1, details.size()));
}

}  // namespace jugendstil
