// SPDX-License-Identifier: Apache-2.0
#include "weave/grow.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "weave/even.h"
#include "weave/hole.h"
#include "weave/joins.h"
#include "weave/levels.h"
#include "weave/picture.h"
#include "weave/quilt.h"
#include "weave/repeats.h"

namespace jugendstil {
namespace {

// Levels are halved while the smallest swatch's edge stays at least this: blocks are compared everywhere
// there, and 48 pixels still show what a swatch is made of.
constexpr int kCoarsestEdge = 48;
// So many blocks go into a swatch's edge. With more, smaller ones the largest forms are torn;
// with fewer, larger ones more has to be laid over for being seen twice.
constexpr int kBlocksAlong = 5;
constexpr int kOverlap = 9;
// A hole is not made shallower than this, and is filled in blocks that reach this far beyond it on both
// sides: what lies across it is known then, and one block has all of it to go on from.
constexpr int kCoarsestDepth = 8;
constexpr int kBeyondHole = 5;
// But larger blocks bring whole things with them.
constexpr int kHoleBlocksAlong = 3;
// No square of a swatch's edge by this is shown twice within an edge.
constexpr int kPiecesAlong = 8;
// Levels above this edge are not looked through for repeats: they have those of the coarser ones, and few
// more.
constexpr int kLargestSearched = 320;
constexpr int kRounds = 8;
constexpr int kSmallPatch = 6;
// Of the coarsest level's time.
constexpr double kQuiltShare = 0.5;
constexpr int kFirstPasses = 6;
constexpr int kPasses = 3;
// The finest level has most of the work, and is nearly right when it begins.
constexpr int kLastPasses = 2;
constexpr std::size_t kLastAlike = 2;
constexpr float kOneColour = 0.01F;  // a difference that nobody sees

std::vector<WeaveLevel> levelsOf(const GrowInputs& inputs) {
  WeaveLevel finest{{}, inputs.width, inputs.height, inputs.layout, inputs.hole};
  for (const Swatch& s : inputs.swatches) finest.swatches.push_back({s.picture, s.map, {}});
  if (!inputs.hole.empty()) {
    finest.swatches.front().picture = smoothedOver(inputs.swatches.front().picture, inputs.hole);
    finest.swatches.front().closed = closedAround(inputs.hole);
  }
  return levelsFrom(std::move(finest), [](const WeaveLevel& level) {
    return level.edge() / 2 >= kCoarsestEdge &&
           (level.hole.empty() || depthOf(level.hole) / 2 >= kCoarsestDepth);
  });
}

// One level of a piece being woven.
struct Loom {
  const WeaveLevel& level;
  const Atlas& atlas;
  const std::vector<Spot>& alike;
  std::uint64_t seed;
  std::function<void(double)> progress;  // of this level's mending

  QuiltSizes sizes() const {
    if (!level.hole.empty()) {
      const int block = std::min(depthOf(level.hole) + 2 * kBeyondHole, level.edge() / kHoleBlocksAlong);
      return {{block, std::min(kBeyondHole, block / 3)}, level.edge()};
    }
    return {{level.edge() / kBlocksAlong + kOverlap, kOverlap}, level.edge()};
  }

  void mend(Woven& piece, int passes, std::size_t most) const {
    Mender mender(piece, atlas, alike, most);
    mender.touchAll();
    mender.mend(passes, progress);
  }

