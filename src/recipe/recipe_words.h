// SPDX-License-Identifier: Apache-2.0
// The inputs of a recipe as one says them.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "recipe/recipe_input.h"

namespace jugendstil {

// "evening.jpg @3 and lino.jpg @1, mosaic.jpg under sky.png"; empty where there are none.
std::string referenceWords(const std::vector<RecipeInput>& references,
                           const std::vector<RecipePart>& parts = {});

// "holding face.png 85 and faces 90"; empty where there are none.
std::string holdWords(const std::vector<RecipeHold>& holds);

// "inside sky.png"; empty where there is none.
std::string maskWords(const std::optional<RecipeMask>& mask);

}  // namespace jugendstil
