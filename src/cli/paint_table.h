// SPDX-License-Identifier: Apache-2.0
// Many paintings at once: photos by references by settings.
#pragma once

#include <string>
#include <vector>

#include "cli/paint_job.h"

namespace jugendstil::cli {

struct PaintTable {
  PaintJob base;                              // all that the paintings have in common; its output is a folder
  std::vector<std::filesystem::path> photos;  // at least one
  bool each = false;                          // each reference by itself
  std::vector<std::string> vary;              // like "likeness=20,50,80"
};

// Whether there is more than one painting in it.
bool hasSeveral(const PaintTable& table);

// Paints them one after the other into the folder, with their recipes, and lays them on OUT/sheet.png, whose
// cells name the files. What an earlier run finished with the same settings is kept. Returns 0, or 130 where
// Ctrl-C stopped it. Throws Error.
int runPaintTable(const PaintTable& table);

}  // namespace jugendstil::cli
