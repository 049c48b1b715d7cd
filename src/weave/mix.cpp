// SPDX-License-Identifier: Apache-2.0
#include "weave/mix.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/number.h"
#include "base/parallel.h"
#include "image/box_mean.h"
#include "image/luma.h"
#include "image/resample.h"
#include "weave/dice.h"

namespace jugendstil {
namespace {

// Levels of the pyramid in which pictures are laid into each other; the last one's pixels are 64 wide.
constexpr int kBlendLevels = 7;
// From this level on shares count as they are; above it each thing is of one picture.
constexpr int kToneLevel = 4;
// How much a thing's lightness against its surroundings lets it stand before others, how wide surroundings
// are, and over how much of a share it goes over.
constexpr float kStandOut = 1.6F;
constexpr int kThing = 2;
constexpr int kAround = 14;
constexpr float kEdge = 0.12F;
// The second octave of drifting tones: how much it counts, and how much finer it is.
constexpr float kFineShare = 0.35F;
constexpr int kFinePatches = 3;

float smooth(float t) { return t * t * (3 - 2 * t); }

// Values at the corners of a grid, drawn one by one and joined smoothly.
class Lattice {
 public:
  Lattice(int columns, int rows, Repeats repeats, std::uint64_t seed)
      : columns_(columns), rows_(rows), repeats_(repeats), values_(cellCount(columns + 1, rows + 1)) {
    Dice dice(seed);
    for (float& v : values_) v = static_cast<float>(dice.between(0, 1 << 16)) / 65536.0F;
  }

  // At a place in cells.
  float at(float x, float y) const {
    const int i = std::min(static_cast<int>(x), columns_ - 1);
    const int j = std::min(static_cast<int>(y), rows_ - 1);
    const float u = smooth(x - static_cast<float>(i));
    const float v = smooth(y - static_cast<float>(j));
    const float top = corner(i, j) + u * (corner(i + 1, j) - corner(i, j));
    const float bottom = corner(i, j + 1) + u * (corner(i + 1, j + 1) - corner(i, j + 1));
    return top + v * (bottom - top);
  }

