// SPDX-License-Identifier: Apache-2.0
#include "weave/along.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "weave/follow.h"
#include "weave/guides.h"
#include "weave/joins.h"
#include "weave/levels.h"
#include "weave/picture.h"
#include "weave/quilt.h"

namespace jugendstil {
namespace {

// Halved until picture and references have so many pixels, where large blocks are compared everywhere in a
// second or two; but no reference's edge below this.
constexpr double kCoarsest = 50000;
constexpr int kCoarsestEdge = 40;
// Blocks of the coarsest level and the next finer ones. In levels above these joins are mended, and no more
// is laid: the smallest strokes that are taken apart are then 8 in 1024 pixels of the picture.
constexpr int kLargest = 32;
constexpr int kSmallest = 8;
constexpr std::array<int, 3> kLargestOfLevel{kLargest, kLargest / 2, kSmallest};
constexpr int kRounds = 2;
// What the drawing counts at a likeness of 50, where the worst that can be laid misses it by about 1; twice
// as much for each kDoubling more.
constexpr double kWeight = 6;
constexpr double kDoubling = 12;
// Where joins are mended, of that: more would take strokes apart pixel by pixel.
constexpr float kMending = 0.05F;
constexpr int kFirstPasses = 4;
constexpr int kPasses = 3;

// The same for all: about the references' mean colour, in what makes their colours vary by 1 in all.
class Scale {
 public:
  explicit Scale(const std::vector<Image>& references) {
    std::array<double, 3> squares{};
    double count = 0;
    for (const Image& picture : references) {
      count += static_cast<double>(picture.area());
      for (std::size_t i = 0; i < picture.area(); ++i) {
        for (std::size_t c = 0; c < 3; ++c) {
          const double v = picture.pixel(i)[c];
          mean_[c] += v;
          squares[c] += v * v;
        }
      }
    }
    double variance = 1e-4;
    for (std::size_t c = 0; c < 3; ++c) {
      mean_[c] /= count;
      variance += squares[c] / count - mean_[c] * mean_[c];
    }
    unit_ = 1 / std::sqrt(variance);
  }

  Image of(Image image) const {
    for (std::size_t i = 0; i < image.area(); ++i) {
      for (std::size_t c = 0; c < 3; ++c)
        image.pixel(i)[c] = static_cast<float>((image.pixel(i)[c] - mean_[c]) * unit_);
    }
    return image;
  }

 private:
  std::array<double, 3> mean_{};
  double unit_ = 1;
};

std::vector<WeaveLevel> levelsOf(const AlongInputs& inputs) {
  const Scale scale(inputs.references);
  WeaveLevel finest{{}, inputs.drawing.width, inputs.drawing.height, scale.of(inputs.drawing), {}};
  for (const Image& r : inputs.references) finest.swatches.push_back({r, scale.of(r), {}});
  auto levels = levelsFrom(std::move(finest), [](const WeaveLevel& level) {
    std::size_t all = 0;
    for (const SwatchLevel& s : level.swatches) all += s.picture.area();
    const auto most = static_cast<double>(std::max(all, level.layout.area()));
    return most > kCoarsest && level.edge() / 2 >= kCoarsestEdge;
  });
  for (WeaveLevel& level : levels) makeGuides(level);
  return levels;
}

// One level of it on the way.
class Weaver {
 public:
  Weaver(const WeaveLevel& level, const Atlas& atlas, Woven& piece, const AlongInputs& inputs)
      : level_(level), atlas_(atlas), piece_(piece), seed_(inputs.seed) {
    piece_.drawn = drawnIn(level.layout);
    weight_ = static_cast<float>(kWeight * std::exp2((inputs.likeness - 50) / kDoubling));
    piece_.wishWeight = weight_;
  }

  void lay(const std::function<void(double)>& progress) {
    const int side = fitting(kLargest);
    Quilter(piece_, atlas_, {{side, side / 4}, level_.edge()}, seed_).lay(progress);
  }

  // Blocks of this size and the smaller ones.
  void follow(int largest, const std::function<void(double)>& progress) {
    int looks = 0;
    int done = 0;
    for (int side = fitting(largest); side >= kSmallest; side /= 2) looks += kRounds;
    for (int side = fitting(largest); side >= kSmallest; side /= 2) {
      Follower follower(piece_, atlas_, side, seed_);
      for (int round = 0; round < kRounds; ++round, ++done)
        follower.round(round, [&](double part) { progress((done + part) / looks); });
    }
  }

  void mend(const std::vector<Spot>& alike, int passes, const std::function<void(double)>& progress) {
    piece_.wishWeight = kMending * weight_;
    Mender mender(piece_, atlas_, alike);
    mender.touchAll();
    mender.mend(passes, progress);
  }

 private:
  // A block has room to move in.
  int fitting(int side) const {
    while (side > level_.edge() / 2) side /= 2;
    return side;
  }
  const WeaveLevel& level_;
  const Atlas& atlas_;
  Woven& piece_;
  std::uint64_t seed_;
  float weight_ = 0;
};

// Of all the work, the part before a level is done, from 0 to 1: each has about a third of the next finer
// one's.
double partBefore(std::size_t level) { return std::pow(3.0, -static_cast<double>(level + 1)); }

}  // namespace

Image wovenAlong(const AlongInputs& inputs, const std::function<void(double)>& progress) {
  constexpr double kPicture = 0.1;  // of the time
  constexpr double kFollowing = 0.65;
  const std::vector<WeaveLevel> levels = levelsOf(inputs);
  Atlas atlas;
  Woven piece;
  std::vector<Spot> alike;
  for (std::size_t at = levels.size(); at-- > 0;) {
    const WeaveLevel& level = levels[at];
    const std::size_t finer = levels.size() - 1 - at;
    const auto tell = [&](double part) {
      const double before = finer > 0 ? partBefore(at) : 0;
      progress((1 - kPicture) * (before + part * (partBefore(at) * 3 - before)));
    };
    const Atlas coarser = std::move(atlas);
    const Woven coarse = std::move(piece);
    atlas = atlasOf(level.swatches, kGrownTone);
    alike = finer == 0 ? firstAlike(level, atlas, kGrownTone) : alikeOf(atlas, coarser, alike);
    piece = unwoven(level, atlas, {}, 0);
    Weaver weaver(level, atlas, piece, inputs);
    if (finer == 0)
      weaver.lay([&](double) { tell(0); });
    else
      takeOver(piece, coarse, atlas, coarser);
    if (finer < kLargestOfLevel.size())
      weaver.follow(kLargestOfLevel[finer], [&](double part) { tell(kFollowing * part); });
    weaver.mend(alike, finer == 0 ? kFirstPasses : kPasses,
                [&](double part) { tell(kFollowing + (1 - kFollowing) * part); });
  }
  atlas.features = {};
  return pictureOf(piece, atlas, inputs.references,
                   [&](double part) { progress(1 - kPicture + kPicture * part); });
}

}  // namespace jugendstil
