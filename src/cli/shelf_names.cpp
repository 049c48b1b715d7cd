// SPDX-License-Identifier: Apache-2.0
#include "cli/shelf_names.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <cstdlib>
#include <optional>
#include <set>
#include <vector>

#include "base/error.h"
#include "base/words.h"
#include "cli/option_info.h"
#include "cli/say.h"
#include "shelf/shelf.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;
using Texts = std::vector<std::string>;

bool exists(const std::string& name) {
  std::error_code code;
  return fs::exists(name, code);
}

bool takesFiles(const OptionInfo& option) {
  return option.kind == ValueKind::file && !option.value.starts_with("OUT") &&
         !option.value.starts_with("FILE");
}

// A word and what stands beside it: the share behind it, a moment or a mask before it.
struct Piece {
  std::string name;
  std::string share;
};

Piece pieceOf(const std::string& word) {
  const auto at = word.rfind('@');
  if (at == std::string::npos || at == 0 || exists(word)) return {word, ""};
  return {word.substr(0, at), word.substr(at)};
}

class Names {
 public:
  Names(const Shelf& shelf, bool quiet) : shelf_(shelf), quiet_(quiet) {}

  // What a word stands for; more than one only for tags and albums.
  Texts filesOf(const std::string& word) {
    if (exists(word) || word == "-") return {word};
    const auto equals = word.find('=');
    if (equals != std::string::npos && !word.starts_with("tag:") && !word.starts_with("album:")) {
      Texts all;
      for (const std::string& right : filesOf(word.substr(equals + 1)))
        all.push_back(fileOf(word.substr(0, equals)) + "=" + right);
      return all;
    }
    const Piece piece = pieceOf(word);
    for (const char* sort : {"tag:", "album:"}) {
      if (piece.name.starts_with(sort)) return labelled(sort, piece);
    }
    return {fileOf(piece.name) + piece.share};
  }

  bool hadLabel() const { return hadLabel_; }

 private:
  std::string fileOf(const std::string& name) {
    // A path, or a file of the usual kind that is not there, is told by who needs it.
    if (name.empty() || exists(name) || name.find('/') != std::string::npos) return name;
    const auto entry = shelf_.named(name);
    if (!entry) {
      if (name.find('.') == std::string::npos) offerNear(name);
      return name;
    }
    return taken(*entry);
  }

  std::string taken(const ShelfEntry& entry) const {
    if (!exists(entry.path.string()))
      throw Error(
          fmt::format("{} on the shelf is {}, which is not there; jugendstil shelf check FOLDER looks "
                      "for it",
                      entry.name, entry.path.string()));
    if (!quiet_) say(stderr, "{}: {}, from the shelf\n", entry.name, entry.path.string());
    return entry.path.string();
  }

  Texts labelled(const std::string& sort, const Piece& piece) {
    hadLabel_ = true;
    ShelfSearch search;
    const std::string word = piece.name.substr(sort.size());
    (sort == "tag:" ? search.tags : search.albums).push_back(word);
    Texts files;
    for (const FoundEntry& found : shelf_.find(search)) {
      if (isPicture(found.entry.kind)) files.push_back(taken(found.entry) + piece.share);
    }
    if (files.empty())
      throw UsageError(
          fmt::format("no picture on the shelf has the {} \"{}\"; jugendstil shelf list shows all",
                      sort == "tag:" ? "tag" : "album", word));
    return files;
  }

  // Not for what may be a number, a moment or a word of its own.
  void offerNear(const std::string& name) const {
    if (name.size() < 4) return;
    const std::string near = nearestWord(name, shelf_.names(), 2);
    if (!near.empty())
      throw UsageError(fmt::format(
          "there is no file {0}, and nothing of that name on the shelf; did you mean {1}?", name, near));
  }

  const Shelf& shelf_;
  bool quiet_;
  bool hadLabel_ = false;
};

// Words that mean something else where a file could stand.
bool isOwnWord(const std::string& command, const std::string& word) {
  return command == "dive" && (word == "noise" || word == "grey-noise");
}

bool mayHoldNames(const std::string& command) {
  static const std::set<std::string> others{"shelf", "history", "demo"};
  return others.count(command) == 0;
}

}  // namespace

fs::path shelfFolder() {
  const char* data = std::getenv("XDG_DATA_HOME");
  // The specification does not take relative paths.
  if (data != nullptr && *data == '/') return fs::path(data) / "jugendstil" / "shelf";
  const char* home = std::getenv("HOME");
  if (home == nullptr || *home == '\0') return {};
  return fs::path(home) / ".local" / "share" / "jugendstil" / "shelf";
}

void takeShelfNames(po::variables_map& given, const po::options_description& options,
                    const std::string& command) {
  if (!mayHoldNames(command) || !Shelf::standsIn(shelfFolder())) return;
  std::optional<Shelf> shelf;
  std::optional<Names> names;
  const auto filesOf = [&](const std::string& word) -> Texts {
    if (exists(word) || isOwnWord(command, word)) return {word};
    if (!shelf) {
      shelf.emplace(shelfFolder());
      names.emplace(*shelf, given.count("quiet") != 0);
    }
    return names->filesOf(word);
  };
  for (const OptionInfo& option : optionsIn(options)) {
    if (!takesFiles(option) || given.count(option.name) == 0) continue;
    boost::any& value = given.at(option.name).value();
    if (auto* several = boost::any_cast<Texts>(&value)) {
      Texts all;
      for (const std::string& word : *several) {
        for (std::string& file : filesOf(word)) all.push_back(std::move(file));
      }
      const bool apart = names && names->hadLabel() && option.name == "after" && command == "paint";
      if (apart && given.count("each") == 0)
        given.emplace("each", po::variable_value(boost::any(true), false));
      *several = std::move(all);
    } else if (auto* one = boost::any_cast<std::string>(&value)) {
      const Texts files = filesOf(*one);
      if (files.size() > 1)
        throw UsageError(fmt::format("--{} takes one file, and {} stands for {}: {}", option.name, *one,
                                     files.size(), fmt::join(files, ", ")));
      *one = files[0];
    }
  }
}

}  // namespace jugendstil::cli
