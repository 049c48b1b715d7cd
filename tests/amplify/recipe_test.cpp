// SPDX-License-Identifier: Apache-2.0
#include "amplify/recipe.h"

#include <gtest/gtest.h>

#include "base/error.h"

namespace jugendstil {
namespace {

TEST(AmplifySettings, EachIsReadAsItIsWritten) {
  AmplifySettings settings;
  const std::vector<std::pair<std::string, std::string>> values{
      {"band", "small=2,large"}, {"pattern", "12.5%"}, {"strength", "70"},   {"channels", "3,17"},
      {"palette", "photo"},      {"likeness", "30"},   {"stroke", "2"},      {"trim", "0.05"},
      {"opacity", "0.5"},        {"blend", "screen"},  {"finish", "yes"},    {"memory", "900M"},
      {"proof", "yes"},          {"long-edge", "300"}, {"depth", "16"},      {"quality", "80"},
      {"snapshots", "5"},        {"threads", "3"},     {"precision", "full"}};
  ASSERT_EQ(values.size(), amplifySettingTable().size());
  for (const auto& [name, value] : values) {
    EXPECT_NE(amplifySettingText(settings, name), value);
    setAmplifySetting(settings, name, value);
    EXPECT_EQ(amplifySettingText(settings, name), value);
  }
  setAmplifySetting(settings, "channels", "woken=8");
  EXPECT_EQ(settings.channels.woken, 8);
  EXPECT_TRUE(settings.channels.numbers.empty());
  EXPECT_EQ(amplifySettingText(settings, "channels"), "woken=8");
  setAmplifySetting(settings, "pattern", "40");
  EXPECT_FALSE(settings.pattern.part);
}

TEST(AmplifySettings, BadOnesAreRefused) {
  AmplifySettings settings;
  for (const auto& [name, value] : std::vector<std::pair<std::string, std::string>>{{"band", ""},
                                                                                    {"band", "small,small"},
                                                                                    {"band", "small=0"},
                                                                                    {"band", "=1"},
                                                                                    {"pattern", "0"},
                                                                                    {"pattern", "101%"},
                                                                                    {"pattern", "%"},
                                                                                    {"strength", "101"},
                                                                                    {"strength", "-1"},
                                                                                    {"channels", "woken=0"},
                                                                                    {"channels", "1,-2"},
                                                                                    {"channels", "some"},
                                                                                    {"palette", "reference"},
                                                                                    {"likeness", "x"},
                                                                                    {"seed", "1"},
                                                                                    {"strenght", "1"}})
    EXPECT_THROW(setAmplifySetting(settings, name, value), UsageError) << name << " " << value;
}

TEST(AmplifyRecipe, IsReadAsItIsWritten) {
  AmplifyRecipe recipe;
  recipe.photo = RecipeInput{"/a/gate.jpg", "45"};
  recipe.towards = {{"/a/poster.jpg", "AB", 2}, {"/a/oil.jpg", "CD", 1}};
  recipe.mask = RecipeMask{{"/a/sky.svg", "EF"}, false};
  recipe.network = RecipeInput{"/a/own.onnx", "67"};
  setAmplifySetting(recipe.settings, "strength", "80");
  recipe.picture = "out.png";
  recipe.result = PieceResult{"0.1.0", 320, 200, 1.5};
  const std::string text = amplifyRecipeText(recipe, "/a/results");
  const AmplifyRecipe read = parseAmplifyRecipe(text, "/a/results/out.recipe.toml");
  EXPECT_EQ(amplifyRecipeText(read, "/a/results"), text);
  ASSERT_EQ(read.towards.size(), 2U);
  EXPECT_EQ(read.towards[0].share, 2);
  EXPECT_FALSE(read.mask->inside);
  EXPECT_EQ(read.settings.strength, 80);
  EXPECT_EQ(read.result->width, 320);
}

TEST(AmplifyRecipe, SlipsAreToldByPlace) {
  const auto expect = [](const std::string& text, const std::string& part) {
    try {
      parseAmplifyRecipe(text, "a.toml");
      ADD_FAILURE() << text;
    } catch (const UsageError& e) {
      EXPECT_NE(std::string(e.what()).find(part), std::string::npos) << e.what();
    }
  };
  expect("[settings]\nstrenght = 3\n", "line 2");
  expect("[settings]\nstrenght = 3\n", "strength");
  expect("command = 'weave'\n", "this is a recipe of weave");
  expect("[[towards]]\nshare = 2\n", "towards");
}

}  // namespace
}  // namespace jugendstil
