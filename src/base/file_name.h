// SPDX-License-Identifier: Apache-2.0
// What a file's name says of its format.
#pragma once

#include <filesystem>
#include <string>

namespace jugendstil {

// With its dot and in small letters; empty where there is none.
std::string extensionOf(const std::filesystem::path& path);

}  // namespace jugendstil