 private:
  float corner(int i, int j) const {
    if (repeats_.across) i %= columns_;
    if (repeats_.down) j %= rows_;
    return values_[cellAt(i, j, columns_ + 1)];
  }
  int columns_;
  int rows_;
  Repeats repeats_;
  std::vector<float> values_;
};

Image halved(const Image& image) { return resample(image, (image.width + 1) / 2, (image.height + 1) / 2); }

// How light each pixel is against its surroundings, little details left out.
std::vector<float> standingOut(const Image& picture) {
  std::vector<float> tones(picture.area());
  for (std::size_t i = 0; i < tones.size(); ++i) tones[i] = lumaOf(picture.pixel(i));
  std::vector<float> things = boxMeans(tones, picture.width, picture.height, kThing);
  const std::vector<float> around = boxMeans(tones, picture.width, picture.height, kAround);
  for (std::size_t i = 0; i < things.size(); ++i) things[i] -= around[i];
  return things;
}

// Shares where each thing is of one picture.
std::vector<Image> sharesOfThings(const std::vector<Image>& pictures, const std::vector<Image>& shares) {
  std::vector<Image> out = shares;
  for (std::size_t s = 0; s < pictures.size(); ++s) {
    const std::vector<float> things = standingOut(pictures[s]);
    for (std::size_t i = 0; i < things.size(); ++i) {
      // Nothing stands out where the picture has no share, nor has to where it has all.
      const float share = shares[s].pixels[i];
      out[s].pixels[i] += kStandOut * 4 * share * (1 - share) * things[i];
    }
  }
  parallelFor(out.front().pixels.size(), [&](std::size_t i) {
    float first = 0;
    for (const Image& o : out) first = std::max(first, o.pixels[i]);
    float sum = 0;
    for (Image& o : out) sum += o.pixels[i] = std::max(0.0F, o.pixels[i] - first + kEdge);
    for (Image& o : out) o.pixels[i] /= sum;
  });
  return out;
}

}  // namespace

Image driftingTones(int width, int height, Repeats repeats, double patch, std::uint64_t seed) {
  const auto cells = [&](int side, int finer) { return std::max(1, rounded(finer * side / patch)); };
  const Lattice broad(cells(width, 1), cells(height, 1), repeats, 2 * seed + 1);
  const Lattice fine(cells(width, kFinePatches), cells(height, kFinePatches), repeats, 2 * seed + 2);
  Image tones(width, height, 1);
  parallelFor(height, [&](int y) {
    for (int x = 0; x < width; ++x) {
      const auto in = [&](const Lattice& lattice, int finer) {
        return lattice.at(
            static_cast<float>(x) / static_cast<float>(width) * static_cast<float>(cells(width, finer)),
            static_cast<float>(y) / static_cast<float>(height) * static_cast<float>(cells(height, finer)));
      };
      tones.at(x, y, 0) = in(broad, 1) + kFineShare * in(fine, kFinePatches);
    }
  });
  // Each tone by how many are darker.
  std::vector<float> sorted = tones.pixels;
  std::sort(sorted.begin(), sorted.end());
  parallelFor(tones.pixels.size(), [&](std::size_t i) {
    const auto rank = std::lower_bound(sorted.begin(), sorted.end(), tones.pixels[i]) - sorted.begin();
    tones.pixels[i] = static_cast<float>(rank) / static_cast<float>(sorted.size());
  });
  return tones;
}

std::vector<Image> sharesOver(const Image& grey, const std::vector<double>& shares, double soft) {
  const double all = std::accumulate(shares.begin(), shares.end(), 0.0);
  std::vector<Image> out(shares.size(), Image(grey.width, grey.height, 1));
  // Where each swatch ends; the change lies around it, and no wider than the narrower of the two.
  std::vector<double> ends;
  double sum = 0;
  for (const double share : shares) ends.push_back(sum += share / all);
  parallelFor(grey.pixels.size(), [&](std::size_t i) {
    double before = 1;  // how much is not yet given away
    for (std::size_t s = 0; s < shares.size(); ++s) {
      double beyond = 0;  // how far the tone is past this swatch's end
      if (s + 1 < shares.size()) {
        const double reach = std::min(soft, std::min(shares[s], shares[s + 1]) / all) / 2;
        const double past = grey.pixels[i] - ends[s];
        beyond = reach > 0 ? std::clamp(0.5 + past / (2 * reach), 0.0, 1.0) : (past >= 0 ? 1.0 : 0.0);
      }
      out[s].pixels[i] = static_cast<float>(before * (1 - beyond));
      before *= beyond;
    }
  });
  return out;
}

Image blended(const std::vector<Image>& pictures, const std::vector<Image>& shares) {
  const std::vector<Image> things = sharesOfThings(pictures, shares);
  Image sum(pictures.front().width, pictures.front().height);
  for (std::size_t s = 0; s < pictures.size(); ++s) {
    // The differences of a pyramid's levels, each weighed by the shares in its own size, from the coarsest
    // up.
    std::vector<Image> levels{pictures[s]};
    std::vector<Image> weights{things[s]};
    Image tones = shares[s];
    while (countOf(levels) < kBlendLevels && std::min(levels.back().width, levels.back().height) > 2) {
      levels.push_back(halved(levels.back()));
      tones = halved(tones);
      weights.push_back(countOf(levels) > kToneLevel ? tones : halved(weights.back()));
    }
    Image out;
    for (std::size_t l = levels.size(); l-- > 0;) {
      const Image& own = levels[l];
      const Image under = l + 1 < levels.size() ? resample(levels[l + 1], own.width, own.height) : Image();
      if (!out.empty()) out = resample(out, own.width, own.height);
      if (out.empty()) out = Image(own.width, own.height);
      parallelFor(own.area(), [&](std::size_t i) {
        for (int c = 0; c < 3; ++c) {
          const float detail = own.pixel(i)[c] - (under.empty() ? 0 : under.pixel(i)[c]);
          out.pixel(i)[c] += weights[l].pixels[i] * detail;
        }
      });
    }
    for (std::size_t i = 0; i < sum.pixels.size(); ++i) sum.pixels[i] += out.pixels[i];
  }
  return clipped(std::move(sum));
}

std::array<float, 3> signOf(int swatch) {
  return {static_cast<float>(swatch & 1), static_cast<float>(swatch >> 1 & 1),
          static_cast<float>(swatch >> 2 & 1)};
}

Image layoutOf(const std::vector<Image>& shares) {
  Image layout(shares.front().width, shares.front().height);
  parallelFor(layout.area(), [&](std::size_t i) {
    int most = 0;
    for (int s = 1; s < countOf(shares); ++s) {
      if (shares[s].pixels[i] > shares[most].pixels[i]) most = s;
    }
    const auto sign = signOf(most);
    std::copy(sign.begin(), sign.end(), layout.pixel(i));
  });
  return layout;
}

}  // namespace jugendstil
