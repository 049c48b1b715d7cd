// SPDX-License-Identifier: Apache-2.0
// How long films take on this machine, by those that were made before.
#pragma once

#include "film/film_recipe.h"
#include "film/inputs.h"
#include "film/plan.h"

namespace jugendstil::cli {

struct FilmTime {
  double seconds = 0;
  bool known = false;  // by earlier work, not by a trial
};

// By the pace of earlier films of that kind and about that size; else, of painting, by that of paintings or a
// short trial of one; of grading, by a trial of a few of the frames. What a trial shows is remembered. Throws
// Error.
FilmTime foretoldTime(const FilmRecipe& recipe, const FilmInputs& inputs, const FilmPlan& plan);

// Remembers the pace of a film that was made in one go, in so many seconds.
void learnPace(const FilmRecipe& recipe, const FilmInputs& inputs, const FilmPlan& plan, double seconds);

}  // namespace jugendstil::cli
