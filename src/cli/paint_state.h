// SPDX-License-Identifier: Apache-2.0
// The state of a painting on its way, beside its picture: whose it is, and whether it can be gone on from.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <string_view>

#include "paint/recipe.h"

namespace jugendstil::cli {

// out.png -> out.png.unfinished
std::filesystem::path stateFileFor(const std::filesystem::path& output);

// Of the settings, those that only say what becomes of a finished painting.
bool isOfLaying(std::string_view setting);

// All that the painting depends on, as text: what only says what becomes of a finished one may change. Throws
// Error where an input is missing.
std::string makingOf(const PaintRecipe& recipe);
// The same by the check sums that the recipe holds, where its files were just read.
std::string makingAsRead(const PaintRecipe& recipe);

// Whether a painting with these inputs and settings was stopped, or the program killed, on its way to this
// output, and its state is there to go on from. Where a finished picture has that name it is not, unless it
// may be replaced. Throws Error where an input is missing.
bool goesOn(const PaintRecipe& recipe, const std::filesystem::path& output, bool mayReplace);

// Whether a recipe is that of a painting that was stopped. Throws Error where it cannot be read.
bool isUnfinished(const std::filesystem::path& recipe);

// Throws Error where a painting - or what else - with other inputs or settings was stopped on its way to this
// output, unless it may be replaced.
void requireNoOtherState(const std::filesystem::path& output, bool mayReplace, const char* what = "painting");

// The same of any work with a state and a recipe: `making` gives its text, `unfinished` tells whether a
// recipe is that of a result that was stopped.
bool goesOn(const std::filesystem::path& output, bool mayReplace, const std::function<std::string()>& making,
            const std::function<bool(const std::filesystem::path& recipe)>& unfinished);

}  // namespace jugendstil::cli
