// SPDX-License-Identifier: Apache-2.0
#include "shelf/measures.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <limits>

#include "image/box_mean.h"
#include "image/display_oklab.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

// Colours are counted in cells of this side before they are brought together: two that differ less look
// alike.
constexpr float kCell = 0.05F;
constexpr int kRounds = 12;
// The picture is looked at in so many areas along its longer side.
constexpr int kAreasAlong = 16;
// Lightness and colour against how much is going on in an area: this much more of detail is as far as black
// from white.
constexpr float kDetailReach = 0.25F;
// Two colours that are nearer than this are taken for one another.
constexpr float kSameColour = 0.07F;

template <std::size_t N>
struct Weighted {
  std::array<float, N> place{};
  float weight = 0;
};

template <std::size_t N>
float distance2(const std::array<float, N>& a, const std::array<float, N>& b) {
  float sum = 0;
  for (std::size_t i = 0; i < N; ++i) sum += (a[i] - b[i]) * (a[i] - b[i]);
  return sum;
}

// The middles of so many groups, each with its points' weight, the heaviest first (k-means after Lloyd 1982,
// begun with what lies farthest from all before it and weighs most, so that it needs no chance).
template <std::size_t N>
std::vector<Weighted<N>> groups(const std::vector<Weighted<N>>& points, int count) {
  std::vector<Weighted<N>> middles;
  std::vector<float> far(points.size(), std::numeric_limits<float>::max());
  for (int k = 0; k < count && !points.empty(); ++k) {
    std::size_t best = 0;
    float most = -1;
    for (std::size_t i = 0; i < points.size(); ++i) {
      const float reach = std::sqrt(points[i].weight) * (k == 0 ? 1 : far[i]);
      if (reach > most) most = reach, best = i;
    }
    if (k > 0 && far[best] <= 0) break;
    middles.push_back({points[best].place, 0});
    for (std::size_t i = 0; i < points.size(); ++i)
      far[i] = std::min(far[i], distance2(points[i].place, middles.back().place));
  }
  for (int round = 0; round < kRounds; ++round) {
    std::vector<std::array<double, N>> sums(middles.size());
    std::vector<double> weights(middles.size());
    for (const Weighted<N>& point : points) {
      std::size_t nearest = 0;
      float least = std::numeric_limits<float>::max();
      for (std::size_t k = 0; k < middles.size(); ++k) {
        const float d = distance2(point.place, middles[k].place);
        if (d < least) least = d, nearest = k;
      }
      weights[nearest] += point.weight;
      for (std::size_t c = 0; c < N; ++c) sums[nearest][c] += 1.0 * point.weight * point.place[c];
    }
    for (std::size_t k = 0; k < middles.size(); ++k) {
      middles[k].weight = static_cast<float>(weights[k]);
      if (weights[k] <= 0) continue;
      for (std::size_t c = 0; c < N; ++c) middles[k].place[c] = static_cast<float>(sums[k][c] / weights[k]);
    }
  }
  std::stable_sort(middles.begin(), middles.end(),
                   [](const auto& a, const auto& b) { return a.weight > b.weight; });
  return middles;
}

std::vector<Oklab> labOf(const Image& picture) {
  std::vector<Oklab> lab(picture.area());
  for (std::size_t i = 0; i < lab.size(); ++i) lab[i] = oklabOfDisplay(picture.pixel(i));
  return lab;
}

void takePalette(const std::vector<Oklab>& lab, PictureMeasures& out) {
  constexpr int kSide = 24;  // cells along each axis, colours from -0.6 to 0.6
  std::vector<Weighted<3>> cells(static_cast<std::size_t>(kSide) * kSide * kSide);
  const auto at = [](float v) { return std::clamp(static_cast<int>(v / kCell), 0, kSide - 1); };
  for (const Oklab& c : lab) {
    Weighted<3>& cell = cells[(at(c.lightness) * kSide + at(c.a + 0.6F)) * kSide + at(c.b + 0.6F)];
    const float part = 1 / (cell.weight + 1);
    const std::array<float, 3> place{c.lightness, c.a, c.b};
    for (std::size_t i = 0; i < 3; ++i) cell.place[i] += part * (place[i] - cell.place[i]);
    cell.weight += 1;
  }
  std::vector<Weighted<3>> points;
  for (Weighted<3>& cell : cells) {
    if (cell.weight <= 0) continue;
    cell.weight /= static_cast<float>(lab.size());
    points.push_back(cell);
  }
  const auto middles = groups(points, kPaletteColours);
  for (std::size_t k = 0; k < middles.size(); ++k)
    out.palette[k] = {{middles[k].place[0], middles[k].place[1], middles[k].place[2]}, middles[k].weight};
}

float rootMeanSquare(const std::vector<float>& values) {
  double sum = 0;
  for (const float v : values) sum += 1.0 * v * v;
  return static_cast<float>(std::sqrt(sum / static_cast<double>(values.size())));
}

// What a box of this radius leaves over of what a smaller one let through.
std::vector<float> between(const std::vector<float>& finer, const std::vector<float>& broader) {
  std::vector<float> out(finer.size());
  for (std::size_t i = 0; i < out.size(); ++i) out[i] = finer[i] - broader[i];
  return out;
}

