// SPDX-License-Identifier: Apache-2.0
#include "paint/recipe.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "recipe/recipe_writer.h"
#include "support/support.h"

namespace jugendstil {
namespace {

std::string complaint(const std::string& text) {
  return testing_support::complaint([&] { parsePaintRecipe(text, "r.toml"); });
}

TEST(Recipe, RoundTripKeepsEverything) {
  PaintRecipe recipe;
  recipe.picture = "out \"1\".png";
  recipe.photo = RecipeInput{"/pictures/pond.jpg", "abc", 1};
  recipe.references = {RecipeInput{"/pictures/a.png", "d1", 3},
                       RecipeInput{"/elsewhere/b\\c.png", "d2", 0.5}};
  recipe.start = RecipeInput{"/pictures/start.png", "d3", 1};
  recipe.parts = {{RecipeInput{"/pictures/sky.png", "m1", 1}, RecipeInput{"/pictures/c.png", "d5", 2}}};
  recipe.mask = RecipeMask{{"/pictures/all but me.svg", "m2", 1}, false};
  recipe.network = RecipeInput{"/n/filigree.onnx", "d4", 1};
  setPaintSetting(recipe.settings, "likeness", "31.25");
  setPaintSetting(recipe.settings, "emphasis", "fine=2,broad=0");
  setPaintSetting(recipe.settings, "steps", "3,4,5");
  recipe.result = RecipeResult{"0.1.0", false, 640, 480, 12.5, {0.1, 0.2, 0.3, 0.4, 0.5}};
  const PaintRecipe back =
      parsePaintRecipe(paintRecipeText(recipe, "/pictures/results"), "/pictures/results/out.recipe.toml");
  EXPECT_EQ(back.picture, recipe.picture);
  EXPECT_EQ(back.photo->path, recipe.photo->path);
  ASSERT_EQ(back.references.size(), 2U);
  EXPECT_EQ(back.references[1].path, recipe.references[1].path);
  EXPECT_EQ(back.references[1].share, 0.5);
  EXPECT_EQ(back.start->checksum, "d3");
  ASSERT_EQ(back.parts.size(), 1U);
  EXPECT_EQ(back.parts[0].mask.path, "/pictures/sky.png");
  EXPECT_EQ(back.parts[0].reference.share, 2);
  EXPECT_EQ(back.mask->file.path, recipe.mask->file.path);
  EXPECT_FALSE(back.mask->inside);
  EXPECT_EQ(back.network->path, recipe.network->path);
  for (const SettingInfo& info : paintSettingTable()) {
    EXPECT_EQ(paintSettingText(back.settings, info.name), paintSettingText(recipe.settings, info.name))
        << info.name;
  }
  EXPECT_EQ(back.given.size(), paintSettingTable().size());
  EXPECT_FALSE(back.result->finished);
  EXPECT_NEAR(back.result->loss.smoothness, 0.4, 1e-9);
  EXPECT_EQ(paintRecipeText(back, "/pictures/results"), paintRecipeText(recipe, "/pictures/results"));
}

TEST(Recipe, PathsMoveWithTheFolder) {
  PaintRecipe recipe;
  recipe.photo = RecipeInput{"/here/photos/pond.jpg", "", 1};
  const std::string text = paintRecipeText(recipe, "/here/results");
  EXPECT_EQ(parsePaintRecipe(text, "/there/results/x.toml").photo->path, "/there/photos/pond.jpg");
}

TEST(Recipe, APresetMayHoldOneSettingOnly) {
  const PaintRecipe recipe = parsePaintRecipe("[settings]\nlikeness = 20\n", "p.toml");
  EXPECT_EQ(recipe.settings.likeness, 20);
  EXPECT_EQ(recipe.given, std::vector<std::string>{"likeness"});
  EXPECT_FALSE(recipe.photo.has_value());
}

TEST(Recipe, ErrorsNameLineColumnAndTheNearestKey) {
  EXPECT_EQ(complaint("[settings]\nlikness = 20\n"),
            "r.toml, line 2, column 1: unknown setting \"likness\"; did you mean \"likeness\"?");
  EXPECT_EQ(complaint("[settings]\nlikeness = 200\n"),
            "r.toml, line 2, column 12: likeness is a number from 0 to 100, not \"200\"");
  EXPECT_EQ(complaint("[settings]\nlikeness = \"20\"\n"),
            "r.toml, line 2, column 12: likeness is a number, without quotes");
  EXPECT_NE(complaint("[setings]\nlikeness = 20\n").find("did you mean \"settings\"?"), std::string::npos);
  EXPECT_NE(complaint("settings = 3\n").find("is a table"), std::string::npos);
  EXPECT_NE(complaint("[settings]\nlikeness = \n").find("line 2"), std::string::npos);
  EXPECT_NE(complaint("[settings]\npalette = true\n").find("palette"), std::string::npos);
  EXPECT_NE(complaint("recipe = 2\n").find("format 1"), std::string::npos);
  EXPECT_NE(complaint("command = \"grade\"\n").find("a recipe of grade; use it with grade"),
            std::string::npos);
  EXPECT_NE(complaint("[photo]\nchecksum = \"x\"\n").find("needs file"), std::string::npos);
  EXPECT_NE(complaint("[[reference]]\nfile = \"a\"\nshare = 0\n").find("line 3"), std::string::npos);
  EXPECT_NE(complaint("[reference]\nfile = \"a\"\n").find("[[reference]]"), std::string::npos);
  EXPECT_NE(complaint("[[part]]\nfile = \"a\"\n").find("needs mask"), std::string::npos);
  EXPECT_NE(complaint("[part]\nmask = \"a\"\n").find("[[part]]"), std::string::npos);
  EXPECT_NE(complaint("[mask]\nfile = \"a\"\nside = \"left\"\n").find("line 3"), std::string::npos);
  EXPECT_NE(complaint("[result]\nfinished = 1\n").find("true or false"), std::string::npos);
}

TEST(Recipe, StandsBesideThePicture) { EXPECT_EQ(recipePathFor("a/out.png"), "a/out.recipe.toml"); }

}  // namespace
}  // namespace jugendstil
