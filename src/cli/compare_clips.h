// SPDX-License-Identifier: Apache-2.0
// Measuring how steady clips are.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "cli/run_options.h"

namespace jugendstil::cli {

struct ClipComparison : RunOptions {
  std::string source;           // the clip that they were made from
  std::filesystem::path chart;  // errors frame by frame; empty: none
};

// Measures the clips and tells. Throws Error.
void compareClips(const std::vector<std::string>& clips, const ClipComparison& asked);

}  // namespace jugendstil::cli
