// SPDX-License-Identifier: Apache-2.0
#include "film/film_recipe.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "recipe/recipe_file.h"
#include "support/support.h"

namespace jugendstil {
namespace {

std::string complaint(const std::string& text) {
  return testing_support::complaint([&] { parseFilmRecipe(text, "r.toml"); });
}

FilmRecipe full() {
  FilmRecipe recipe;
  recipe.film = "out.mkv";
  recipe.clip = RecipeInput{"/clips/pond.mp4", "c1", 1};
  recipe.references = {RecipeInput{"/refs/a.png", "r1", 3}, RecipeInput{"/refs/b.png", "r2", 1}};
  recipe.keys = {{48, {"/clips/fixed.png", "k1", 1}}};
  recipe.masks = {{0, {"/clips/m0.png", "m1", 1}}, {30, {"/clips/m30.svg", "m2", 1}}};
  recipe.maskInside = false;
  recipe.network = RecipeInput{"/n/filigree.onnx", "n1", 1};
  setPaintSetting(recipe.paint, "likeness", "70");
  setFilmSetting(recipe.settings, "from", "0:02.5");
  setFilmSetting(recipe.settings, "every", "2");
  recipe.result = FilmRecipeResult{"0.1.0", 640, 360, 48, 120.5, 1e-4, 2e-4};
  return recipe;
}

TEST(FilmRecipe, RoundTripKeepsEverything) {
  const FilmRecipe recipe = full();
  const std::string text = filmRecipeText(recipe, "/clips/results");
  EXPECT_EQ(recipeCommand(text, "r.toml"), "film");
  const FilmRecipe back = parseFilmRecipe(text, "/clips/results/out.recipe.toml");
  EXPECT_EQ(back.clip->path, "/clips/pond.mp4");
  ASSERT_EQ(back.masks.size(), 2U);
  EXPECT_EQ(back.masks[1].frame, 30);
  EXPECT_EQ(back.masks[1].file.path, "/clips/m30.svg");
  EXPECT_EQ(back.keys[0].file.checksum, "k1");
  EXPECT_FALSE(back.maskInside);
  EXPECT_EQ(back.references[0].share, 3);
  EXPECT_EQ(filmSettingText(back.settings, "from"), "0:02.5");
  EXPECT_EQ(back.paint.likeness, 70);
  EXPECT_EQ(back.result->frames, 48);
  EXPECT_EQ(filmRecipeText(back, "/clips/results"), text);
}

TEST(FilmRecipe, OfAGradeHoldsNoPainting) {
  FilmRecipe recipe;
  recipe.grade = true;
  recipe.look = RecipeInput{"/looks/dusk.look.toml", "l1", 1};
  const std::string text = filmRecipeText(recipe, "/looks");
  EXPECT_EQ(text.find("likeness"), std::string::npos);
  const FilmRecipe back = parseFilmRecipe(text, "/looks/x.recipe.toml");
  EXPECT_TRUE(back.grade);
  EXPECT_EQ(back.look->path, "/looks/dusk.look.toml");
}

TEST(FilmRecipe, ErrorsNameTheirPlace) {
  EXPECT_EQ(complaint("[settings]\nstedy = 20\n"),
            "r.toml, line 2, column 1: unknown setting \"stedy\"; did you mean \"steady\"?");
  EXPECT_NE(complaint("[painting]\nlikeness = 200\n").find("line 2"), std::string::npos);
  EXPECT_NE(complaint("command = \"paint\"\n").find("recipe of paint"), std::string::npos);
  EXPECT_NE(complaint("mask_side = \"left\"\n").find("inside"), std::string::npos);
  EXPECT_NE(complaint("[[key]]\nframe = -1\nfile = \"a\"\n").find("line 2"), std::string::npos);
  EXPECT_NE(complaint("[key]\nfile = \"a\"\n").find("[[key]]"), std::string::npos);
  EXPECT_NE(complaint("grade = 1\n").find("true or false"), std::string::npos);
}

TEST(FilmRecipe, StandsBesideTheFilm) {
  EXPECT_EQ(filmRecipePathFor("a/out.mkv"), "a/out.recipe.toml");
  EXPECT_EQ(filmRecipePathFor("a/shot_%05d.png"), "a/shot.recipe.toml");
  EXPECT_EQ(filmRecipePathFor("a/%05d.png"), "a/frames.recipe.toml");
}

}  // namespace
}  // namespace jugendstil
