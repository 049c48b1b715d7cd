// SPDX-License-Identifier: Apache-2.0
#include "paint/quiet.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "base/number.h"
#include "base/parallel.h"
#include "image/box_mean.h"
#include "image/mask.h"
#include "image/planes.h"

namespace jugendstil {
namespace {

// Detail is what differs from its surroundings, single pixels aside; it counts as far around as they reach.
constexpr int kSurroundings = 7;
// Of detail (root mean square, in opponent axes) this much makes a place half quiet. Clouds have 0.01 to
// 0.03, leaves and tiles 0.06 and more.
constexpr float kHalfQuiet = 0.04F;
// Beyond this likeness places are less quiet.
constexpr float kKept = 0.5F;
// What quiet places are reduced by: strokes and cuts of the references, three to eight pixels wide, are gone
// then, and a place is asked for its tone alone. By 4.5 the linocut lost cuts, by 8 tones moved.
constexpr double kReduced = 6;
// An example of brush-work has to be large enough in the first stage.
constexpr double kLeastSide = 16;

// Twice: boxes alone leave corners.
std::vector<float> softly(const std::vector<float>& plane, int width, int height, int radius) {
  return boxMeans(boxMeans(plane, width, height, radius), width, height, radius);
}

// Colours that are told apart where detail is compared, in opponent axes.
constexpr float kTones = 0.12F;
// Of detail this much (mean square) is nothing to be seen.
constexpr float kUnseen = 0.0003F;
// Detail may be twice the usual; each doubling beyond it, three at most, misfits by this.
constexpr float kRare = 0.1F;
constexpr float kRarest = 3;
// Detail is compared as it is in so many pixels to each side.
constexpr int kDetail = 2;

// Of each pixel.
std::vector<float> detailOf(const BrushExample& example) {
  const int width = example.fine.width;
  const int height = example.fine.height;
  std::vector<float> detail(cellCount(width, height));
  for (std::size_t i = 0; i < example.fine.pixels.size(); ++i) {
    const float d = example.fine.pixels[i] - example.soft.pixels[i];
    detail[i / 3] += d * d;
  }
  return boxMeans(detail, width, height, kDetail);
}

using Colour = std::array<int, 3>;

std::vector<Colour> coloursOf(const Image& soft) {
  const Planes planes = opponentOf(soft);
  std::vector<Colour> colours(planes.area());
  for (std::size_t c = 0; c < 3; ++c) {
    for (std::size_t i = 0; i < colours.size(); ++i) colours[i][c] = rounded(planes.plane[c][i] / kTones);
  }
  return colours;
}

}  // namespace

void avoidRareDetail(std::vector<BrushExample>& examples) {
  std::vector<std::vector<float>> details;
  std::vector<std::vector<Colour>> colours;
  std::map<Colour, std::vector<float>> found;
  for (const BrushExample& example : examples) {
    details.push_back(detailOf(example));
    colours.push_back(coloursOf(example.soft));
    for (std::size_t i = 0; i < details.back().size(); ++i)
      found[colours.back()[i]].push_back(details.back()[i]);
  }
  std::map<Colour, float> usual;
  for (auto& [colour, values] : found) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    usual[colour] = *middle;
  }
  for (std::size_t e = 0; e < examples.size(); ++e) {
    std::vector<float>& unwelcome = examples[e].unwelcome;
    for (std::size_t i = 0; i < details[e].size(); ++i) {
      const float times = (details[e][i] + kUnseen) / (usual[colours[e][i]] + kUnseen);
      unwelcome.push_back(kRare * std::clamp(std::log2(times) - 1, 0.0F, kRarest));
    }
  }
}

Image quietPlaces(const Image& drawing, const Likeness& likeness) {
  const int width = drawing.width;
  const int height = drawing.height;
  const Planes planes = opponentOf(drawing);
  std::vector<float> detail(planes.area());
  for (const std::vector<float>& plane : planes.plane) {
    const std::vector<float> near = boxMeans(plane, width, height, 1);
    const std::vector<float> around = softly(plane, width, height, kSurroundings);
    for (std::size_t i = 0; i < detail.size(); ++i)
      detail[i] += (near[i] - around[i]) * (near[i] - around[i]);
  }
  detail = softly(detail, width, height, kSurroundings);
  const Image here = likeness.here.empty() ? Image() : resizedMask(likeness.here, width, height);
  Image quiet(width, height, 1);
  for (std::size_t i = 0; i < detail.size(); ++i) {
    const float share = detail[i] / (kHalfQuiet * kHalfQuiet);
    const float alike = here.empty() ? static_cast<float>(likeness.usual / 100) : here.pixels[i];
    quiet.pixels[i] = std::clamp((1 - alike) / (1 - kKept), 0.0F, 1.0F) / (1 + share * share);
  }
  return quiet;
}

std::vector<Size> quietStages(Size working, Size softened, double stroke) {
  const int edge = std::max(softened.width, softened.height);
  const double least = std::max(working.width, working.height) / kReduced;
  const double ratio = edge / least;
  const int count = static_cast<int>(std::ceil(std::log2(ratio) - 0.01));
  std::vector<Size> stages;
  for (int i = 0; i < count; ++i)
    stages.push_back(
        sizeForLongEdge(working.width, working.height, rounded(least * std::pow(ratio, 1.0 * i / count))));
  stages.push_back(softened);
  const double side = std::min(stages.front().width, stages.front().height) * std::min(1.0, stroke);
  if (count < 1 || side < kLeastSide) stages.clear();
  return stages;
}

Image coveredInQuiet(const Image& covered, const Image& quiet) {
  Image out = quiet;
  for (int y = 0; y < out.height; ++y) {
    for (int x = 0; x < out.width; ++x) {
      const float usual = covered.at(x * covered.width / out.width, y * covered.height / out.height, 0);
      float& here = out.at(x, y, 0);
      here = usual + here * std::max(0.0F, kQuietCovered - usual);
    }
  }
  return out;
}

void layQuietly(Image& painting, const Image& quietly, const Image& quiet) {
  const Image weights = resizedMask(quiet, painting.width, painting.height);
  parallelFor(painting.height, [&](int y) {
    for (int x = 0; x < painting.width; ++x) {
      const float weight = weights.at(x, y, 0);
      for (std::size_t i = painting.index(x, y, 0); i < painting.index(x + 1, y, 0); ++i)
        painting.pixels[i] += weight * (quietly.pixels[i] - painting.pixels[i]);
    }
  });
}

}  // namespace jugendstil
