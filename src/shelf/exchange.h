// SPDX-License-Identifier: Apache-2.0
// Shelves as files: a zip archive with the entries' own files in "files/" and all that is known of them in
// "shelf.json".
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "shelf/adding.h"
#include "shelf/shelf.h"

namespace jugendstil {

struct Exported {
  std::size_t entries = 0;
  std::vector<ShelfEntry> left;  // whose files are missing
};

// Writes the entries, atomically. Throws Error where none of their files is there, DiskError.
Exported exportShelf(const std::vector<ShelfEntry>& entries, const std::filesystem::path& archive);

// Puts what lies in an archive on the shelf, the files into the shelf's own folder, and tells each. What is
// on the shelf already gets the tags, albums and note that it has not. Everything or nothing is put there.
// Throws Error where the archive is damaged or was not exported from a shelf.
void importShelf(Shelf& shelf, const std::filesystem::path& archive,
                 const std::function<void(const AddedFile&)>& told);

}  // namespace jugendstil
