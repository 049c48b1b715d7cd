// SPDX-License-Identifier: Apache-2.0
// What was asked of the shelf, and what its actions share.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "cli/options.h"
#include "shelf/shelf.h"

namespace jugendstil::cli {

// What was given, with the shelf that it is about.
struct ShelfRequest {
  const po::variables_map& given;
  Shelf shelf;
  std::vector<std::string> words;  // behind the action

  bool has(const char* name) const { return given.count(name) != 0; }
  bool quiet() const { return has("quiet"); }
  bool json() const { return has("json"); }
  // The tags or albums of an option.
  std::vector<std::string> labels(const char* name) const;
  std::string note() const;
  std::optional<ShelfKind> kind() const;
};

// An entry as one object on a line; entries as a list with their files.
void tellEntryJson(const FoundEntry& found, const std::string& why = "");
void tellEntries(const std::vector<FoundEntry>& found);

// "oil, night, album Posters"; "1280x853", or nothing; "3 entries".
std::string labelText(const ShelfEntry& entry);
std::string sizeText(const ShelfEntry& entry);
std::string countText(std::size_t count);

// Their thumbnails on a sheet (Error where there are none), and all of them on a page.
Image sheetOf(const Shelf& shelf, const std::vector<FoundEntry>& found);
std::string pageOf(const Shelf& shelf, const std::vector<FoundEntry>& found, const std::string& title);

// The place of -o, which may be written and has one of the endings. `usual` is its name where a folder is
// given. Throws UsageError, or Error where it is taken.
std::filesystem::path shelfOutput(const ShelfRequest& request, const char* usual,
                                  const std::vector<std::string>& endings);
const std::vector<std::string>& sheetEndings();

// The actions; each returns the exit code.
int addToShelf(ShelfRequest& request);
int tagOnShelf(ShelfRequest& request);
int forgetOnShelf(ShelfRequest& request);
int importToShelf(ShelfRequest& request);
int checkOnShelf(ShelfRequest& request);
int listShelf(ShelfRequest& request);
int findOnShelf(ShelfRequest& request);
int suitsOnShelf(ShelfRequest& request);
int sheetOfShelf(ShelfRequest& request);
int pageOfShelf(ShelfRequest& request);
int exportShelfFiles(ShelfRequest& request);

}  // namespace jugendstil::cli
