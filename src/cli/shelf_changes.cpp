// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>
#include <functional>

#include "base/error.h"
#include "base/words.h"
#include "cli/say.h"
#include "cli/shelf_request.h"
#include "shelf/adding.h"
#include "shelf/checking.h"
#include "shelf/exchange.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;
using Texts = std::vector<std::string>;

const char* wordFor(AddedAs as) {
  switch (as) {
    case AddedAs::fresh:
      return "added";
    case AddedAs::known:
      return "there already";
    case AddedAs::changed:
      return "changed since; taken as it is now";
    case AddedAs::moved:
      return "moved; taken from its new place";
    case AddedAs::copy:
      return "there already, from another file";
    case AddedAs::failed:
      break;
  }
  return "failed";
}

// Tells each file, and counts.
class AddTeller {
 public:
  explicit AddTeller(const ShelfRequest& r) : r_(r) {}

  void operator()(const AddedFile& one) {
    if (one.as == AddedAs::failed) {
      ++failed_;
      say(stderr, "jugendstil: left out: {}\n", one.trouble);
      return;
    }
    ++(one.as == AddedAs::fresh ? fresh_ : others_);
    if (r_.json()) return tellEntryJson({one.entry, 0});
    if (!r_.quiet()) say(stdout, "{} ({}): {}\n", one.entry.name, kindWord(one.entry.kind), wordFor(one.as));
  }

  int end() const {
    if (!r_.json() && !r_.quiet() && fresh_ + others_ > 1)
      say(stdout, "{} put on the shelf, {} there already\n", countText(fresh_), others_);
    return failed_ > 0 ? 1 : 0;
  }

 private:
  const ShelfRequest& r_;
  std::size_t fresh_ = 0;
  std::size_t others_ = 0;
  std::size_t failed_ = 0;
};

std::vector<ShelfEntry> namedEntries(const ShelfRequest& r, const char* usage) {
  if (r.words.empty()) throw UsageError(usage);
  std::vector<ShelfEntry> entries;
  for (const std::string& name : r.words) {
    auto entry = r.shelf.named(name);
    if (!entry) {
      const std::string near = nearestWord(name, r.shelf.names());
      throw Error(
          fmt::format("nothing on the shelf is called {}{}", name,
                      near.empty() ? "; jugendstil shelf list shows all" : ", did you mean " + near + "?"));
    }
    entries.push_back(std::move(*entry));
  }
  return entries;
}

}  // namespace

int addToShelf(ShelfRequest& r) {
  if (r.words.empty()) throw UsageError("add needs files or folders: jugendstil shelf add FILES");
  Adding how{r.kind(), textOf(r.given, "name"), r.labels("tag"), r.labels("album"), r.note(), r.has("keep")};
  AddTeller teller(r);
  addFiles(r.shelf, filesMeant({r.words.begin(), r.words.end()}), how, std::ref(teller));
  return teller.end();
}

int tagOnShelf(ShelfRequest& r) {
  auto entries = namedEntries(r, "tag needs names: jugendstil shelf tag evening --tag oil,night");
  const Texts tags = r.labels("tag");
  const Texts albums = r.labels("album");
  const Texts away = r.labels("without");
  const std::string name = textOf(r.given, "name");
  if (tags.empty() && albums.empty() && away.empty() && name.empty() && !r.has("note"))
    throw UsageError("tag needs something to write: --tag, --album, --without, --note or --name");
  if (!name.empty()) {
    requireName(name);
    if (entries.size() > 1) throw UsageError("--name is for one entry; name one");
    const auto taken = r.shelf.named(name);
    if (taken && taken->id != entries[0].id)
      throw Error(fmt::format("{} is on the shelf already: {}", name, taken->path.string()));
    entries[0].name = name;
  }
  const auto change = [&](Texts& words, const Texts& more) {
    words = withLabels(std::move(words), more);
    std::erase_if(words, [&](const std::string& word) {
      return std::any_of(away.begin(), away.end(),
                         [&](const std::string& gone) { return lowerCase(gone) == lowerCase(word); });
    });
  };
  Transaction transaction(r.shelf.database());
  for (ShelfEntry& entry : entries) {
    change(entry.tags, tags);
    change(entry.albums, albums);
    if (r.has("note")) entry.note = r.note();
    r.shelf.change(entry);
  }
  transaction.commit();
  std::vector<FoundEntry> changed;
  for (ShelfEntry& entry : entries) changed.push_back({std::move(entry), 0});
  if (!r.quiet()) tellEntries(changed);
  return 0;
}

int forgetOnShelf(ShelfRequest& r) {
  const auto entries = namedEntries(r, "forget needs names: jugendstil shelf forget evening");
  Transaction transaction(r.shelf.database());
  for (const ShelfEntry& entry : entries) r.shelf.forget(entry.id);
  transaction.commit();
  for (const ShelfEntry& entry : entries) {
    std::error_code code;
    const bool removed =
        entry.kept && r.shelf.withChecksum(entry.checksum).empty() && fs::remove(entry.path, code);
    if (r.quiet()) continue;
    say(stdout, "{}: no longer on the shelf{}\n", entry.name,
        removed ? ", nor is its copy" : fmt::format("; {} is untouched", entry.path.string()));
  }
  return 0;
}

int importToShelf(ShelfRequest& r) {
  if (r.words.size() != 1) throw UsageError("import takes one archive: jugendstil shelf import shelf.zip");
  AddTeller teller(r);
  importShelf(r.shelf, r.words[0], std::ref(teller));
  return teller.end();
}

int checkOnShelf(ShelfRequest& r) {
  std::size_t fine = 0;
  std::size_t lost = 0;
  checkShelf(r.shelf, {r.words.begin(), r.words.end()}, [&](const CheckedEntry& one) {
    const std::string file = one.entry.path.string();
    switch (one.condition) {
      case Condition::fine:
        ++fine;
        break;
      case Condition::changed:
        say(stdout, "{}: {} has changed; taken as it is now\n", one.entry.name, file);
        break;
      case Condition::found:
        say(stdout, "{}: found again, {}\n", one.entry.name, file);
        break;
      case Condition::missing:
        ++lost;
        say(stdout, "{}: {} is missing\n", one.entry.name, file);
        break;
      case Condition::unreadable:
        ++lost;
        say(stdout, "{}: {}\n", one.entry.name, one.trouble);
        break;
    }
  });
  if (!r.quiet()) say(stdout, "{} in their places\n", countText(fine));
  if (lost == 0) return 0;
  throw Error(
      fmt::format("{} cannot be read; jugendstil shelf check FOLDER looks in a folder and "
                  "those inside it, jugendstil shelf forget NAME takes one off the shelf",
                  countText(lost)));
}

}  // namespace jugendstil::cli
