// SPDX-License-Identifier: Apache-2.0
#include "dive/recipe.h"

#include <gtest/gtest.h>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::complaint;

TEST(DiveRecipes, ComeBackAsTheyWere) {
  DiveRecipe recipe;
  recipe.film = "inside.mkv";
  recipe.start = RecipeInput{"/pictures/gate.png", "abc", 1};
  recipe.references = {{"", {"/pictures/a.png", "1", 2}}, {"5s", {"/pictures/b.png", "2", 1}}};
  recipe.painters = {{"48", {"/pictures/c.painter.onnx", "3", 1}}};
  recipe.towards = {{"/pictures/d.png", "4", 1}};
  recipe.mask = RecipeMask{{"/pictures/sky.png", "6", 1}, false};
  recipe.sound = RecipeInput{"/pictures/song.flac", "5", 1};
  setDiveSetting(recipe.settings, "zoom", "1.01; 2s=1.5/s");
  setDiveSetting(recipe.settings, "by", "paint");
  recipe.result = DiveRecipeResult{"0.1.0", 640, 360, 96, 2, 61.5};
  const std::string text = diveRecipeText(recipe, "/pictures");
  const DiveRecipe again = parseDiveRecipe(text, "/pictures/inside.recipe.toml");
  EXPECT_EQ(diveRecipeText(again, "/pictures"), text);
  ASSERT_EQ(again.references.size(), 2U);
  EXPECT_EQ(again.references[1].at, "5s");
  EXPECT_EQ(again.references[0].file.share, 2);
  EXPECT_EQ(again.painters[0].at, "48");
  EXPECT_FALSE(again.mask->inside);
  EXPECT_EQ(again.start->path, "/pictures/gate.png");
  EXPECT_EQ(again.result->filled, 2);
  EXPECT_EQ(again.settings.zoom[1].value.value, 1.5);
}

TEST(DiveRecipes, SayWhereTheyAreWrong) {
  const auto wrong = [](const std::string& more) {
    return complaint([&] { parseDiveRecipe("recipe = 1\ncommand = \"dive\"\n" + more, "in.recipe.toml"); });
  };
  EXPECT_NE(wrong("noise = \"loud\"\n").find("line 3, column 9"), std::string::npos);
  EXPECT_NE(wrong("[[reference]]\nat = \"late\"\nfile = \"a.png\"\n").find("line 4"), std::string::npos);
  EXPECT_NE(wrong("[settings]\nzoom = 9\n").find("line 4, column 8: zoom is above 0"), std::string::npos);
  EXPECT_NE(wrong("[settings]\nzom = 1\n").find("zoom"), std::string::npos);
}

TEST(DiveRecipes, FilesOfOneMomentBelongTogether) {
  const auto keys = byMoment({{"", {"a", "", 1}}, {"5s", {"b", "", 1}}, {"", {"c", "", 3}}});
  ASSERT_EQ(keys.size(), 2U);
  EXPECT_EQ(keys[0].value.size(), 2U);
  EXPECT_EQ(keys[0].value[1].share, 3);
  EXPECT_EQ(keys[1].at, "5s");
}

}  // namespace
}  // namespace jugendstil
