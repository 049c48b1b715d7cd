// SPDX-License-Identifier: Apache-2.0
#include "network/bands_at.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "network/layer_facts.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using Names = std::vector<std::string>;

TEST(BandsAt, LayersHaveNumbersAndFacts) {
  const auto layers = layerFacts(testing_support::filigree(), 256, 128);
  ASSERT_EQ(layers.size(), 12U);
  EXPECT_EQ(layers[6].number, "3_3");
  EXPECT_EQ(layers[6].stride, 4);
  EXPECT_EQ(layers[6].receptiveField, 40);
  EXPECT_EQ(layers[6].band, "medium");
  EXPECT_TRUE(layers[6].style);
  EXPECT_FALSE(layers[6].content);
  EXPECT_EQ(layers[6].weights, 128U * 128 * 9 + 128);
  EXPECT_EQ(layers[6].bytes, 64.0 * 32 * 128 * 4);
  EXPECT_EQ(layers[6].products, 64.0 * 32 * 128 * 128 * 9);
}

TEST(BandsAt, AnyLayerCanBeABandAndTheOwnOnesStay) {
  const Chain own = testing_support::filigree();
  const Chain chain = withBandsAt(own, {"3_2", "medium", "3_3"});
  EXPECT_EQ(chain.bands.size(), own.bands.size() + 1);
  EXPECT_EQ(chain.bands.back().name, "3_2");
  EXPECT_EQ(chain.bands.back().receptiveField, 32);
  EXPECT_EQ(chain.bands.back().channels, 128);
  EXPECT_EQ(bandAt(chain, "3_3"), "medium");
  EXPECT_EQ(chain.styleBands, own.styleBands);
}

TEST(BandsAt, StyleAndLikenessAreMeasuredThereAlone) {
  const Chain own = testing_support::filigree();
  const Chain chain = measuredAt(own, {"4_1", "fine", "1_2"}, {"3_3"});
  EXPECT_EQ(chain.styleBands, (Names{"fine", "4_1"})) << "once each, fine to large";
  EXPECT_EQ(chain.contentBands, Names{"medium"});
  EXPECT_EQ(chain.bands.size(), 3U);
  EXPECT_EQ(measuredAt(own, {}, {}).bands.size(), own.bands.size());
  EXPECT_EQ(measuredAt(own, {}, {"4_1"}).styleBands, own.styleBands);
}

TEST(BandsAt, ALayerThatIsNotThereIsMissed) {
  try {
    measuredAt(testing_support::filigree(), {"6_1"}, {});
    FAIL();
  } catch (const UsageError& e) {
    EXPECT_NE(std::string(e.what()).find("and the layers 1_1, 1_2, 2_1"), std::string::npos) << e.what();
  }
  EXPECT_THROW(bandAt(testing_support::filigree(), "1_1"), UsageError) << "a layer, but no band";
}

}  // namespace
}  // namespace jugendstil
