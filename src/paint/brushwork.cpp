#include "paint/brushwork.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "image/error.h"
#include "image/parallel.h"
#include "image/planes.h"

namespace jugendstil {
namespace {

constexpr int kLeastSide = 8;
// Each node's brush-work reaches this far; a misfit of kGoodFit halves what it counts.
constexpr int kBrush = 2;
constexpr float kGoodFit = 0.02F;
constexpr float kGrain = 0.03F;

Planes difference(Planes a, const Planes& b) {
  for (std::size_t c = 0; c < 3; ++c) {
    for (std::size_t i = 0; i < b.area(); ++i) a.plane[c][i] -= b.plane[c][i];
  }
  return a;
}

// How much a node counts by its distance.
std::array<float, kBrush + 1> falloff() {
  std::array<float, kBrush + 1> weights{};
  for (int d = 0; d <= kBrush; ++d)
    weights[static_cast<std::size_t>(d)] = std::exp(-static_cast<float>(d * d) / (0.5F * kBrush * kBrush));
  return weights;
}

void layIn(Planes& picture, const std::vector<PatchMatch>& matches, const std::vector<Planes>& brushworks) {
  const auto weights = falloff();
  const int columns = nodesAlong(picture.width);
  const int rows = nodesAlong(picture.height);
  parallelFor(picture.height, [&](int y) {
    const int top = std::max(0, (y - kBrush + kNodeStride - 1) / kNodeStride);
    const int bottom = std::min(rows - 1, (y + kBrush) / kNodeStride);
    for (int x = 0; x < picture.width; ++x) {
      const int left = std::max(0, (x - kBrush + kNodeStride - 1) / kNodeStride);
      const int right = std::min(columns - 1, (x + kBrush) / kNodeStride);
      std::array<float, 3> sum{};
      float total = 0;
      for (int j = top; j <= bottom; ++j) {
        for (int i = left; i <= right; ++i) {
          const PatchMatch& match = matches[static_cast<std::size_t>(j) * static_cast<std::size_t>(columns) +
                                            static_cast<std::size_t>(i)];
          const Planes& brushwork = brushworks[static_cast<std::size_t>(match.source)];
          const int dx = x - i * kNodeStride;
          const int dy = y - j * kNodeStride;
          const int sx = std::clamp(match.x + dx, 0, brushwork.width - 1);
          const int sy = std::clamp(match.y + dy, 0, brushwork.height - 1);
          const float weight = weights[static_cast<std::size_t>(std::abs(dx))] *
                               weights[static_cast<std::size_t>(std::abs(dy))] / (kGoodFit + match.cost);
          const std::size_t from = static_cast<std::size_t>(sy) * static_cast<std::size_t>(brushwork.width) +
                                   static_cast<std::size_t>(sx);
          for (std::size_t c = 0; c < 3; ++c) sum[c] += weight * brushwork.plane[c][from];
          total += weight;
        }
      }
      const std::size_t at =
          static_cast<std::size_t>(y) * static_cast<std::size_t>(picture.width) + static_cast<std::size_t>(x);
      for (std::size_t c = 0; c < 3; ++c) picture.plane[c][at] += sum[c] / total;
    }
  });
}

}  // namespace

BrushExample brushExample(const Image& reference, double ratio) {
  const auto smaller = [&](int side) { return std::max(1, static_cast<int>(std::lround(side / ratio))); };
  const Image small = resample(reference, smaller(reference.width), smaller(reference.height));
  return {reference, resample(small, reference.width, reference.height)};
}

Brush::Brush(std::vector<BrushExample> examples) {
  if (examples.empty()) throw Error("brush-work needs an example to take it from");
  for (BrushExample& example : examples) {
    if (std::min(example.fine.width, example.fine.height) < kLeastSide)
      throw Error("an example of brush-work needs at least 8 pixels a side");
    const Planes softExample = opponentOf(example.soft);
    guides_.emplace_back(softExample);
    brushworks_.push_back(difference(opponentOf(example.fine), softExample));
    example = {};
  }
}

std::vector<PatchMatch> Brush::find(const Image& soft, std::uint64_t seed,
                                    const std::function<bool()>& progress,
                                    const std::vector<PatchHint>& hints) const {
  return searchPatches(PatchGuide(opponentOf(soft)), guides_, seed, progress, hints);
}

Image Brush::laidInto(const Image& soft, const std::vector<PatchMatch>& places) const {
  Planes picture = opponentOf(soft);
  layIn(picture, places, brushworks_);
  return imageOf(picture);
}

Image edgesBeyond(const Image& photo, Size smaller) {
  Image edges = resample(resample(photo, smaller.width, smaller.height), photo.width, photo.height);
  parallelFor(photo.height, [&](int y) {
    for (std::size_t i = photo.index(0, y, 0); i < photo.index(0, y + 1, 0); ++i) {
      const float d = photo.pixels[i] - edges.pixels[i];
      edges.pixels[i] = d * std::abs(d) / (std::abs(d) + kGrain);
    }
  });
  return edges;
}

}  // namespace jugendstil
