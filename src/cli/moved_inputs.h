// SPDX-License-Identifier: Apache-2.0
// Files of a recipe that lie elsewhere by now.
#pragma once

#include <filesystem>

#include "amplify/recipe.h"
#include "dive/recipe.h"
#include "film/film_recipe.h"
#include "grade/recipe.h"
#include "learn/recipe.h"
#include "paint/recipe.h"
#include "weave/recipe.h"

namespace jugendstil::cli {

// Looks for each input of a recipe that is no longer at its place: beside the recipe and in the working
// folder, by its checksum (also in folders there) and then by its name. What is found instead is told unless
// `quiet`. Inputs without a checksum were just named and are left alone. Throws Error that says where was
// looked and which option points to it.
void findMovedInputs(PaintRecipe& recipe, const std::filesystem::path& file, bool quiet);
void findMovedInputs(GradeRecipe& recipe, const std::filesystem::path& file, bool quiet);
void findMovedInputs(FilmRecipe& recipe, const std::filesystem::path& file, bool quiet);
void findMovedInputs(WeaveRecipe& recipe, const std::filesystem::path& file, bool quiet);
void findMovedInputs(AmplifyRecipe& recipe, const std::filesystem::path& file, bool quiet);
void findMovedInputs(DiveRecipe& recipe, const std::filesystem::path& file, bool quiet);
void findMovedInputs(LearnRecipe& recipe, const std::filesystem::path& file, bool quiet);

}  // namespace jugendstil::cli
