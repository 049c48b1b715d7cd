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
#include "base/stop.h"
#include "image/luma.h"
#include "image/resample.h"
#include "network/evaluator.h"
#include "paint/canvas.h"
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

}  // namespace

Woken::Woken(const Chain& chain, std::size_t band, const Image& photo) {
  const Image around = mirrorPad(photo, kMargin, kMargin, kMargin, kMargin);
  Evaluator evaluator(chain, around.width, around.height, Precision::full, {band});
  const Planes seen = forwardPicture(evaluator, around);
  shape_ = evaluator.shape(band);
  margin_ = kMargin / chain.bands[band].stride;
  rows_ = evaluator.activations(band);
  std::vector<float> inside(shape_.positions(), 0.0F);
  for (int y = margin_; y < shape_.height - margin_; ++y)
    std::fill_n(&inside[cellAt(margin_, y, shape_.width)], shape_.width - 2 * margin_, 1.0F);
  const auto [gram, mean] = evaluator.weightedMoments(band, inside);
  shares_.resize(shape_.channels);
  for (std::size_t c = 0; c < shares_.size(); ++c)
    shares_[c] = std::max(0.0F, gram[c * shares_.size() + c] - mean[c] * mean[c]);
  const double all = std::max(1e-12, std::accumulate(shares_.begin(), shares_.end(), 0.0));
  for (double& share : shares_) share /= all;
}

Image Woken::heat(int channel) const {
  Image heat(shape_.width - 2 * margin_, shape_.height - 2 * margin_, 1);
  for (int y = 0; y < heat.height; ++y) {
    for (int x = 0; x < heat.width; ++x) {
      const std::size_t position = cellAt(x + margin_, y + margin_, shape_.width);
      heat.at(x, y, 0) = rows_[position * shape_.channels + channel];
    }
  }
  const float least = quantile(heat.pixels, 0.02);
  const float most = std::max(quantile(heat.pixels, 0.995), least + 1e-6F);
  for (float& v : heat.pixels) v = std::clamp((v - least) / (most - least), 0.0F, 1.0F);
  return heat;
}

std::vector<int> strongest(const std::vector<double>& shares, std::size_t count) {
  std::vector<int> order(shares.size());
  std::iota(order.begin(), order.end(), 0);
  std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return shares[a] > shares[b]; });
  order.resize(std::min(order.size(), count));
  return order;
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
  PaintResult grown = paint(chainFor(chain, settings), inputs, settings,
                            {[&](const PaintProgress& p) { progress(p.done); }, {}, {}, {}});
  if (!grown.finished) throw Stopped();  // half a texture shows nothing
  return std::move(grown.picture);
}

}  // namespace jugendstil
