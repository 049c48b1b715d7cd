// SPDX-License-Identifier: Apache-2.0
// What was made in a folder, from its recipes.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "history/past_work.h"

namespace jugendstil {

struct History {
  std::vector<PastWork> works;          // the oldest file first, those of one time by name
  std::vector<std::string> unreadable;  // what is wrong with recipes that are left out
};

// The recipes of one folder that have a result. Throws Error where it is no folder or cannot be read.
History historyOf(const std::filesystem::path& folder);

}  // namespace jugendstil
