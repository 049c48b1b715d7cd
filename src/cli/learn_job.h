// SPDX-License-Identifier: Apache-2.0
// A quick painter learned from files to its file.
#pragma once

#include <filesystem>

#include "cli/learn_lesson.h"

namespace jugendstil::cli {

// Whether a painter of these inputs and settings was stopped on its way to this output. Throws Error where an
// input is missing.
bool goesOn(const LearnRecipe& recipe, const std::filesystem::path& output, bool mayReplace);

// Seconds that it takes, by earlier work on this machine or a short trial. Reads its files. Throws Error.
double foretoldSeconds(const LearnJob& job);

// Learns, writes the painter, its recipe and a strip of how it became what it is, and says where. Returns 0,
// or 130 where Ctrl-C stopped it: the painter as it stood is there then, and can go on. Of several, what an
// earlier run has learned is kept, and a sheet shows a photo by each. Throws Error.
int runLearnJob(const LearnJob& job);

}  // namespace jugendstil::cli
