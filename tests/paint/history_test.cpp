// SPDX-License-Identifier: Apache-2.0
#include "paint/history.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::TemporaryFolder;
using testing_support::writeContent;

PaintRecipe painted(const std::string& reference, double likeness) {
  PaintRecipe recipe;
  recipe.picture = "p.png";
  recipe.photo = RecipeInput{"/photos/pond.jpg", "p1", 1};
  recipe.references = {RecipeInput{"/references/" + reference, "r1", 1}};
  recipe.settings.likeness = likeness;
  recipe.result = RecipeResult{"0.1.0", true, 64, 48, 3.5, {}};
  return recipe;
}

TEST(History, FindsRecipesWithResultsAndTellsOfBrokenOnes) {
  const TemporaryFolder folder;
  writeContent(folder / "a.recipe.toml", paintRecipeText(painted("lino.png", 20), folder.path));
  writeContent(folder / "preset.recipe.toml", "[settings]\nlikeness = 20\n");
  writeContent(folder / "broken.recipe.toml", "[settings]\nlikness = 20\n");
  writeContent(folder / "other.toml", "not a recipe");
  const History history = historyOf(folder.path);
  ASSERT_EQ(history.paintings.size(), 1U);
  EXPECT_EQ(history.paintings[0].picture, folder / "p.png");
  ASSERT_EQ(history.unreadable.size(), 1U);
  EXPECT_NE(history.unreadable[0].find("likeness"), std::string::npos);
  EXPECT_THROW(historyOf(folder / "missing"), Error);
}

TEST(History, TheOldestComesFirst) {
  const TemporaryFolder folder;
  const auto now = std::filesystem::file_time_type::clock::now();
  for (const auto& [name, age] : {std::pair{"b", 3}, {"a", 2}, {"c", 1}}) {
    const auto file = folder / (std::string(name) + ".recipe.toml");
    writeContent(file, paintRecipeText(painted("lino.png", 20), folder.path));
    std::filesystem::last_write_time(file, now - std::chrono::hours(age));
  }
  const History history = historyOf(folder.path);
  ASSERT_EQ(history.paintings.size(), 3U);
  EXPECT_EQ(history.paintings[0].file.filename(), "b.recipe.toml");
  EXPECT_EQ(history.paintings[2].file.filename(), "c.recipe.toml");
}

TEST(History, NamesWhatIsUnusual) {
  EXPECT_TRUE(unusualSettings(painted("lino.png", 50)).empty());
  EXPECT_EQ(unusualSettings(painted("lino.png", 20)), std::vector<std::string>{"likeness 20"});
}

TEST(History, NamesWhatDiffers) {
  const PaintRecipe a = painted("lino.png", 20);
  EXPECT_TRUE(differences(a, a).empty());
  PaintRecipe b = painted("oil.png", 80);
  b.mask = RecipeInput{"/masks/sky.png", "m", 1};
  b.photo->checksum = "p2";
  const auto all = differences(a, b);
  EXPECT_EQ(all,
            (std::vector<std::string>{"photo: pond.jpg, with another content", "after: lino.png / oil.png",
                                      "mask: none / inside sky.png", "likeness: 20 / 80"}));
}

TEST(History, NamesReferencesWithSharesAndParts) {
  PaintRecipe recipe = painted("lino.png", 50);
  EXPECT_EQ(referenceNames(recipe), "lino.png");
  recipe.references.push_back({"/references/oil.png", "", 3});
  recipe.parts.push_back({{"/masks/sky.svg", "", 1}, {"/references/mosaic.png", "", 1}});
  EXPECT_EQ(referenceNames(recipe), "lino.png @1 and oil.png @3, mosaic.png under sky.svg");
}

}  // namespace
}  // namespace jugendstil
