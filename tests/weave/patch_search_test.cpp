// SPDX-License-Identifier: Apache-2.0
#include "weave/patch_search.h"

#include <gtest/gtest.h>

#include "image/resample.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

const auto kGoOn = [] {};

PatchGuide guideOf(const Image& image) { return PatchGuide(opponentOf(image)); }

TEST(PatchSearch, FindsWhereAPictureWasCutFrom) {
  const Image source = sample(90, 70, 3);
  const Image target = crop(source, 20, 12, 50, 40);
  const auto found = searchPatches(guideOf(target), {guideOf(source)}, 1, kGoOn);
  ASSERT_EQ(found.size(), 25U * 20U);
  int right = 0;
  for (int j = 4; j < 16; ++j) {
    for (int i = 4; i < 21; ++i) {
      const PatchMatch& match = found[static_cast<std::size_t>(j * 25 + i)];
      right += match.x == 20 + 2 * i && match.y == 12 + 2 * j ? 1 : 0;
    }
  }
  EXPECT_GT(right, 0.9 * 12 * 17);
}

// Under grain many places fit about as well: those are taken that join.
TEST(PatchSearch, PlacesGoOnWhereTheirNeighboursEnd) {
  const Image source = sample(90, 70, 3);
  Image target = crop(source, 20, 12, 50, 40);
  const Image grain = sample(50, 40, 9);
  for (std::size_t i = 0; i < target.pixels.size(); ++i)
    target.pixels[i] = 0.4F * target.pixels[i] + 0.6F * grain.pixels[i];
  const auto found = searchPatches(guideOf(target), {guideOf(source)}, 1, kGoOn);
  int joined = 0;
  for (std::size_t n = 0; n + 1 < found.size(); ++n)
    joined += found[n].x + kNodeStride == found[n + 1].x && found[n].y == found[n + 1].y ? 1 : 0;
  // By fit alone a fifth of them.
  EXPECT_GT(joined, 0.4 * static_cast<double>(found.size()));
}

// Twice the same picture side by side: both places fit as well.
TEST(PatchSearch, AHintIsKeptWhereNoOtherPlaceIsMuchBetter) {
  const Image tile = sample(60, 50, 4);
  Image source(120, 50, 3);
  for (int y = 0; y < 50; ++y) {
    for (int x = 0; x < 120; ++x) {
      for (int c = 0; c < 3; ++c) source.at(x, y, c) = tile.at(x % 60, y, c);
    }
  }
  Image target = crop(tile, 10, 8, 40, 34);
  const auto hintsWith = [](float kept, int dx) {
    std::vector<PatchHint> hints;
    for (int n = 0; n < 20 * 17; ++n) hints.push_back({70 + 2 * (n % 20) + dx, 8 + 2 * (n / 20), 0, kept});
    return hints;
  };
  const auto partAt = [&](int dx, const std::vector<PatchHint>& hints) {
    const auto found = searchPatches(guideOf(target), {guideOf(source)}, 1, kGoOn, hints);
    double there = 0;
    for (std::size_t n = 0; n < found.size(); ++n)
      there += found[n].x == hints[n].x + dx && found[n].y == hints[n].y ? 1 : 0;
    return there / static_cast<double>(found.size());
  };
  // Of patches at the target's edge repeated pixels are compared, so the hint is not quite exact there.
  EXPECT_GT(partAt(0, hintsWith(1, 0)), 0.95);
  // A place that shows something else is left for the right one, as far as that is found; where it fits not
  // badly it is kept, and what does not fit at all never is.
  EXPECT_GT(partAt(0, hintsWith(1, 1)), 0.5);
  for (Image* image : {&source, &target}) {
    for (float& value : image->pixels) value *= 6;
  }
  EXPECT_LT(partAt(0, hintsWith(1, 9)), 0.3);
}

TEST(PatchSearch, HintsOutsideOfTheSourceDoNoHarm) {
  const Image source = sample(30, 30, 5);
  const Image target = sample(20, 20, 6);
  const std::vector<PatchHint> hints(100, {-500, 4000, 0, 1});
  for (const PatchMatch& match : searchPatches(guideOf(target), {guideOf(source)}, 1, kGoOn, hints)) {
    EXPECT_GE(match.x, 0);
    EXPECT_LT(match.y, 30);
  }
}

}  // namespace
}  // namespace jugendstil
