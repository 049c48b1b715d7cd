// SPDX-License-Identifier: Apache-2.0
// Looks in formats that other programs read: .cube, CLF (Academy/ASC Common LUT Format) and Hald pictures.
#pragma once

#include <filesystem>

#include "grade/look.h"

namespace jugendstil {

// Whether the name ends in .cube, .clf, or .png and .tif (a Hald picture).
bool isLutName(const std::filesystem::path& path);

// The look's colour map (local contrast is no map of colour and stays behind) as a table of size^3, written
// atomically: .cube and .clf through OpenColorIO; .png and .tif as a 16-bit Hald picture of level 8 (512x512,
// 64^3), or level 6 for sizes up to 36. Throws UsageError for another extension, Error where it cannot be
// written.
void writeLut(const std::filesystem::path& path, const Look& look, int size);

// A look that does what the file's map does: all of it stands in the residual. Throws Error for a missing,
// broken or foreign file.
Look readLut(const std::filesystem::path& path);

}  // namespace jugendstil
