// SPDX-License-Identifier: Apache-2.0
#include "learn/recipe.h"

#include <gtest/gtest.h>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::complaint;

LearnRecipe full() {
  LearnRecipe r;
  r.painter = "oil.painter.onnx";
  r.references = {{"/w/oil.jpg", "a1", 2}, {"/w/wash.jpg", "a2", 1}};
  r.photos = {{"/w/one.jpg", "b1"}, {"/w/two.jpg", "b2"}};
  r.shown = {{0, RecipeInput{"/w/one.jpg", "b1"}, {"/w/one_painted.png", "c1"}},
             {48, std::nullopt, {"/w/f48.png", "c2"}}};
  setLearnSetting(r.settings, "likeness", "70");
  setLearnSetting(r.settings, "long-edge", "640");
  r.result = LearnRecipeResult{"0.1", false, 120, 30.5, 0.25, 0.0625};
  return r;
}

TEST(LearnRecipe, ComesBackAsItWas) {
  const LearnRecipe back = parseLearnRecipe(learnRecipeText(full(), "/w"), "/w/oil.painter.recipe.toml");
  EXPECT_EQ(back.painter, "oil.painter.onnx");
  ASSERT_EQ(back.references.size(), 2U);
  EXPECT_EQ(back.references[0].share, 2);
  ASSERT_EQ(back.photos.size(), 2U);
  EXPECT_EQ(back.photos[1].path, "/w/two.jpg");
  ASSERT_EQ(back.shown.size(), 2U);
  EXPECT_EQ(back.shown[0].photo.value().path, "/w/one.jpg");
  EXPECT_EQ(back.shown[0].photo.value().checksum, "b1");
  EXPECT_EQ(back.shown[1].frame, 48);
  EXPECT_EQ(back.shown[1].painting.path, "/w/f48.png");
  EXPECT_EQ(back.settings.painting.likeness, 70);
  EXPECT_EQ(back.settings.longEdge, 640);
  EXPECT_FALSE(back.result.value().finished);
  EXPECT_EQ(back.result.value().steps, 120);
  EXPECT_EQ(back.result.value().style, 0.25);
  EXPECT_EQ(learnRecipeText(back, "/w"), learnRecipeText(full(), "/w"));
  LearnRecipe film = full();
  film.photos.clear();
  film.clip = RecipeInput{"/w/pond.mp4", "d1"};
  EXPECT_EQ(parseLearnRecipe(learnRecipeText(film, "/w"), "/w/r.toml").clip.value().path, "/w/pond.mp4");
}

TEST(LearnRecipe, SaysWhereAndWhatIsWrong) {
  const auto complaintOf = [](const std::string& text) {
    return complaint([&] { parseLearnRecipe("recipe = 1\ncommand = 'learn'\n" + text, "r.toml"); });
  };
  EXPECT_NE(complaintOf("fotos = 1").find("r.toml, line 3"), std::string::npos);
  EXPECT_NE(complaintOf("[settings]\nlikness = 3").find("likeness"), std::string::npos);
  EXPECT_NE(complaintOf("[settings]\nsteps = 0").find("steps"), std::string::npos);
}

TEST(LearnSettings, AreThoseOfPaintingsThatCanBeLearned) {
  LearnSettings s;
  setLearnSetting(s, "measure", "sliced");
  EXPECT_EQ(s.painting.measure, MeasureKind::sliced);
  EXPECT_NE(complaint([&] { setLearnSetting(s, "palette", "photo-hue"); }).find("laid on afterwards"),
            std::string::npos);
  EXPECT_NE(complaint([&] { setLearnSetting(s, "opacity", "0.5"); }).find("opacity"), std::string::npos);
  EXPECT_NE(complaint([&] { setLearnSetting(s, "long-edge", "64"); }).find("128"), std::string::npos);
  EXPECT_TRUE(isLearned("stroke"));
  EXPECT_FALSE(isLearned("opacity"));
}

}  // namespace
}  // namespace jugendstil
