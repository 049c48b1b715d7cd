// SPDX-License-Identifier: Apache-2.0
// The painting by itself, kept with its picture, so that its strength can be turned without painting anew.
#pragma once

#include <filesystem>
#include <optional>

#include "image/depth.h"
#include "image/image.h"
#include "image/picture_file.h"
#include "paint/painter.h"
#include "paint/recipe.h"

namespace jugendstil::cli {

// gate.jpg -> gate.painting.png, beside its recipe.
std::filesystem::path keptPaintingPath(const std::filesystem::path& output);

// Bits of a painting of a photo with so many. What is laid over it, now or later, is rounded to them first,
// so that both give the same bytes.
Depth paintingDepth(const PaintSettings& settings, Depth photo);

// Whether the picture's file is the painting itself: it is all that is seen, and the file loses nothing. A
// photo that is transparent makes its painting so.
bool isPaintingItself(const PaintRecipe& recipe, const std::filesystem::path& output, Depth photo,
                      bool transparent);

// RGB in its palette, or RGBA with the mask under which it lies.
Image paintingSheet(const PaintResult& result, Palette palette);

// Such a sheet, rounded as its file has it, laid over the photo; both of one size. RGB.
Image laidSheet(const Image& sheet, const Image& photo, const PaintSettings& settings);

// The sheet that a recipe names, where this painting would be the same and its file is as it was. Throws
// Error where an input is missing.
std::optional<Picture> knownPainting(const PaintRecipe& recipe);

}  // namespace jugendstil::cli
