// SPDX-License-Identifier: Apache-2.0
#include "paint/enlarge.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "image/mask.h"
#include "paint/quiet.h"
#include "paint/reference.h"

namespace jugendstil {
namespace {

// Of the drawing's edges at likeness 100; at 50 half of it. More, and a photograph looks through the paint.
constexpr double kEdges = 0.7;
// What brush-work covers at likeness 0, and at 100. At 0.65 for likeness 50 the subject began to dissolve, at
// 0.3 the network's own mottled tones looked through.
constexpr double kCoveredFree = 0.7;
constexpr double kCoveredAlike = 0.2;
// Differences well below this are grain, not edges.
constexpr float kGrain = 0.03F;

void addWeighted(Image& to, const Image& more, const Image& less, const Image& weights) {
  parallelFor(to.height, [&](int y) {
    for (int x = 0; x < to.width; ++x) {
      const float weight = weights.at(x, y, 0);
      for (std::size_t i = to.index(x, y, 0); i < to.index(x + 1, y, 0); ++i)
        to.pixels[i] += weight * (more.pixels[i] - less.pixels[i]);
    }
  });
}

}  // namespace

std::vector<BrushExample> brushExamples(const std::vector<PaintReference>& references, Size picture,
                                        double stroke, double ratio) {
  std::vector<BrushExample> examples;
  const double share = kMostExamples / static_cast<double>(references.size());
  for (const PaintReference& reference : references)
    examples.push_back(
        brushExample(middleOf(scaledReference(reference.image, picture, stroke), share), ratio));
  return examples;
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

void addDrawnEdges(Image& picture, const Image& drawing, Size smaller, const Likeness& likeness) {
  const Image edges = edgesBeyond(drawing, smaller);
  const auto usual = static_cast<float>(std::min(1.0, likeness.usual / 100));
  const Image here =
      likeness.here.empty() ? Image() : resizedMask(likeness.here, picture.width, picture.height);
  parallelFor(picture.height, [&](int y) {
    for (int x = 0; x < picture.width; ++x) {
      const float part = static_cast<float>(kEdges) * (here.empty() ? usual : here.at(x, y, 0));
      for (std::size_t i = picture.index(x, y, 0); i < picture.index(x + 1, y, 0); ++i)
        picture.pixels[i] += part * edges.pixels[i];
    }
  });
}

float coveredAt(double likeness, std::size_t stage) {
  const double first = kCoveredFree + (kCoveredAlike - kCoveredFree) * std::min(1.0, likeness / 100);
  return static_cast<float>(std::ldexp(first, -static_cast<int>(stage)));
}

void EnlargingState::exchange(StateExchange& with) {
  with.value(region);
  // With no region before, the picture is what the stage begins with.
  if (region > 0) exchangeImage(with, out);
  with.value(search.passes);
  with.values(search.places);
}

Image coveredAt(const Likeness& likeness, std::size_t stage) {
  if (likeness.here.empty()) return {1, 1, 1, coveredAt(likeness.usual, stage)};
  Image covered = likeness.here;
  for (float& v : covered.pixels) v = coveredAt(100.0 * v, stage);
  return covered;
}

namespace {

// Enlarged, each region with the brush-work of its references.
Image brushedPainting(const Image& painting, Size to, const Enlarging& enlarging, const Image& covered,
                      bool quietly, EnlargingState& state, const std::function<void()>& progress) {
  const double ratio =
      static_cast<double>(std::max(to.width, to.height)) / std::max(painting.width, painting.height);
  Image soft = resample(painting, to.width, to.height);
  if (state.out.empty()) state.out = soft;
  const std::size_t count = enlarging.regions.size();
  const auto share = [&] {
    // Of so many regions' passes every count-th one is told.
    const std::size_t asked = state.region * kSearchPasses + state.search.passes;
    if (asked % count == 0) progress();
  };
  for (; state.region < count; ++state.region) {
    const Region& region = enlarging.regions[state.region];
    std::vector<BrushExample> examples = brushExamples(region.basis.references, to, enlarging.stroke, ratio);
    if (quietly) avoidRareDetail(examples);
    const Brush brush(std::move(examples));
    brush.goOnFinding(state.search, soft, enlarging.seed, share);
    Image brushed = brush.laidInto(soft, state.search.places, covered);
    if (region.weights.empty())
      state.out = std::move(brushed);
    else
      addWeighted(state.out, brushed, soft, resizedMask(region.weights, to.width, to.height));
    state.search = {};
  }
  Image out = std::move(state.out);
  state = {};
  return out;
}

}  // namespace

Image softenedPainting(const Image& painting, Size softened, const std::vector<Size>& stages,
                       const Enlarging& enlarging) {
  Image out = resample(painting, softened.width, softened.height);
  if (stages.empty() || enlarging.quiet.empty()) return out;
  Image quietly = resample(painting, stages.front().width, stages.front().height);
  for (std::size_t i = 1; i < stages.size(); ++i) {
    EnlargingState state;
    quietly =
        brushedPainting(quietly, stages[i], enlarging, Image(1, 1, 1, kQuietCovered), true, state, [] {});
  }
  layQuietly(out, quietly, enlarging.quiet);
  return out;
}

Image enlargedPainting(const Image& painting, Size to, const Enlarging& enlarging, std::size_t stage,
                       EnlargingState& state, const std::function<void()>& progress) {
  Image covered = coveredAt(enlarging.likeness, stage);
  if (stage == 0 && !enlarging.quiet.empty()) covered = coveredInQuiet(covered, enlarging.quiet);
  Image out = brushedPainting(painting, to, enlarging, covered, false, state, progress);
  addDrawnEdges(out, resizePhoto(enlarging.drawing, to.width, to.height), {painting.width, painting.height},
                enlarging.likeness);
  return out;
}

}  // namespace jugendstil