  void breakRepeats(Woven& piece) const {
    if (!piece.given.empty()) return;
    // One pixel less where finer levels still move the joins.
    const int side = level.edge() / kPiecesAlong - (level.edge() < kLargestSearched / 2 ? 1 : 0);
    // As small as will do: what is laid over something whole takes a little of the cloth's order from it.
    const int block = std::clamp(side - 1, kSmallPatch, 2 * kSmallPatch);
    Quilter quilter(piece, atlas, {{block, block / 3}, level.edge()}, seed);
    Mender mender(piece, atlas, alike);
    for (int round = 0; round < kRounds; ++round) {
      const std::vector<PieceSquare> again = repeatedSquares(piece, atlas, side, level.edge());
      if (again.empty()) return;
      for (const PieceSquare& square : again) {
        quilter.layOverWithin(square.x, square.y, side);
        mender.touch(square.x, square.y, side, side);
      }
      mender.mend(2, [&](double) { progress(1); });
    }
  }
};

// Where in all of the work a level begins and ends, from 0 to 1: each takes 0.4 of the time of the next finer
// one, and the coarsest, where blocks are laid, half of the finest's more (measured from 256 to 8192 pixels).
std::pair<double, double> shareOf(std::size_t level, std::size_t levels) {
  constexpr double kQuilting = 0.5;
  const auto from = [&](std::size_t finer) {
    double sum = finer < levels ? kQuilting : 0;
    for (std::size_t l = finer; l < levels; ++l) sum += std::pow(0.4, static_cast<double>(l));
    return sum;
  };
  return {from(level + 1) / from(0), from(level) / from(0)};
}

}  // namespace

void requireSwatch(const Image& picture) {
  if (std::min(picture.width, picture.height) < kLeastSwatch) {
    throw Error("a swatch needs at least " + std::to_string(kLeastSwatch) + " pixels a side, this one has " +
                std::to_string(picture.width) + "x" + std::to_string(picture.height));
  }
  for (std::size_t i = 1; i < picture.area(); ++i) {
    for (int c = 0; c < 3; ++c) {
      if (std::abs(picture.pixel(i)[c] - picture.pixel(0)[c]) > kOneColour) return;
    }
  }
  throw Error("the swatch has one colour all over: there is nothing to weave");
}

Grown grow(const GrowInputs& inputs, const std::function<void(double)>& progress) {
  for (const Swatch& swatch : inputs.swatches) requireSwatch(swatch.picture);
  const std::vector<WeaveLevel> levels = levelsOf(inputs);
  const float tone = inputs.hole.empty() ? kGrownTone : kFilledTone;
  std::size_t at = levels.size() - 1;
  Atlas atlas = atlasOf(levels[at].swatches, tone);
  std::vector<Spot> alike = firstAlike(levels[at], atlas, tone);
  Woven piece = unwoven(levels[at], atlas, inputs.repeats, inputs.layoutWeight);
  const auto progressOf = [&](std::size_t level) {
    const auto [from, to] = shareOf(level, levels.size());
    return [&progress, begin = from, end = to](double part) { progress(begin + part * (end - begin)); };
  };
  {
    const auto tell = progressOf(at);
    const auto mending = [&](double part) { tell(kQuiltShare + part * (1 - kQuiltShare)); };
    const Loom loom{levels[at], atlas, alike, inputs.seed, mending};
    Quilter quilter(piece, atlas, loom.sizes(), inputs.seed);
    quilter.lay([&](double part) { tell(kQuiltShare * part); });
    loom.mend(piece, kFirstPasses, kAlike);
    loom.breakRepeats(piece);
  }
  while (at-- > 0) {
    const Atlas coarser = std::move(atlas);
    const Woven coarse = std::move(piece);
    atlas = atlasOf(levels[at].swatches, tone);
    alike = alikeOf(atlas, coarser, alike);
    piece = unwoven(levels[at], atlas, inputs.repeats, inputs.layoutWeight);
    takeOver(piece, coarse, atlas, coarser);
    const Loom loom{levels[at], atlas, alike, inputs.seed, progressOf(at)};
    loom.mend(piece, at > 0 ? kPasses : kLastPasses, at > 0 ? kAlike : kLastAlike);
    if (levels[at].edge() <= kLargestSearched) loom.breakRepeats(piece);
  }
  atlas.features = {};
  atlas.map = {};
  return {std::move(piece), std::move(atlas)};
}

Image grownPicture(const GrowInputs& inputs, const std::function<void(double)>& progress) {
  const double grownShare = 0.85;  // the picture takes the rest, as does evening a hole
  const Grown grown = grow(inputs, [&](double part) { progress(grownShare * part); });
  std::vector<Image> pictures;
  for (const Swatch& s : inputs.swatches) pictures.push_back(s.picture);
  const auto rest = [&](double part) { progress(grownShare + (1 - grownShare) * part); };
  if (inputs.hole.empty()) return pictureOf(grown.piece, grown.atlas, pictures, rest);
  const Image picture = pictureOf(grown.piece, grown.atlas, pictures, [&](double part) { rest(part / 2); });
  return evened(picture, grown.piece, grown.atlas, pictures, [&](double part) { rest(0.5 + part / 2); });
}

}  // namespace jugendstil
