// SPDX-License-Identifier: Apache-2.0
#include "recipe/recipe_reader.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "recipe/recipe_file.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using namespace testing_support;

TEST(RecipeReader, TellsWhoseARecipeIs) {
  EXPECT_EQ(recipeCommand("recipe = 1\ncommand = \"film\"\n", "r.toml"), "film");
  EXPECT_EQ(recipeCommand("recipe = 1\n", "r.toml"), "paint");
  EXPECT_EQ(complaint([] { recipeCommand("recipe = \n", "r.toml"); }).find("r.toml, line 1, column "), 0U);
}

TEST(RecipeReader, RefusesWhatIsMissingOrFarTooLong) {
  const TemporaryFolder folder;
  EXPECT_THROW(readRecipe(folder / "none.toml"), Error);
  writeContent(folder / "r.toml", "recipe = 1\n");
  EXPECT_EQ(readRecipe(folder / "r.toml"), "recipe = 1\n");
  writeContent(folder / "long.toml", std::string((1 << 20) + 1, '#'));
  EXPECT_THROW(readRecipe(folder / "long.toml"), Error);
}

}  // namespace
}  // namespace jugendstil
