// SPDX-License-Identifier: Apache-2.0
// The part of the network command that draws what bands see.
#pragma once

#include <filesystem>

#include "cli/options.h"

namespace jugendstil::cli {

po::options_description viewOptions();

// Whether one of them was given.
bool asksForView(const po::variables_map& given);

int drawNetwork(const po::variables_map& given, const std::filesystem::path& file);

}  // namespace jugendstil::cli
