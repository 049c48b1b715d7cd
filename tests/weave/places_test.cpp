// SPDX-License-Identifier: Apache-2.0
#include "weave/places.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "weave/block.h"
#include "weave/cloth.h"

namespace jugendstil {
namespace {

using testing_support::cloth;

constexpr int kSide = 8;

Atlas atlasWithMap(int side) {
  const Image swatch = cloth(side, side);
  Image map = swatch;
  for (float& v : map.pixels) v = 4 * (v - 0.5F);
  return atlasOf({{swatch, map, {}}}, kGrownTone);
}

// What a block at this spot shows of the map.
BlockLook lookOf(const Atlas& atlas, Spot place) {
  BlockLook look;
  look.weights.fill(0.25F);
  for (int y = 0; y < kSide; ++y) {
    for (int x = 0; x < kSide; ++x) {
      auto& quarter = look.quarters[2 * (y / 4) + x / 4];
      for (std::size_t c = 0; c < kFeatures; ++c)
        quarter[c] += atlas.map[std::size_t{atlas.beside(place, x, y)} * kFeatures + c] / 16;
    }
  }
  return look;
}

float distance(const BlockLook& a, const BlockLook& b) {
  float sum = 0;
  for (std::size_t q = 0; q < 4; ++q) {
    for (std::size_t c = 0; c < kFeatures; ++c)
      sum += 0.25F * (a.quarters[q][c] - b.quarters[q][c]) * (a.quarters[q][c] - b.quarters[q][c]);
  }
  return sum;
}

TEST(PlaceIndex, HoldsEveryPlaceOnce) {
  const Atlas atlas = atlasWithMap(40);
  const PlaceIndex index(atlas, kSide);
  std::vector<Spot> places = index.places();
  std::sort(places.begin(), places.end());
  EXPECT_EQ(places, placesFor(atlas, kSide));
}

TEST(PlaceIndex, FindsTheNearest) {
  const Atlas atlas = atlasWithMap(40);  // few enough that all are looked at
  const PlaceIndex index(atlas, kSide);
  const BlockLook look = lookOf(atlas, atlas.spot(kWindow + 13, kWindow + 21));
  std::vector<std::pair<float, Spot>> all;
  for (const Spot place : index.places()) all.emplace_back(distance(look, lookOf(atlas, place)), place);
  std::sort(all.begin(), all.end());
  const std::vector<Spot> found = index.nearest(look, 0);
  ASSERT_EQ(found.size(), PlaceIndex::kFound);
  for (std::size_t i = 0; i < 10; ++i)
    EXPECT_TRUE(std::binary_search(found.begin(), found.end(), all[i].second)) << i;
}

TEST(PlaceIndex, OfManyAlikeTheDiceSaysWhich) {
  Image even(120, 120, 3, 0.5F);
  even.at(3, 3, 0) = 0.6F;
  const Atlas atlas = atlasOf({{even, Image(120, 120), {}}}, kGrownTone);
  const PlaceIndex index(atlas, kSide);
  BlockLook look;
  look.weights.fill(0.25F);
  EXPECT_EQ(index.nearest(look, 5), index.nearest(look, 5));
  EXPECT_NE(index.nearest(look, 5), index.nearest(look, 6));
}

}  // namespace
}  // namespace jugendstil
