// SPDX-License-Identifier: Apache-2.0
#include "grade/look.h"

#include <gtest/gtest.h>

#include <cmath>

#include "grade/statistics.h"
#include "image/colour.h"

namespace jugendstil {
namespace {

using Rgb = std::array<float, 3>;

bool says(const Look& look, const std::string& words) {
  for (const std::string& remark : lookInWords(look)) {
    if (remark.find(words) != std::string::npos) return true;
  }
  return false;
}

Look some() {
  Look look;
  look.exposure = 0.4;
  look.curve = {{0.0F, 0.0F}, {0.5F, 0.6F}, {1.0F, 1.0F}};
  look.black = 0.04;
  look.white = 0.95;
  look.saturation = 0.8;
  look.cast = {{{0, -0.02}, {0.01, 0.01}, {0.02, 0.03}}};
  look.detail = {1.2, 1.1, 0.9};
  look.residual = tabulated(5, [](const Rgb& c) { return Rgb{0.02F * c[0], -0.01F, 0.03F * c[1]}; });
  return look;
}

TEST(Look, TheDefaultChangesNothing) {
  for (const Rgb& c : {Rgb{0, 0, 0}, Rgb{1, 1, 1}, Rgb{1, 0, 0}, Rgb{0.2F, 0.5F, 0.7F}, Rgb{0, 0.02F, 1}}) {
    const Rgb out = lookColour({}, c);
    for (std::size_t k = 0; k < 3; ++k) EXPECT_NEAR(out[k], c[k], 2e-3F);
  }
  EXPECT_EQ(lookInWords({}), std::vector<std::string>{"changes nothing"});
}

TEST(Look, EachNumberDoesWhatItSays) {
  const Rgb grey{0.3F, 0.3F, 0.3F};
  Look look;
  look.exposure = 1;
  EXPECT_NEAR(srgbToLinear(lookColour(look, grey)[1]), 2 * srgbToLinear(0.3F), 2e-3F);
  EXPECT_NEAR(lookColour(look, {1, 1, 1})[0], 1, 2e-3F);  // rolls off, does not clip
  EXPECT_LT(lookTone(look, 0.9F), 0.999F);
  EXPECT_GT(lookTone(look, 0.95F), lookTone(look, 0.9F));
  look.exposure = -1;
  EXPECT_NEAR(srgbToLinear(lookColour(look, {1, 1, 1})[1]), 0.5F, 3e-3F);
  look = {};
  look.black = 0.1;
  look.white = 0.9;
  EXPECT_NEAR(lookTone(look, 0), 0.1F, 1e-6F);
  EXPECT_NEAR(lookTone(look, 1), 0.9F, 1e-6F);
  look = {};
  look.curve = {{0.0F, 0.0F}, {0.3F, 0.45F}, {1.0F, 1.0F}};
  EXPECT_NEAR(lookColour(look, grey)[0], 0.45F, 2e-3F);
  look = {};
  look.saturation = 0;
  const Rgb out = lookColour(look, {0.7F, 0.4F, 0.2F});
  EXPECT_NEAR(out[0], out[1], 3e-3F);
  EXPECT_NEAR(out[1], out[2], 3e-3F);
  look = {};
  look.cast[1] = {0, 0.03};
  EXPECT_NEAR(oklabOfDisplay(lookColour(look, {0.5F, 0.5F, 0.5F})).b, 0.03F, 1e-3F);
  EXPECT_NEAR(oklabOfDisplay(lookColour(look, {0.02F, 0.02F, 0.02F})).b, 0, 2e-3F);
}

TEST(Look, ResultsAreAlwaysDisplayable) {
  Look look = some();
  look.saturation = 3;
  const ColourTable table = lookTable(look);
  for (const float v : table.rgb) {
    ASSERT_GE(v, 0);
    ASSERT_LE(v, 1);
  }
}

TEST(Look, CompressedColoursStayApart) {
  // Ever stronger reds of one lightness come out ever stronger, though all would leave sRGB.
  Look look;
  look.saturation = 2.5;
  float last = 0;
  for (float c = 0.08F; c <= 0.2F; c += 0.01F) {
    const float now = chroma(oklabOfDisplay(lookColour(look, displayOf({0.6F, c, 0.4F * c}))));
    EXPECT_GT(now, last) << c;
    last = now;
  }
}

TEST(Look, MixingIsTheWayBetween) {
  const Look a;
  const Look b = some();
  const Look all = mixedLook(a, b, 1);
  const Look none = mixedLook(a, b, 0);
  const Look half = mixedLook(a, b, 0.5);
  for (const Rgb& c : {Rgb{0.1F, 0.2F, 0.3F}, Rgb{0.8F, 0.5F, 0.4F}}) {
    const Rgb whole = lookColour(b, c);
    const Rgb got = lookColour(all, c);
    const Rgb same = lookColour(none, c);
    for (std::size_t k = 0; k < 3; ++k) {
      EXPECT_NEAR(got[k], whole[k], 2e-3F);
      EXPECT_NEAR(same[k], c[k], 2e-3F);
    }
  }
  EXPECT_NEAR(half.exposure, 0.2, 1e-9);
  EXPECT_NEAR(half.saturation, 0.9, 1e-9);
  EXPECT_NEAR(half.black, 0.02, 1e-9);
  EXPECT_NEAR(half.cast[0][1], -0.01, 1e-9);
  EXPECT_NEAR(half.detail[0], 1.1, 1e-9);
  EXPECT_NEAR(half.curve[1].second, 0.55F, 1e-5F);
  EXPECT_NEAR(interpolated(half.residual, {1, 0, 0})[0], 0.01F, 1e-5F);
}

TEST(Look, AmountsActByStage) {
  const Look whole = some();
  const Look tone = partOfLook(whole, {1, 0, 0});
  EXPECT_EQ(tone.exposure, whole.exposure);
  EXPECT_EQ(tone.saturation, 1);
  EXPECT_EQ(tone.detail[0], 1);
  for (const float v : tone.residual.rgb) EXPECT_EQ(v, 0);
  const Look colour = partOfLook(whole, {0, 1, 0});
  EXPECT_EQ(colour.exposure, 0);
  EXPECT_EQ(colour.white, 1);
  EXPECT_EQ(colour.saturation, whole.saturation);
  EXPECT_NEAR(partOfLook(whole, {1, 1, 2}).detail[0], 1.4, 1e-9);
}

// Words and numbers stand beside each other: what is shown is said, and both say the same.
TEST(Look, WordsAgreeWithTheNumbers) {
  Look look = some();
  look.black = 0.105;
  look.saturation = 1.055;
  look.detail[0] = 1.02;
  EXPECT_TRUE(says(look, "lifts the blacks by 10.5 %"));
  EXPECT_TRUE(says(look, "saturation +5.5 %"));
  EXPECT_TRUE(says(look, "fine local contrast +2 %"));
  look.exposure = 1;
  EXPECT_TRUE(says(look, "exposure +1.00 EV"));
  EXPECT_TRUE(says(look, " EV brighter")) << "the mid-tones, by all that is done to them";
  EXPECT_FALSE(says(look, "darker"));
}

TEST(Look, SaysWhatItDoes) {
  const Look look = some();
  EXPECT_TRUE(says(look, "exposure +0.40 EV"));
  EXPECT_TRUE(says(look, "lifts the blacks by 4 %"));
  EXPECT_TRUE(says(look, "holds the whites at 95 %"));
  EXPECT_TRUE(says(look, "saturation -20 %"));
  EXPECT_TRUE(says(look, "cools the shadows"));
  EXPECT_TRUE(says(look, "warms the lights"));
  EXPECT_TRUE(says(look, "fine local contrast +20 %"));
  EXPECT_TRUE(says(look, "broad local contrast -10 %"));
}

}  // namespace
}  // namespace jugendstil
