// SPDX-License-Identifier: Apache-2.0
// Fingerprints of files for recipes.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

namespace jugendstil {

// SHA-1 as 40 hex digits. Tells whether a file is the one a recipe was made with; not a protection.
std::string checksum(std::string_view bytes);

// The same of a file's content. Throws Error where it is missing, DiskError where it cannot be read.
std::string fileChecksum(const std::filesystem::path& path);

// The same of a file's first and last four megabytes: enough to know a large clip again. Throws Error.
std::string fileEndsChecksum(const std::filesystem::path& path);

}  // namespace jugendstil
