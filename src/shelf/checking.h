// SPDX-License-Identifier: Apache-2.0
// Whether what lies on the shelf is still where it was.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "shelf/shelf.h"

namespace jugendstil {

enum class Condition {
  fine,
  changed,     // another content; the shelf knows it by this one now
  found,       // it had moved, and was found again by its check sum
  missing,     // neither in its place nor in the folders that were looked into
  unreadable,  // it is there, and cannot be read
};

struct CheckedEntry {
  Condition condition = Condition::fine;
  ShelfEntry entry;            // as it is on the shelf now
  std::filesystem::path from;  // where it was before it was found
  std::string trouble;         // why it cannot be read
};

// Looks at every file and tells each. What is missing is looked for in the folders in which files of the
// shelf lie, and in `folders` and those inside them. Throws as Shelf does.
void checkShelf(Shelf& shelf, const std::vector<std::filesystem::path>& folders,
                const std::function<void(const CheckedEntry&)>& told);

}  // namespace jugendstil
