// SPDX-License-Identifier: Apache-2.0
#include "recipe/recipe_writer.h"

#include <gtest/gtest.h>

#include "support/support.h"

namespace jugendstil {
namespace {

TEST(RecipeWriter, ARecipeLiesBesideItsResult) {
  EXPECT_EQ(recipePathFor("/a/pond.png"), "/a/pond.recipe.toml");
  EXPECT_EQ(recipePathFor("/a.b/pond"), "/a.b/pond.recipe.toml");
  EXPECT_EQ(recipeHead("paint"), "recipe = 1\ncommand = 'paint'\n");
}

TEST(RecipeWriter, ResultsOfOneNameHaveRecipesOfTheirOwn) {
  const testing_support::TemporaryFolder folder;
  testing_support::writeContent(folder / "pond.recipe.toml", "picture = \"pond.png\"\n");
  EXPECT_EQ(recipePathFor(folder / "pond.png"), folder / "pond.recipe.toml");
  EXPECT_EQ(recipePathFor(folder / "pond.jpg"), folder / "pond.jpg.recipe.toml");
  testing_support::writeContent(folder / "pond.recipe.toml",
                                "[[photo]]\nfile = \"a.jpg\"\nresult = \"pond.jpg\"\n");
  EXPECT_EQ(recipePathFor(folder / "pond.jpg"), folder / "pond.recipe.toml");
  testing_support::writeContent(folder / "pond.recipe.toml", "not TOML");
  EXPECT_EQ(recipePathFor(folder / "pond.jpg"), folder / "pond.jpg.recipe.toml");
}

TEST(RecipeWriter, NearPathsAreRelativeAndFarOnesAbsolute) {
  EXPECT_EQ(portablePath("/home/ute/results/a.png", "/home/ute/results"), "a.png");
  EXPECT_EQ(portablePath("/home/ute/photos/a.jpg", "/home/ute/results"), "../photos/a.jpg");
  EXPECT_EQ(portablePath("/home/ute/./results/../photos/a.jpg", "/home/ute/results"), "../photos/a.jpg");
  EXPECT_EQ(portablePath("/a.jpg", "/home/ute/results"), "/a.jpg");
}

TEST(RecipeWriter, LinesAreTomlWhateverTheNames) {
  EXPECT_EQ(inputLines({"/here/a \"b\"\\c.png", "12", 1}, "/here"),
            "file = 'a \"b\"\\c.png'\nchecksum = '12'\n");
  EXPECT_EQ(inputLines({"/here/Ute's.png", "12", 1}, "/here"), "file = \"Ute's.png\"\nchecksum = '12'\n");
  EXPECT_EQ(settingLine({"likeness", "0-100", "", true}, "50"), "likeness = 50\n");
  EXPECT_EQ(settingLine({"palette", "WORD", "", false}, "photo"), "palette = 'photo'\n");
}

}  // namespace
}  // namespace jugendstil
