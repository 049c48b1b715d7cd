// SPDX-License-Identifier: Apache-2.0
// The part of the network command that makes a feature network out of one from elsewhere.
#pragma once

#include <filesystem>

#include "cli/options.h"

namespace jugendstil::cli {

po::options_description importOptions();

// Throws UsageError where one of them was given to look into a network.
void requireNoImport(const po::variables_map& given);

int importNetwork(const po::variables_map& given, const std::filesystem::path& file);

}  // namespace jugendstil::cli
