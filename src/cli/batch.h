// SPDX-License-Identifier: Apache-2.0
// Many pictures at a time: worker threads, one progress display, failures kept for the end.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "cli/progress.h"

namespace jugendstil::cli {

struct BatchFailure {
  std::size_t item = 0;
  std::string message;
};

struct BatchOutcome {
  std::vector<BatchFailure> failures;  // in the order of the items
  bool stopped = false;                // by Ctrl-C; items not begun are neither done nor failed
  double seconds = 0;
};

// Says how far its item is, 0 to 1; throws Stopped where Ctrl-C asks for it.
using ItemProgress = std::function<void(double)>;

// Calls work(item, progress) for every item, several at once where there are threads (0: all processors)
// enough. An Error ends its item only. `noun` names the items in the display ("photo").
BatchOutcome runBatch(std::size_t items, int threads, ProgressStyle style, const char* noun,
                      const std::function<void(std::size_t, const ItemProgress&)>& work);

}  // namespace jugendstil::cli
