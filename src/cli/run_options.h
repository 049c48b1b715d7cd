// SPDX-License-Identifier: Apache-2.0
// How a command was asked to run, whatever it does.
#pragma once

#include <string>

#include "cli/options.h"
#include "cli/progress.h"
#include "paint/settings.h"

namespace jugendstil::cli {

struct RunOptions {
  bool force = false;        // files that exist are replaced
  bool makesFolder = false;  // the result lies in a folder that need not exist
  bool dryRun = false;       // only said what would be done
  bool quiet = false;        // no progress, only the result or the error
  bool fromPipe = false;     // the photo came through standard input,
  bool toPipe = false;       // and the result goes through standard output
  ProgressStyle progress = ProgressStyle::none;

  // Whether a person reads along.
  bool tells() const { return progress == ProgressStyle::bar || progress == ProgressStyle::lines; }
};

// The options of reportOptions(). Throws UsageError.
RunOptions runOptionsOf(const po::variables_map& given);

// Writes down how many threads "all processors" are where a painting's bytes hang on it: from three on, and
// in half precision. One and two give the same bytes. Before anything is compared with an earlier run's
// recipe.
void settleThreads(PaintSettings& settings);

// Says that the work was stopped and what is there, to a person and to other programs; returns the exit code.
int tellStopped(const RunOptions& run, const std::string& message);

}  // namespace jugendstil::cli
