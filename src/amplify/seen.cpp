// SPDX-License-Identifier: Apache-2.0
#include "amplify/seen.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <random>

#include "amplify/amplify.h"
#include "amplify/ascent.h"
#include "base/number.h"
#include "image/luma.h"
#include "image/planes.h"
#include "image/resample.h"
#include "network/evaluator.h"
#include "paint/painter.h"
#include "paint/plan.h"

namespace jugendstil {
namespace {

constexpr float kFaint = 0.06F;  // deviation of the noise that channels are woken out of

// Grey, soft at two sizes, so that coarse and fine patterns find something to begin with.
Image softNoise(int edge, unsigned seed, float strength) {
  std::mt19937 random(seed);
  std::normal_distribution<float> normal(0, strength);
  Image out(edge, edge, 3, 0.5F);
  for (const int cell : {2, 8}) {
    Image coarse(std::max(1, edge / cell), std::max(1, edge / cell), 1);
    for (float& v : coarse.pixels) v = normal(random);
    const Image soft = resample(coarse, edge, edge);
    for (std::size_t i = 0; i < out.pixels.size(); ++i) out.pixels[i] += soft.pixels[i / 3];
  }
  return clipped(std::move(out));
}

// The value that all but a part of them stay below.
float quantile(std::vector<float> values, double part) {
  const auto at = values.begin() + static_cast<std::ptrdiff_t>(part * static_cast<double>(values.size() - 1));
  std::nth_element(values.begin(), at, values.end());
  return *at;
}

// Seen around a picture: at its very edge channels answer to where the picture ends.
constexpr int kMargin = 96;  // pixels, of every stride a multiple

int mirrored(int at, int count) {
  const int period = 2 * count;
  const int in = ((at % period) + period) % period;
  return in < count ? in : period - 1 - in;
}

Planes withMargin(const Image& photo) {
  Planes rgb(photo.width + 2 * kMargin, photo.height + 2 * kMargin);
  for (int y = 0; y < rgb.height; ++y) {
    for (int x = 0; x < rgb.width; ++x) {
      const int fromX = mirrored(x - kMargin, photo.width);
      const int fromY = mirrored(y - kMargin, photo.height);
      for (int c = 0; c < 3; ++c) rgb.plane[c][rgb.index(x, y)] = photo.at(fromX, fromY, c);
    }
  }
  return rgb;
}

// The positions of a band that lie in the picture.
struct Inside {
  int left;  // and top
  int width;
  int height;
};

Inside insideOf(const BandShape& shape, int stride) {
  const int margin = kMargin / stride;
  return {margin, std::max(1, shape.width - 2 * margin), std::max(1, shape.height - 2 * margin)};
}

Image heatOf(const std::vector<float>& rows, const BandShape& shape, const Inside& inside, int channel) {
  Image heat(inside.width, inside.height, 1);
  for (int y = 0; y < heat.height; ++y) {
    for (int x = 0; x < heat.width; ++x) {
      const std::size_t position = cellAt(x + inside.left, y + inside.left, shape.width);
      heat.at(x, y, 0) = rows[position * shape.channels + channel];
    }
  }
  const float least = quantile(heat.pixels, 0.02);
  const float most = std::max(quantile(heat.pixels, 0.995), least + 1e-6F);
  for (float& v : heat.pixels) v = std::clamp((v - least) / (most - least), 0.0F, 1.0F);
  return heat;
}

}  // namespace

std::vector<WokenChannel> wokenChannels(const Chain& chain, std::size_t band, const Image& photo,
                                        std::size_t count) {
  const Planes rgb = withMargin(photo);
  Evaluator evaluator(chain, rgb.width, rgb.height, Precision::full, {band});
  evaluator.forward(rgb.plane[0], rgb.plane[1], rgb.plane[2]);
  const BandShape shape = evaluator.shape(band);
  const Inside inside = insideOf(shape, chain.bands[band].stride);
  std::vector<float> weights(shape.positions(), 0.0F);
  for (int y = 0; y < inside.height; ++y)
    std::fill_n(&weights[cellAt(inside.left, y + inside.left, shape.width)], inside.width, 1.0F);
  const auto [gram, mean] = evaluator.weightedMoments(band, weights);
  std::vector<double> variance(shape.channels);
  for (std::size_t c = 0; c < variance.size(); ++c)
    variance[c] = std::max(0.0F, gram[c * variance.size() + c] - mean[c] * mean[c]);
  const double all = std::max(1e-12, std::accumulate(variance.begin(), variance.end(), 0.0));
  std::vector<int> order(variance.size());
  std::iota(order.begin(), order.end(), 0);
  std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return variance[a] > variance[b]; });
  order.resize(std::min(order.size(), count));
  const std::vector<float> rows = evaluator.activations(band);
  std::vector<WokenChannel> woken;
  for (const int c : order) woken.push_back({c, variance[c] / all, heatOf(rows, shape, inside, c)});
  return woken;
}

Image heatOver(const Image& photo, const Image& heat) {
  // From none to all of it: dark red, orange, pale yellow.
  constexpr std::array<std::array<float, 3>, 3> kWarm{
      {{0.55F, 0.1F, 0.1F}, {0.95F, 0.5F, 0.1F}, {1, 0.95F, 0.7F}}};
  constexpr float kDimmed = 0.55F;
  const Image wide = clipped(resample(heat, photo.width, photo.height));
  Image out(photo.width, photo.height, 3);
  for (std::size_t i = 0; i < out.area(); ++i) {
    const float grey = kDimmed * lumaOf(photo.pixel(i));
    const float h = wide.pixels[i];
    const std::size_t step = h < 0.5F ? 0 : 1;
    const float part = 2 * h - static_cast<float>(step);
    for (std::size_t c = 0; c < 3; ++c) {
      const float warm = kWarm[step][c] + part * (kWarm[step + 1][c] - kWarm[step][c]);
      out.pixel(i)[c] = grey + h * (warm - grey);
    }
  }
  return out;
}

Image textureOf(const Chain& chain, const std::string& band, int channel, int edge, unsigned seed,
                const SeenProgress& progress) {
  AmplifySettings settings;
  settings.bands = {{band, 1}};
  settings.channels.numbers = {channel};
  settings.strength = 100;
  settings.painting.longEdge = edge;
  settings.painting.precision = PrecisionChoice::full;
  // A channel that sees nothing in the noise has no way up; in another, stronger one it may.
  constexpr unsigned kTries = 4;
  Image picture;
  for (unsigned i = 0; i < kTries; ++i) {
    const Image noise = softNoise(edge, seed + i, kFaint * static_cast<float>(i + 1));
    picture = amplified(chain, {noise, {}, {}}, settings, {progress});
    if (distanceOf(picture, noise) > 0.01) break;
  }
  return picture;
}

Image grownBy(const Chain& chain, const std::string& band, const Image& reference, int edge,
              const SeenProgress& progress) {
  PaintSettings settings;
  settings.likeness = 0;
  settings.start = "noise";
  settings.styleAt = {{band, 1}};
  settings.longEdge = edge;
  settings.brushwork = false;
  settings.precision = PrecisionChoice::full;
  PaintInputs inputs{Image(edge, edge, 3, 0.5F), {{reference, 1}}};
  return paint(chainFor(chain, settings), inputs, settings,
               {[&](const PaintProgress& p) { progress(p.done); }, {}, {}, {}})
      .picture;
}

}  // namespace jugendstil
