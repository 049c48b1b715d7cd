// SPDX-License-Identifier: Apache-2.0
// Files onto the shelf.
#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "shelf/shelf.h"

namespace jugendstil {

struct Adding {
  std::optional<ShelfKind> kind;  // by the file's name where it is not said
  std::string name;               // of a single file; empty: by the file's name
  std::vector<std::string> tags;
  std::vector<std::string> albums;
  std::string note;
  bool keep = false;  // copy the files into the shelf
};

enum class AddedAs {
  fresh,    // put on the shelf
  known,    // was there; its tags, albums and note were added
  changed,  // was there with another content
  moved,    // was there, in another place where it is no more
  copy,     // the same content is there, from another file; tags, albums and note were added
  failed,   // cannot be read
};

struct AddedFile {
  std::filesystem::path file;
  AddedAs as = AddedAs::failed;
  ShelfEntry entry;     // as it is on the shelf now
  std::string trouble;  // why it failed
};

// The files that are meant: those of folders, and of folders in them, that a shelf can hold, by name. Throws
// Error for a name that does not exist, and where a single file is nothing that a shelf holds; UsageError
// where there is nothing at all.
std::vector<std::filesystem::path> filesMeant(const std::vector<std::filesystem::path>& words);

// Adds the files, some at a time, each batch whole or not at all, and tells each. A file that cannot be read
// is told and left out. Throws as Shelf does, and UsageError for a name that is taken or none.
void addFiles(Shelf& shelf, const std::vector<std::filesystem::path>& files, const Adding& how,
              const std::function<void(const AddedFile&)>& told);

// Reads a file as an entry: checksum, size, and of a picture thumbnail and measures. Throws Error.
struct ReadFile {
  ShelfEntry entry;
  EntryLook look;
};
ReadFile readForShelf(const std::filesystem::path& file, ShelfKind kind);

// When the file was last written, nanoseconds.
std::int64_t modifiedAt(const std::filesystem::path& file);

// Where the shelf keeps a file of this content, and a copy of it there; one that is there is left as it is.
std::filesystem::path keptPath(const Shelf& shelf, const std::filesystem::path& file,
                               const std::string& checksum);
void keepCopy(const Shelf& shelf, const std::filesystem::path& file, const std::string& checksum);

}  // namespace jugendstil
