// SPDX-License-Identifier: Apache-2.0
#include "cli/run_options.h"

#include <omp.h>

#include <nlohmann/json.hpp>

#include "cli/say.h"
#include "paint/plan.h"

namespace jugendstil::cli {

RunOptions runOptionsOf(const po::variables_map& given) {
  RunOptions run;
  run.force = given.count("force") != 0;
  run.dryRun = given.count("dry-run") != 0;
  run.quiet = given.count("quiet") != 0;
  run.progress = progressStyle(textOf(given, "progress", "auto"), run.quiet);
  return run;
}

void settleThreads(PaintSettings& settings) {
  constexpr int kAlike = 2;
  const int processors = omp_get_num_procs();
  const bool alike = processors <= kAlike && chosenPrecision(settings.precision) == Precision::full;
  if (settings.threads == 0 && !alike) settings.threads = processors;
}

int tellStopped(const RunOptions& run, const std::string& message) {
  say(stderr, "jugendstil: {}\n", message);
  if (run.progress == ProgressStyle::json)
    sayJson(stdout, {{"event", "stopped"}, {"message", message}, {"code", 130}});
  return 130;
}

}  // namespace jugendstil::cli
