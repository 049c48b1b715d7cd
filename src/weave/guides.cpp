// SPDX-License-Identifier: Apache-2.0
#include "weave/guides.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/number.h"
#include "base/parallel.h"
#include "image/box_mean.h"

namespace jugendstil {
namespace {

// Colours are softened twice by squares of so many pixels to each side.
constexpr int kSoft = 1;
// Edges are looked at within so many pixels.
constexpr int kAround = 2;
// What the references' mean strength of edges counts, of colours that vary by 1 in all; from twice the mean
// on all are alike.
constexpr float kStrength = 0.6F;
constexpr float kMostStrength = 2 * kStrength;
// Where something is drawn: within so many pixels edges are as strong as this, in the mean.
constexpr int kDrawnAround = 4;
constexpr float kDrawn = 0.3F;

// The length of the change of colour across each pixel, the mean around it.
std::vector<float> edgesOf(const Image& image, int around) {
  const int width = image.width;
  const int height = image.height;
  std::vector<float> edges(image.area());
  parallelFor(height, [&](int y) {
    for (int x = 0; x < width; ++x) {
      float sum = 0;
      for (int c = 0; c < 3; ++c) {
        const float across = image.at(std::min(width - 1, x + 1), y, c) - image.at(std::max(0, x - 1), y, c);
        const float along = image.at(x, std::min(height - 1, y + 1), c) - image.at(x, std::max(0, y - 1), c);
        sum += across * across + along * along;
      }
      edges[cellAt(x, y, width)] = std::sqrt(sum);
    }
  });
  return boxMeans(edges, width, height, around);
}

// Softened colours, and a fourth channel.
Image guideOf(const Image& colours, const std::vector<float>& fourth) {
  Image guide(colours.width, colours.height, 4);
  std::vector<float> plane(colours.area());
  for (int c = 0; c < 3; ++c) {
    for (std::size_t i = 0; i < plane.size(); ++i) plane[i] = colours.pixel(i)[c];
    for (int twice = 0; twice < 2; ++twice) plane = boxMeans(plane, colours.width, colours.height, kSoft);
    for (std::size_t i = 0; i < plane.size(); ++i) guide.pixel(i)[c] = plane[i];
  }
  for (std::size_t i = 0; i < fourth.size(); ++i) guide.pixel(i)[3] = fourth[i];
  return guide;
}

// Each value's rank among all, sent to that rank of the target, which is sorted.
void sendByRank(std::vector<float>& values, const std::vector<float>& target) {
  std::vector<float> sorted = values;
  std::sort(sorted.begin(), sorted.end());
  const double ratio = static_cast<double>(target.size()) / static_cast<double>(sorted.size());
  parallelFor(values.size(), [&](std::size_t i) {
    const auto rank = std::lower_bound(sorted.begin(), sorted.end(), values[i]) - sorted.begin();
    values[i] = target[static_cast<std::size_t>(ratio * static_cast<double>(rank))];
  });
}

}  // namespace

void makeGuides(WeaveLevel& level) {
  std::vector<std::vector<float>> edges;
  std::vector<float> all;
  for (const SwatchLevel& swatch : level.swatches) {
    edges.push_back(edgesOf(swatch.map, kAround));
    all.insert(all.end(), edges.back().begin(), edges.back().end());
  }
  const double mean = std::accumulate(all.begin(), all.end(), 0.0) / static_cast<double>(all.size());
  const auto unit = static_cast<float>(kStrength / std::max(mean, 1e-6));
  const auto bring = [&](float& v) { v = std::min(kMostStrength, v * unit); };
  std::for_each(all.begin(), all.end(), bring);
  std::sort(all.begin(), all.end());
  for (std::size_t s = 0; s < edges.size(); ++s) {
    std::for_each(edges[s].begin(), edges[s].end(), bring);
    level.swatches[s].map = guideOf(level.swatches[s].map, edges[s]);
  }
  std::vector<float> own = edgesOf(level.layout, kAround);
  sendByRank(own, all);
  level.layout = guideOf(level.layout, own);
}

std::vector<float> drawnIn(const Image& layout) {
  std::vector<float> drawn = edgesOf(layout, kDrawnAround);
  for (float& v : drawn) v = std::clamp(v / kDrawn, kCalm, 1.0F);
  return drawn;
}

}  // namespace jugendstil
