// SPDX-License-Identifier: Apache-2.0
// A path: how a dive moves and changes, in a small TOML file.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "dive/settings.h"

namespace jugendstil {

// Takes the settings of a path, which are as those of the table that change over time:
//
//     ease = "smooth"
//     [[key]]
//     at = 0              # a frame, or a time like "2.5s"
//     zoom = 1.0
//     [[key]]
//     at = "2s"
//     zoom = 1.03
//     centre = "60%,40%"
//
// A key says only what changes there. Returns the names of what it sets. Throws UsageError with file, line
// and column: unknown keys, values out of range, keys out of order.
std::vector<std::string> takePath(DiveSettings& settings, std::string_view text,
                                  const std::filesystem::path& file);

}  // namespace jugendstil
