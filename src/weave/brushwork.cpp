// SPDX-License-Identifier: Apache-2.0
#include "weave/brushwork.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"
#include "image/planes.h"

namespace jugendstil {
namespace {

constexpr int kLeastSide = 8;
// Each node's brush-work reaches this far; a misfit of kGoodFit halves what it counts.
constexpr int kBrush = 2;
constexpr float kGoodFit = 0.02F;
// A misfit of this much halves what the example's soft picture covers.
constexpr float kCoveringFit = 0.2F;

// How much a node counts by its distance.
std::array<float, kBrush + 1> falloff() {
  std::array<float, kBrush + 1> weights{};
  for (int d = 0; d <= kBrush; ++d)
    weights[d] = std::exp(-static_cast<float>(d * d) / (0.5F * kBrush * kBrush));
  return weights;
}

// What the nodes around a pixel lay there.
struct Laid {
  std::array<float, 3> sum{};
  float weights = 0;
  float covered = 0;
};

}  // namespace

BrushExample brushExample(const Image& example, double ratio) {
  const auto smaller = [&](int side) { return std::max(1, rounded(side / ratio)); };
  const Image small = resample(example, smaller(example.width), smaller(example.height));
  return {example, resample(small, example.width, example.height)};
}

Brush::Brush(std::vector<BrushExample> examples) {
  if (examples.empty()) throw Error("brush-work needs an example to take it from");
  for (BrushExample& example : examples) {
    if (std::min(example.fine.width, example.fine.height) < kLeastSide)
      throw Error("an example of brush-work needs at least 8 pixels a side");
    examples_.push_back({opponentOf(example.fine), opponentOf(example.soft)});
    guides_.emplace_back(examples_.back().soft, example.unwelcome);
    example = {};
  }
}

std::vector<PatchMatch> Brush::find(const Image& soft, std::uint64_t seed,
                                    const std::function<void()>& progress,
                                    const std::vector<PatchHint>& hints) const {
  return searchPatches(PatchGuide(opponentOf(soft)), guides_, seed, progress, hints);
}

void Brush::goOnFinding(PatchSearchState& state, const Image& soft, std::uint64_t seed,
                        const std::function<void()>& progress) const {
  goOnSearching(state, PatchGuide(opponentOf(soft)), guides_, seed, progress);
}

Image Brush::laidInto(const Image& soft, const std::vector<PatchMatch>& places, const Image& covered) const {
  Planes picture = opponentOf(soft);
  const auto weights = falloff();
  const int columns = nodesAlong(picture.width);
  const int rows = nodesAlong(picture.height);
  const auto layFrom = [&](int x, int y, int i, int j, Laid& laid) {
    const PatchMatch& place = places[cellAt(i, j, columns)];
    const auto& [fine, softExample] = examples_[place.source];
    const int dx = x - i * kNodeStride;
    const int dy = y - j * kNodeStride;
    const std::size_t from =
        fine.index(std::clamp(place.x + dx, 0, fine.width - 1), std::clamp(place.y + dy, 0, fine.height - 1));
    const float weight = weights[std::abs(dx)] * weights[std::abs(dy)] / (kGoodFit + place.cost);
    const float most = covered.at(i * covered.width / columns, j * covered.height / rows, 0);
    const float covers = most * kCoveringFit / (kCoveringFit + place.cost);
    for (std::size_t c = 0; c < 3; ++c)
      laid.sum[c] += weight * (fine.plane[c][from] - (1 - covers) * softExample.plane[c][from]);
    laid.weights += weight;
    laid.covered += weight * covers;
  };
  parallelFor(picture.height, [&](int y) {
    const int top = std::max(0, (y - kBrush + kNodeStride - 1) / kNodeStride);
    const int bottom = std::min(rows - 1, (y + kBrush) / kNodeStride);
    for (int x = 0; x < picture.width; ++x) {
      const int left = std::max(0, (x - kBrush + kNodeStride - 1) / kNodeStride);
      const int right = std::min(columns - 1, (x + kBrush) / kNodeStride);
      Laid laid;
      for (int j = top; j <= bottom; ++j) {
        for (int i = left; i <= right; ++i) layFrom(x, y, i, j, laid);
      }
      for (std::size_t c = 0; c < 3; ++c) {
        float& value = picture.plane[c][picture.index(x, y)];
        value = ((laid.weights - laid.covered) * value + laid.sum[c]) / laid.weights;
      }
    }
  });
  return imageOf(picture);
}

}  // namespace jugendstil
