// SPDX-License-Identifier: Apache-2.0
// What a quick painter learns from, found and read.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "learn/learner.h"
#include "learn/recipe.h"
#include "network/chain.h"

namespace jugendstil::cli {

// The words of --on: photos, folders of photos, or one clip. Puts them into the recipe; of many photos a
// choice spread over all. Throws UsageError and Error.
void takeLessons(const std::vector<std::string>& words, LearnRecipe& recipe, bool quiet);

// What is learned on where nothing is said: the photos of the demo, and the references themselves.
void takeUsualLessons(LearnRecipe& recipe);

// FRAME=PICTURE or PHOTO=PICTURE.
ShownInput parseShown(const std::string& word);

struct LearnFiles {
  Chain chain;
  LearnInputs inputs;
};

// Reads and checks all of a recipe's files and fills in their checksums.
LearnFiles readLearn(LearnRecipe& recipe, bool quiet);

}  // namespace jugendstil::cli
