// SPDX-License-Identifier: Apache-2.0
#include "style/layout.h"

#include <algorithm>
#include <cmath>
#include <utility>

#include "base/number.h"
#include "base/parallel.h"
#include "image/resample.h"
#include "style/softened.h"

namespace jugendstil {
namespace {

// Values along the longer side, at least.
constexpr int kFineness = 100;
constexpr int kMostHalvings = 4;
// The windows' standard deviation and where they end, in values.
constexpr float kSpread = 2.5F;
constexpr int kReach = 5;
// Variance of a window that is no more than strokes: with a third of it outlines are held but weak, and are
// lost among them.
constexpr float kGrain = 3e-3F;

int halvingsFor(int edge) {
  int halvings = 1;
  while (halvings < kMostHalvings && edge >> (halvings + 1) >= kFineness) ++halvings;
  return halvings;
}

void addScaled(float* to, const float* from, float scale, int count) {
  for (int i = 0; i < count; ++i) to[i] += scale * from[i];
}

// Sums under the window around each place, nothing outside: a symmetric matrix, so it is its own transpose.
void sumWindows(std::vector<float>& plane, int width, int height) {
  std::array<float, kReach + 1> window{};
  for (int i = 0; i <= kReach; ++i)
    window[i] = std::exp(-0.5F * static_cast<float>(i * i) / (kSpread * kSpread));
  std::vector<float> rows(plane.size(), 0.0F);
  parallelFor(height, [&](int y) {
    const float* from = &plane[cellAt(0, y, width)];
    float* to = &rows[cellAt(0, y, width)];
    for (int i = -kReach; i <= kReach; ++i) {
      const int first = std::max(0, -i);
      addScaled(to + first, from + first + i, window[std::abs(i)], width - std::abs(i));
    }
  });
  parallelFor(height, [&](int y) {
    float* to = &plane[cellAt(0, y, width)];
    std::fill_n(to, width, 0.0F);
    for (int i = std::max(-kReach, -y); i <= std::min(kReach, height - 1 - y); ++i)
      addScaled(to, &rows[cellAt(0, y + i, width)], window[std::abs(i)], width);
  });
}

std::vector<float> productOf(const std::vector<float>& a, const std::vector<float>& b) {
  std::vector<float> out(a.size());
  for (std::size_t i = 0; i < a.size(); ++i) out[i] = a[i] * b[i];
  return out;
}

}  // namespace

LayoutTerm::LayoutTerm(const Planes& drawing, const Image& more)
    : halvings_(halvingsFor(std::max(drawing.width, drawing.height))),
      width_(drawing.width >> halvings_),
      height_(drawing.height >> halvings_),
      perWindow_(cellCount(width_, height_), 1.0F),
      values_(softened(drawing)),
      variance_(perWindow_.size(), 0.0F),
      counts_(perWindow_.size()) {
  sumWindows(perWindow_, width_, height_);
  for (float& w : perWindow_) w = 1 / w;
  for (std::size_t c = 0; c < 3; ++c) {
    means_[c] = meansOf(values_[c]);
    const Plane squares = meansOf(productOf(values_[c], values_[c]));
    for (std::size_t i = 0; i < squares.size(); ++i)
      variance_[i] += std::max(0.0F, squares[i] - means_[c][i] * means_[c][i]);
  }
  double sum = 0;
  for (std::size_t i = 0; i < counts_.size(); ++i) sum += counts_[i] = std::sqrt(variance_[i]);
  for (float& count : counts_) count /= static_cast<float>(std::max(sum, 1e-12));
  if (!more.empty()) counts_ = productOf(counts_, resample(more, width_, height_).pixels);
}

LayoutTerm::Triple LayoutTerm::softened(const Planes& planes) const {
  Triple out;
  Plane half;
  Plane scratch;
  for (std::size_t c = 0; c < 3; ++c) {
    for (int h = 1; h <= halvings_; ++h) {
      halve(h == 1 ? planes.plane[c] : out[c], planes.width >> (h - 1), planes.height >> (h - 1), half);
      soften(half, planes.width >> h, planes.height >> h, scratch);
      std::swap(out[c], half);
    }
  }
  return out;
}

LayoutTerm::Plane LayoutTerm::meansOf(Plane plane) const {
  sumWindows(plane, width_, height_);
  return productOf(plane, perWindow_);
}

void LayoutTerm::addThroughSoftening(Plane slope, const Planes& picture, float scale, Plane& gradient) const {
  Plane scratch;
  for (int h = halvings_; h > 1; --h) {
    soften(slope, picture.width >> h, picture.height >> h, scratch);
    Plane larger(slope.size() * 4, 0.0F);
    addUnhalved(slope, picture.width >> (h - 1), 1, larger);
    slope = std::move(larger);
  }
  soften(slope, picture.width / 2, picture.height / 2, scratch);
  addUnhalved(slope, picture.width, scale, gradient);
}

double LayoutTerm::evaluate(const Planes& picture, double weight, Planes& gradient) const {
  const std::size_t n = counts_.size();
  const Triple values = softened(picture);
  Triple means;
  Plane variance(n, 0.0F);
  Plane common(n, 0.0F);
  for (std::size_t c = 0; c < 3; ++c) {
    means[c] = meansOf(values[c]);
    const Plane squares = meansOf(productOf(values[c], values[c]));
    const Plane products = meansOf(productOf(values[c], values_[c]));
    for (std::size_t i = 0; i < n; ++i) {
      variance[i] += std::max(0.0F, squares[i] - means[c][i] * means[c][i]);
      common[i] += products[i] - means[c][i] * means_[c][i];
    }
  }
  double total = 0;
  // What each window's loss has for slope by what is common and by the picture's variance, divided by the
  // window's sum, which is the transpose of taking its mean.
  Plane byCommon(n);
  Plane byVariance(n);
  for (std::size_t i = 0; i < n; ++i) {
    const float scale = 1 / std::sqrt((variance[i] + kGrain) * (variance_[i] + kGrain));
    const float alike = common[i] * scale;
    total += counts_[i] * (1 - alike);
    byCommon[i] = -counts_[i] * scale * perWindow_[i];
    byVariance[i] = counts_[i] * alike / (variance[i] + kGrain) * perWindow_[i];
  }
  Plane ofCommon = byCommon;
  Plane ofVariance = byVariance;
  sumWindows(ofCommon, width_, height_);
  sumWindows(ofVariance, width_, height_);
  for (std::size_t c = 0; c < 3; ++c) {
    Plane offset(n);
    for (std::size_t i = 0; i < n; ++i) offset[i] = byCommon[i] * means_[c][i] + byVariance[i] * means[c][i];
    sumWindows(offset, width_, height_);
    Plane slope(n);
    for (std::size_t i = 0; i < n; ++i)
      slope[i] = ofCommon[i] * values_[c][i] + ofVariance[i] * values[c][i] - offset[i];
    addThroughSoftening(std::move(slope), picture, static_cast<float>(weight), gradient.plane[c]);
  }
  return total;
}

}  // namespace jugendstil
