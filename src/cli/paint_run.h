// SPDX-License-Identifier: Apache-2.0
// One painting from files to files: what `paint`, `redo` and `demo` have in common.
#pragma once

#include <functional>
#include <string>

#include "cli/paint_job.h"

namespace jugendstil::cli {

// How much there is to do: it takes `work` times the rate that is known by `key` (calibration.h), in seconds.
struct PaintWork {
  std::string key;
  double work = 0;
};

// Reads all that the job names and plans it; paints nothing. Throws Error where an input is missing or
// damaged.
PaintWork workOf(const PaintJob& job);

// Seconds that the job will take with other settings, by earlier work on this machine or, where there was
// none, by a short trial that is then known. The job's files are read once. Throws as workOf does.
using PaintTime = std::function<double(const PaintSettings& settings)>;
PaintTime paintTime(const PaintJob& job);

// Paints, or goes on, writes the picture and the recipe beside it, and says where. Returns 0, or 130 where
// Ctrl-C stopped it with the state kept. Throws Error.
int runPaintJob(const PaintJob& job);

}  // namespace jugendstil::cli
