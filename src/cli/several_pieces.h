// SPDX-License-Identifier: Apache-2.0
// Pictures for all combinations of settings, into a folder with a sheet.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "cli/run_options.h"

namespace jugendstil::cli {

// What each is called, and what is done with the one of a number.
struct SeveralPieces {
  std::filesystem::path folder;
  std::vector<std::filesystem::path> outputs;       // pictures with recipes beside them
  std::function<bool(std::size_t)> isMade;          // whether an earlier run has made just this
  std::function<void(std::size_t)> requirePlaces;   // throws where it could not be written
  std::function<void(std::size_t)> make;            // throws Stopped
  std::function<std::string(std::size_t)> caption;  // on the sheet
};

// Makes those that are missing, then sheet.png. Returns the exit code; stopped after the first it keeps what
// there is.
int makeSeveral(const SeveralPieces& pieces, const RunOptions& run);

}  // namespace jugendstil::cli
