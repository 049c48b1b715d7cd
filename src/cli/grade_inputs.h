// SPDX-License-Identifier: Apache-2.0
// What a grade's recipe names, read.
#pragma once

#include "grade/grade_file.h"
#include "grade/recipe.h"

namespace jugendstil::cli {

// Fills in checksums on the way, and says where a recipe run again is not given the files that it was made
// with. Throws Error.
GradeInputs readGradeInputs(GradeRecipe& recipe, bool quiet);

// One look for the whole set in place of the references, from the statistics of all photos that can be read.
// Throws Error where none can.
void matchTogether(const GradeRecipe& recipe, GradeInputs& inputs);

}  // namespace jugendstil::cli
