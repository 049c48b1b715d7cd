// SPDX-License-Identifier: Apache-2.0
// What a painting's recipe names, read.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "paint/regions.h"
#include "recipe/recipe_input.h"

namespace jugendstil::cli {

// A reference with its share. Its checksum is filled in, as are all here. Where `trim` finds a frame by
// itself, that is said.
PaintReference readReference(RecipeInput& input, double trim, bool quiet);
void noteFrame(const RecipeInput& input, const Image& reference, double trim);

// Parts and mask for inputs.photo; references under one mask are one part.
using ReferenceReader = std::function<PaintReference(RecipeInput&)>;
void readParts(std::vector<RecipePart>& parts, std::optional<RecipeMask>& mask, const ReferenceReader& read,
               bool quiet, PaintInputs& inputs);

// The parts that are held, for inputs.photo; that it (by its name) has no faces where these are asked for is
// told unless `quiet`.
void readHolds(std::vector<RecipeHold>& holds, const std::string& photo, bool quiet, PaintInputs& inputs);

// Lines that were drawn, and the mask inside which lines lie, for inputs.photo.
void readLines(std::optional<RecipeInput>& drawn, std::optional<RecipeInput>& inside, bool quiet,
               PaintInputs& inputs);

// A painting as transparent as its photo.
Image withAlphaOf(const Image& photo, const Image& painting);

}  // namespace jugendstil::cli
