// SPDX-License-Identifier: Apache-2.0
#include "grade/recipe.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::complaint;

GradeRecipe some() {
  GradeRecipe recipe;
  recipe.photos = {{{"/p/photos/a.jpg", "1", 1}, "a.jpg"}, {{"/p/photos/b.jpg", "2", 1}, "b.tif"}};
  recipe.references = {{"/p/dusk.jpg", "d", 2}, {"/p/noon.jpg", "n", 1}};
  recipe.parts = {{{"/p/sky.svg", "s", 1}, {"/p/rain.look.toml", "r", 1}}};
  recipe.mask = RecipeMask{{"/p/face.png", "f", 1}, false};
  setGradeSetting(recipe.settings, "match", "colour,tone");
  setGradeSetting(recipe.settings, "amount", "tone=50,color=120");
  setGradeSetting(recipe.settings, "together", "yes");
  setGradeSetting(recipe.settings, "depth", "16");
  recipe.result = GradeRecipeResult{"0.1.0", false, 1, 2.5, {{14.25, 3.5}}};
  return recipe;
}

TEST(GradeRecipe, ComesBackAsItWasWritten) {
  const std::string text = gradeRecipeText(some(), "/p/out");
  const GradeRecipe back = parseGradeRecipe(text, "/p/out/series.recipe.toml");
  EXPECT_EQ(gradeRecipeText(back, "/p/out"), text);
  EXPECT_EQ(back.photos[1].photo.path, "/p/photos/b.jpg");
  EXPECT_EQ(back.photos[1].result, "b.tif");
  EXPECT_FALSE(back.mask->inside);
  EXPECT_FALSE(back.settings.match.detail);
  EXPECT_EQ(back.settings.amounts.tone, 0.5);
  EXPECT_EQ(back.settings.amounts.colour, 1.2);
  EXPECT_EQ(back.settings.amounts.detail, 1);
  EXPECT_TRUE(back.settings.together);
  EXPECT_EQ((*back.result->distance)[1], 3.5);
}

TEST(GradeRecipe, EverySettingIsInItAndCanBeSetByItsOwnText) {
  const std::string text = gradeRecipeText({}, "/p");
  for (const SettingInfo& info : gradeSettingTable()) {
    EXPECT_NE(text.find("\n" + info.name + " = "), std::string::npos) << info.name;
    GradeSettings settings;
    setGradeSetting(settings, info.name, gradeSettingText(settings, info.name));
    EXPECT_EQ(gradeSettingText(settings, info.name), gradeSettingText({}, info.name));
  }
}

TEST(GradeRecipe, MistakesAreToldWithTheirPlace) {
  const auto told = [](const char* text) { return complaint([&] { parseGradeRecipe(text, "r.toml"); }); };
  EXPECT_EQ(told("command = \"paint\"\n"),
            "r.toml, line 1, column 11: this is a recipe of paint; use it with paint, or with redo");
  EXPECT_NE(told("command = \"grade\"\n[settings]\namont = 3\n").find("line 3"), std::string::npos);
  EXPECT_NE(told("command = \"grade\"\n[settings]\namont = 3\n").find("amount"), std::string::npos);
  EXPECT_NE(told("command = \"grade\"\n[settings]\namount = 300\n").find("0 to 200"), std::string::npos);
  EXPECT_NE(told("command = \"grade\"\n[[photo]]\nresult = \"a.png\"\n").find("needs file"),
            std::string::npos);
}

}  // namespace
}  // namespace jugendstil
