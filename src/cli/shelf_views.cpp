// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/number.h"
#include "base/utf8.h"
#include "base/words.h"
#include "cli/say.h"
#include "cli/shelf_request.h"
#include "image/display_oklab.h"
#include "image/picture_file.h"
#include "report/sheet.h"
#include "report/shelf_page.h"
#include "shelf/exchange.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMostOnSheet = 60;
constexpr std::size_t kMostAlike = 12;

ShelfSearch searchOf(const ShelfRequest& r) {
  ShelfSearch search;
  search.words = utf8Of(fmt::format("{}", fmt::join(r.words, " ")));
  search.tags = r.labels("tag");
  search.albums = r.labels("album");
  search.kind = r.kind();
  if (r.has("like")) {
    const std::string like = textOf(r.given, "like");
    const auto entry = fs::exists(like) ? std::nullopt : r.shelf.named(like);
    search.like = entry ? r.shelf.lookOf(entry->id).measures
                        : std::optional(measuresOf(rgbOf(readPicture(like).image)));
  }
  if (r.has("colour")) {
    const auto colour = colourOfHex(textOf(r.given, "colour"));
    if (!colour)
      throw UsageError(
          fmt::format("--colour is like #204060 or #246, not \"{}\"", textOf(r.given, "colour")));
    search.colour = oklabOfDisplay(*colour);
  }
  if (search.like && search.colour)
    throw UsageError("--like and --colour each sort by themselves; give one of them");
  const bool ranked = search.like || search.colour;
  search.most = static_cast<std::size_t>(numberOf(r.given, "most", ranked ? kMostAlike : 0, 1e6));
  return search;
}

int tellFound(const ShelfRequest& r, const char* nothing) {
  const auto found = r.shelf.find(searchOf(r));
  if (r.json()) {
    for (const FoundEntry& one : found) tellEntryJson(one);
  } else if (found.empty()) {
    say(stderr, "{}\n", nothing);
  } else {
    tellEntries(found);
  }
  return 0;
}

std::vector<FoundEntry> foundFor(const ShelfRequest& r) {
  auto found = r.shelf.find(searchOf(r));
  if (found.empty()) throw Error("nothing on the shelf is like that; jugendstil shelf list shows all");
  return found;
}

const char* optionFor(ShelfKind kind) {
  switch (kind) {
    case ShelfKind::reference:
      return "--after ";
    case ShelfKind::mask:
      return "--inside ";
    case ShelfKind::look:
      return "--look ";
    case ShelfKind::recipe:
      return "--recipe ";
    case ShelfKind::painter:
      return "--with ";
    case ShelfKind::swatch:
      break;
  }
  return "jugendstil weave ";
}

}  // namespace

fs::path shelfOutput(const ShelfRequest& r, const char* usual, const std::vector<std::string>& endings) {
  if (!r.has("output")) throw UsageError(fmt::format("a place is missing: add -o {}", usual));
  fs::path output = outputFor(textOf(r.given, "output"), usual);
  const std::string ending = lowerCase(output.extension().string());
  if (std::find(endings.begin(), endings.end(), ending) == endings.end())
    throw UsageError(fmt::format("{} cannot be written so; end its name in {}", output.string(),
                                 fmt::join(endings, " or ")));
  requireFree(output, r.has("force"));
  requirePlace(output);
  return output;
}

int listShelf(ShelfRequest& r) {
  if (!r.words.empty()) throw UsageError("list shows all; to look for words: jugendstil shelf find WORDS");
  return tellFound(r, "the shelf is empty; jugendstil shelf add FILES puts something on it");
}

int findOnShelf(ShelfRequest& r) { return tellFound(r, "nothing on the shelf is like that"); }

Image sheetOf(const Shelf& shelf, const std::vector<FoundEntry>& found) {
  std::vector<SheetCell> cells;
  for (const FoundEntry& one : found) {
    const EntryLook look = shelf.lookOf(one.entry.id);
    if (!look.thumbnail.empty())
      cells.push_back({decodedJpeg(look.thumbnail), one.entry.name, labelText(one.entry)});
  }
  if (cells.empty()) throw Error("no pictures are among these; a sheet shows pictures");
  SheetOptions options;
  options.cellWidth = options.cellHeight = kShelfEdge;
  options.columns = std::min(countOf(cells), 5);
  return contactSheet(cells, options);
}

std::string pageOf(const Shelf& shelf, const std::vector<FoundEntry>& found, const std::string& title) {
  std::vector<ShelfCard> cards;
  for (const FoundEntry& one : found) {
    const ShelfEntry& e = one.entry;
    cards.push_back({e.name, kindWord(e.kind), shelf.lookOf(e.id).thumbnail, utf8Of(e.path), sizeText(e),
                     e.note, optionFor(e.kind) + e.name, e.tags, e.albums});
  }
  return shelfPage(title, cards);
}

int sheetOfShelf(ShelfRequest& r) {
  const fs::path output = shelfOutput(r, "shelf.png", sheetEndings());
  auto found = foundFor(r);
  // Masks may be drawings, without a size.
  std::erase_if(found, [](const FoundEntry& one) { return one.entry.width == 0; });
  const std::size_t all = found.size();
  if (!r.has("most")) found.resize(std::min(all, kMostOnSheet));
  writePicture(output, sheetOf(r.shelf, found), Depth::eight);
  if (!r.quiet())
    say(stdout, "{}: {}{}\n", output.string(), countText(found.size()),
        found.size() < all ? fmt::format(" of {}; --most {} shows all", all, all) : "");
  return 0;
}

int pageOfShelf(ShelfRequest& r) {
  const fs::path output = shelfOutput(r, "shelf.html", {".html", ".htm"});
  const auto found = foundFor(r);
  writeFileAtomically(output, pageOf(r.shelf, found, "The shelf"));
  if (!r.quiet()) say(stdout, "{}: {}; open it in a browser\n", output.string(), countText(found.size()));
  return 0;
}

int exportShelfFiles(ShelfRequest& r) {
  const fs::path output = shelfOutput(r, "shelf.zip", {".zip"});
  std::vector<ShelfEntry> entries;
  for (FoundEntry& one : foundFor(r)) entries.push_back(std::move(one.entry));
  const Exported exported = exportShelf(entries, output);
  for (const ShelfEntry& left : exported.left)
    say(stderr, "jugendstil: left out: {}, whose file {} is missing\n", left.name, left.path.string());
  if (!r.quiet())
    say(stdout, "{}: {} with their files; jugendstil shelf import puts them on another shelf\n",
        output.string(), countText(exported.entries));
  return exported.left.empty() ? 0 : 1;
}

}  // namespace jugendstil::cli
