// SPDX-License-Identifier: Apache-2.0
#include "cli/run_options.h"

namespace jugendstil::cli {

RunOptions runOptionsOf(const po::variables_map& given) {
  RunOptions run;
  run.force = given.count("force") != 0;
  run.dryRun = given.count("dry-run") != 0;
  run.quiet = given.count("quiet") != 0;
  run.progress = progressStyle(textOf(given, "progress", "auto"), run.quiet);
  return run;
}

}  // namespace jugendstil::cli
