// SPDX-License-Identifier: Apache-2.0
#include "cli/shelf_request.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "base/utf8.h"
#include "cli/say.h"

namespace jugendstil::cli {

std::vector<std::string> ShelfRequest::labels(const char* name) const {
  return labelWords(listOf(given, name));
}

std::string ShelfRequest::note() const { return utf8Of(textOf(given, "note")); }

std::optional<ShelfKind> ShelfRequest::kind() const {
  return has("as") ? std::optional(kindOfWord(textOf(given, "as"))) : std::nullopt;
}

std::string sizeText(const ShelfEntry& e) {
  return e.width > 0 ? fmt::format("{}x{}", e.width, e.height) : std::string();
}

std::string labelText(const ShelfEntry& e) {
  std::vector<std::string> parts = e.tags;
  for (const std::string& album : e.albums) parts.push_back("album " + album);
  return fmt::format("{}", fmt::join(parts, ", "));
}

const std::vector<std::string>& sheetEndings() {
  static const std::vector<std::string> endings{".png", ".jpg", ".jpeg", ".webp", ".tif"};
  return endings;
}

void tellEntryJson(const FoundEntry& found, const std::string& why) {
  const ShelfEntry& e = found.entry;
  nlohmann::json object{
      {"name", e.name}, {"kind", kindWord(e.kind)}, {"file", utf8Of(e.path)}, {"checksum", e.checksum},
      {"tags", e.tags}, {"albums", e.albums},       {"note", e.note},         {"kept", e.kept}};
  if (e.width > 0) object.update({{"width", e.width}, {"height", e.height}});
  if (found.rank > 0) object["rank"] = found.rank;
  if (!why.empty()) object["why"] = why;
  sayJson(stdout, object);
}

void tellEntries(const std::vector<FoundEntry>& found) {
  std::size_t name = 0;
  for (const FoundEntry& one : found) name = std::max(name, one.entry.name.size());
  for (const FoundEntry& one : found) {
    const ShelfEntry& e = one.entry;
    std::string line =
        fmt::format("{:<{}}  {:<9}  {:<9}  {}", e.name, name, kindWord(e.kind), sizeText(e), labelText(e));
    if (!e.note.empty()) line += fmt::format("{}\"{}\"", labelText(e).empty() ? "" : "  ", e.note);
    line.resize(line.find_last_not_of(' ') + 1);
    say(stdout, "{}\n{:<{}}  {}\n", line, "", name, e.path.string());
  }
}

std::string countText(std::size_t count) {
  return fmt::format("{} {}", count, count == 1 ? "entry" : "entries");
}

}  // namespace jugendstil::cli
