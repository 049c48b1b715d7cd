// SPDX-License-Identifier: Apache-2.0
#include "weave/recipe.h"

#include <gtest/gtest.h>

#include "base/error.h"

namespace jugendstil {
namespace {

TEST(WeaveSettings, EachIsReadAsItIsWritten) {
  WeaveSettings settings;
  const std::vector<std::pair<std::string, std::string>> values{
      {"size", "640x480"},  {"repeats", "down"}, {"mix", "blended"},       {"seed", "7"},
      {"likeness", "30"},   {"stroke", "2"},     {"palette", "photo-hue"}, {"trim", "0.05"},
      {"long-edge", "300"}, {"opacity", "0.5"},  {"blend", "screen"},      {"depth", "16"},
      {"quality", "80"},    {"threads", "3"}};
  ASSERT_EQ(values.size(), weaveSettingTable().size());
  for (const auto& [name, value] : values) {
    EXPECT_NE(weaveSettingText(settings, name), value);
    setWeaveSetting(settings, name, value);
    EXPECT_EQ(weaveSettingText(settings, name), value);
  }
  EXPECT_FALSE(settings.repeats.across);
  EXPECT_TRUE(settings.repeats.down);
}

TEST(WeaveSettings, BadOnesAreRefused) {
  WeaveSettings settings;
  for (const auto& [name, value] : std::vector<std::pair<std::string, std::string>>{{"size", "640"},
                                                                                    {"size", "0x10"},
                                                                                    {"size", "10x70000"},
                                                                                    {"size", "axb"},
                                                                                    {"repeats", "sideways"},
                                                                                    {"mix", "both"},
                                                                                    {"seed", "-1"},
                                                                                    {"quality", "101"},
                                                                                    {"likeness", "101"},
                                                                                    {"palette", "mine"},
                                                                                    {"trim", "0.6"},
                                                                                    {"sise", "1x1"}})
    EXPECT_THROW(setWeaveSetting(settings, name, value), UsageError) << name << " " << value;
}

TEST(WeaveRecipe, IsReadAsItIsWritten) {
  WeaveRecipe recipe;
  recipe.swatches = {{"/a/moss.png", "AB", 2}, {"/a/gravel.png", "CD", 1}};
  recipe.over = RecipeInput{"/a/map.png", "EF"};
  recipe.layout = RecipeInput{"/a/drawing.png", "01"};
  recipe.layoutMap = RecipeInput{"/a/of.png", "23"};
  recipe.picture = RecipeInput{"/a/photo.jpg", "45"};
  recipe.hole = RecipeInput{"/a/mask.png", "67"};
  recipe.settings.repeats = {true, true};
  recipe.piece = "out.png";
  recipe.result = PieceResult{"0.1.0", 320, 200, 1.5};
  const std::string text = weaveRecipeText(recipe, "/a/results");
  const WeaveRecipe read = parseWeaveRecipe(text, "/a/results/out.recipe.toml");
  EXPECT_EQ(weaveRecipeText(read, "/a/results"), text);
  ASSERT_EQ(read.swatches.size(), 2U);
  EXPECT_EQ(read.swatches[0].share, 2);
  EXPECT_EQ(read.hole->path.lexically_normal(), "/a/mask.png");
  EXPECT_EQ(read.result->width, 320);
}

TEST(WeaveRecipe, HasTheSettingsOfItsKindOnly) {
  WeaveRecipe recipe;
  recipe.swatches = {{"/a/moss.png", "AB", 1}};
  recipe.settings.likeness = 30;
  EXPECT_EQ(weaveRecipeText(recipe, "/a").find("likeness"), std::string::npos);
  recipe.along = RecipeInput{"/a/photo.jpg", "45"};
  recipe.parts = {{{"/a/sky.png", "EF"}, {"/a/mosaic.jpg", "01", 2}}};
  recipe.mask = RecipeMask{{"/a/mask.png", "67"}, false};
  const std::string text = weaveRecipeText(recipe, "/a");
  EXPECT_EQ(text.find("repeats"), std::string::npos);
  const WeaveRecipe read = parseWeaveRecipe(text, "/a/out.recipe.toml");
  EXPECT_EQ(weaveRecipeText(read, "/a"), text);
  EXPECT_EQ(read.settings.likeness, 30);
  EXPECT_EQ(read.parts.at(0).reference.share, 2);
  EXPECT_FALSE(read.mask->inside);
}

TEST(WeaveRecipe, UnknownKeysAreRefusedWithTheirLine) {
  try {
    parseWeaveRecipe("recipe = 1\ncommand = 'weave'\n[settings]\nsead = 3\n", "x.toml");
    FAIL();
  } catch (const UsageError& e) {
    EXPECT_NE(std::string(e.what()).find("x.toml, line 4"), std::string::npos) << e.what();
    EXPECT_NE(std::string(e.what()).find("seed"), std::string::npos) << e.what();
  }
}

}  // namespace
}  // namespace jugendstil
