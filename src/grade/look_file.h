// SPDX-License-Identifier: Apache-2.0
// Looks as text: our own TOML, with every number of a Look under a plain name.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "grade/look.h"

namespace jugendstil {

// With comments that say what each number does. Residual values are written in ten-thousandths.
std::string lookText(const Look& look);

// Throws UsageError with file, line and column: broken TOML, a missing, unknown, mistyped or out-of-range
// key.
Look parseLook(std::string_view text, const std::filesystem::path& file);

// Sets one number by its name in the file, "tone.exposure" or "colour.shadows" (two numbers with a comma
// between). Throws UsageError that names what can be set and in what range.
void setLookNumber(Look& look, std::string_view name, std::string_view value);

}  // namespace jugendstil
