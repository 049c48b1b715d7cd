// SPDX-License-Identifier: Apache-2.0
#include "history/history.h"

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
  ASSERT_EQ(history.works.size(), 1U);
  EXPECT_EQ(history.works[0].results, std::vector{folder / "p.png"});
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
  ASSERT_EQ(history.works.size(), 3U);
  EXPECT_EQ(history.works[0].recipe.filename(), "b.recipe.toml");
  EXPECT_EQ(history.works[2].recipe.filename(), "c.recipe.toml");
}

PastWork workOf(const std::string& text) { return pastWork(text, "/results/p.recipe.toml").value(); }
PastWork workOf(const PaintRecipe& recipe) { return workOf(paintRecipeText(recipe, "/results")); }

TEST(PastWork, NamesWhatIsUnusual) {
  EXPECT_TRUE(unusualOf(workOf(painted("lino.png", 50)).settings).empty());
  EXPECT_EQ(unusualOf(workOf(painted("lino.png", 20)).settings), std::vector<std::string>{"likeness 20"});
}

TEST(PastWork, NamesWhatDiffers) {
  const PaintRecipe a = painted("lino.png", 20);
  EXPECT_TRUE(differences(workOf(a), workOf(a)).empty());
  PaintRecipe b = painted("oil.png", 80);
  b.mask = RecipeMask{{"/masks/sky.png", "m", 1}, true};
  b.photo->checksum = "p2";
  EXPECT_EQ(differences(workOf(a), workOf(b)),
            (std::vector<std::string>{"after: lino.png / oil.png", "mask: none / inside sky.png",
                                      "photo: pond.jpg, with another content", "likeness: 20 / 80"}));
}

TEST(PastWork, ReadsGradesOfASeriesWithPartsAndFilms) {
  GradeRecipe grade;
  grade.photos = {{{"/photos/a.jpg", "1", 1}, "a.jpg"}, {{"/photos/b.jpg", "2", 1}, "b.jpg"}};
  grade.references = {{"/references/dusk.jpg", "d", 1}};
  grade.parts = {{{"/masks/sky.png", "s", 1}, {"/looks/rain.look.toml", "l", 1}}};
  grade.settings.amounts.tone = 0.5;
  grade.result = GradeRecipeResult{"0.1.0", true, 2, 1.5, {}};
  const PastWork graded = workOf(gradeRecipeText(grade, "/results"));
  EXPECT_EQ(graded.command, "grade");
  EXPECT_EQ(graded.results.size(), 2U);
  EXPECT_EQ(graded.results[1], "/results/b.jpg");
  EXPECT_EQ(graded.after, "dusk.jpg, rain.look.toml under sky.png");
  EXPECT_EQ(unusualOf(graded.settings), std::vector<std::string>{"amount tone=50,colour=100,detail=100"});
  EXPECT_TRUE(hasSetting(graded, "amount", "tone=50"));
  EXPECT_FALSE(hasSetting(graded, "likeness", "50"));

  FilmRecipe film;
  film.film = "pond.mkv";
  film.clip = RecipeInput{"/clips/pond.mp4", "c", 1};
  film.references = {{"/references/dusk.jpg", "d", 1}};
  film.paint.likeness = 30;
  film.settings.steady = 80;
  film.result = FilmRecipeResult{"0.1.0", 64, 48, 12, 9, 1e-3, 2e-3};
  const PastWork filmed = workOf(filmRecipeText(film, "/results"));
  EXPECT_EQ(filmed.frames, 12);
  EXPECT_EQ(unusualOf(filmed.settings), (std::vector<std::string>{"likeness 30", "steady 80"}));
  EXPECT_TRUE(hasSetting(filmed, "steady", "80"));
  EXPECT_EQ(differences(graded, filmed)[0], "command: grade / film");
  EXPECT_THROW(requireSettingName("steddy"), UsageError);
}

}  // namespace
}  // namespace jugendstil