void takeAreas(const std::vector<Oklab>& lab, const std::vector<float>& fine, const std::vector<float>& broad,
               int width, int height, PictureMeasures& out) {
  const int side = std::max(1, (std::max(width, height) + kAreasAlong - 1) / kAreasAlong);
  std::vector<Weighted<5>> areas;
  for (int top = 0; top < height; top += side) {
    for (int left = 0; left < width; left += side) {
      std::array<double, 5> sum{};
      int count = 0;
      for (int y = top; y < std::min(height, top + side); ++y) {
        for (int x = left; x < std::min(width, left + side); ++x, ++count) {
          const std::size_t i = static_cast<std::size_t>(y) * width + x;
          sum[0] += lab[i].lightness;
          sum[1] += lab[i].a;
          sum[2] += lab[i].b;
          sum[3] += 1.0 * fine[i] * fine[i];
          sum[4] += 1.0 * broad[i] * broad[i];
        }
      }
      Weighted<5> area;
      area.weight = static_cast<float>(count) / static_cast<float>(lab.size());
      for (std::size_t c = 0; c < 5; ++c)
        area.place[c] = static_cast<float>(c < 3 ? sum[c] / count : std::sqrt(sum[c] / count) / kDetailReach);
      areas.push_back(area);
    }
  }
  const auto middles = groups(areas, kAreas);
  for (std::size_t k = 0; k < middles.size(); ++k) {
    const auto& p = middles[k].place;
    out.areas[k] = {p[0], p[1], p[2], p[3], p[4], middles[k].weight};
  }
}

void takeDetail(const std::vector<Oklab>& lab, int width, int height, PictureMeasures& out) {
  std::vector<float> finer(lab.size());
  std::transform(lab.begin(), lab.end(), finer.begin(), [](const Oklab& c) { return c.lightness; });
  std::vector<float> fine(lab.size());
  std::vector<float> broad(lab.size());
  for (int size = 0; size < kDetailSizes; ++size) {
    const std::vector<float> broader = boxMeans(finer, width, height, 1 << size);
    const std::vector<float> detail = between(finer, broader);
    out.detail[size] = rootMeanSquare(detail);
    for (std::size_t i = 0; i < detail.size(); ++i) (size < kDetailSizes / 2 ? fine : broad)[i] += detail[i];
    finer = broader;
  }
  takeAreas(lab, fine, broad, width, height, out);
}

float distance2(const Oklab& a, const Oklab& b) {
  const float l = a.lightness - b.lightness;
  const float red = a.a - b.a;
  const float yellow = a.b - b.b;
  return l * l + red * red + yellow * yellow;
}

// How far the colours of one have to go, each to the nearest of the other.
double wayTo(const PictureMeasures& from, const PictureMeasures& to) {
  double sum = 0;
  for (const PaletteColour& c : from.palette) {
    float least = 1;
    for (const PaletteColour& other : to.palette) {
      if (other.share > 0) least = std::min(least, distance2(c.colour, other.colour));
    }
    sum += c.share * std::sqrt(least);
  }
  return sum;
}

}  // namespace

PictureMeasures measuresOf(const Image& picture) {
  Image small = picture;
  if (std::max(picture.width, picture.height) > kShelfEdge) {
    const Size size = sizeForLongEdge(picture.width, picture.height, kShelfEdge);
    small = resizePhoto(picture, size.width, size.height);
  }
  const std::vector<Oklab> lab = labOf(small);
  PictureMeasures out;
  takePalette(lab, out);
  std::vector<float> tones(lab.size());
  std::transform(lab.begin(), lab.end(), tones.begin(), [](const Oklab& c) { return c.lightness; });
  std::sort(tones.begin(), tones.end());
  for (int t = 0; t < kToneSteps; ++t) out.tones[t] = tones[(tones.size() - 1) * t / (kToneSteps - 1)];
  takeDetail(lab, small.width, small.height, out);
  return out;
}

std::string measureBytes(const PictureMeasures& measures) {
  static_assert(std::is_trivially_copyable_v<PictureMeasures>);
  std::string bytes(sizeof measures, '\0');
  std::memcpy(bytes.data(), &measures, sizeof measures);
  return bytes;
}

std::optional<PictureMeasures> measuresIn(std::string_view bytes) {
  if (bytes.size() != sizeof(PictureMeasures)) return std::nullopt;
  PictureMeasures measures;
  std::memcpy(&measures, bytes.data(), sizeof measures);
  return measures;
}

double coloursApart(const PictureMeasures& a, const PictureMeasures& b) {
  return (wayTo(a, b) + wayTo(b, a)) / 2;
}

double tonesApart(const PictureMeasures& a, const PictureMeasures& b) {
  double apart = 0;
  for (int t = 0; t < kToneSteps; ++t) apart += std::abs(a.tones[t] - b.tones[t]) / kToneSteps;
  return apart;
}

double difference(const PictureMeasures& a, const PictureMeasures& b) {
  const double colours = coloursApart(a, b);
  const double tones = tonesApart(a, b);
  double detail = 0;
  for (int size = 0; size < kDetailSizes; ++size)
    detail += std::abs(std::log2((a.detail[size] + 1e-3) / (b.detail[size] + 1e-3))) / kDetailSizes;
  // Each reaches about a third where nothing is alike: colours and tones 0.25 apart, detail fourfold.
  return (colours / 0.25 + tones / 0.25 + detail / 2) / 3;
}

double shareOf(const Oklab& colour, const PictureMeasures& measures) {
  double sum = 0;
  for (const PaletteColour& c : measures.palette)
    sum += c.share * std::exp(-distance2(colour, c.colour) / (2 * kSameColour * kSameColour));
  return sum;
}

}  // namespace jugendstil
