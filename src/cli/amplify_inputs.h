// SPDX-License-Identifier: Apache-2.0
// What a photo is amplified from, read; and what it will take.
#pragma once

#include <filesystem>
#include <memory>

#include "amplify/amplify.h"
#include "amplify/recipe.h"
#include "image/picture_file.h"

namespace jugendstil::cli {

struct AmplifyFiles {
  AmplifyInputs inputs;
  Chain chain;
  Depth depth = Depth::eight;
  std::shared_ptr<const Metadata> metadata;

  Size photo() const { return {inputs.photo.width, inputs.photo.height}; }
};

// Reads and checks all of a recipe's files and fills in their checksums. Throws Error and UsageError that
// name the file.
AmplifyFiles readAmplify(AmplifyRecipe& recipe, bool quiet);

// Throws UsageError where the result would replace one of them.
void requireOtherThanInputs(const std::filesystem::path& output, const AmplifyRecipe& recipe);

// Seconds that so many pixel steps take, by earlier work with these settings on this machine.
double amplifySecondsFor(double work, const AmplifyRecipe& recipe);
// Notes what they took.
void learnAmplifyRate(double work, double seconds, const AmplifyRecipe& recipe);

}  // namespace jugendstil::cli
