// SPDX-License-Identifier: Apache-2.0
// The user's collection: a folder with a database of what lies where, and with the files that are kept.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "shelf/database.h"
#include "shelf/entry.h"
#include "shelf/measures.h"

namespace jugendstil {

// What to look for; everything that is given has to be so.
struct ShelfSearch {
  std::string words;              // in names, notes, tags, albums and files' names; each may only be begun
  std::vector<std::string> tags;  // all of them
  std::vector<std::string> albums;
  std::optional<ShelfKind> kind;
  // Sorts pictures by how like they are, or how much of a colour they have, in place of the name.
  std::optional<PictureMeasures> like;
  std::optional<Oklab> colour;
  // Or by how well they suit a photo, the best first.
  std::optional<PictureMeasures> suits;
  std::size_t most = 0;  // so many at most; 0: all
};

struct FoundEntry {
  ShelfEntry entry;
  double rank = 0;  // difference(), the share of the colour, or the misfit; 0 where nothing was asked for
};

// What is known of a file beside its entry.
struct EntryLook {
  std::string thumbnail;  // a JPEG of at most 256 pixels a side; empty where it is no picture
  std::optional<PictureMeasures> measures;
};

// Throws as Database does. Several programs may use one shelf.
class Shelf {
 public:
  // Made, with its folder, where there is none.
  explicit Shelf(std::filesystem::path folder);

  static bool standsIn(const std::filesystem::path& folder);
  // Where the files lie that the shelf keeps.
  std::filesystem::path keptFolder() const { return folder_ / "kept"; }
  const Database& database() const { return database_; }

  std::vector<FoundEntry> find(const ShelfSearch& search) const;
  std::optional<ShelfEntry> named(std::string_view name) const;
  std::optional<ShelfEntry> at(const std::filesystem::path& file) const;
  std::vector<ShelfEntry> withChecksum(std::string_view checksum) const;
  std::vector<std::string> names() const;
  EntryLook lookOf(std::int64_t id) const;

  // A name like this one that nothing on the shelf has: evening-2.
  std::string freeName(const std::string& name) const;

  // Puts a new entry on the shelf (its id is not looked at) and returns its id. In a Transaction several are
  // put there together.
  std::int64_t put(const ShelfEntry& entry, const EntryLook& look);
  // Writes everything of an entry that is there.
  void change(const ShelfEntry& entry);
  void changeLook(std::int64_t id, const EntryLook& look);
  void forget(std::int64_t id);

 private:
  std::vector<ShelfEntry> entries(Statement& statement) const;
  void putLabels(const ShelfEntry& entry);

  std::filesystem::path folder_;
  Database database_;
};

}  // namespace jugendstil
