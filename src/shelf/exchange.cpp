// SPDX-License-Identifier: Apache-2.0
#include "shelf/exchange.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <nlohmann/json.hpp>

#include "base/atomic_file.h"
#include "base/checksum.h"
#include "base/error.h"
#include "base/file.h"
#include "base/utf8.h"
#include "base/words.h"
#include "base/zip.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using Json = nlohmann::json;

constexpr const char* kIndex = "shelf.json";
constexpr const char* kFiles = "files/";
constexpr int kVersion = 1;
constexpr std::size_t kMostIndex = std::size_t{256} << 20U;
constexpr std::size_t kMostFile = std::size_t{4} << 30U;

// The name of an entry's file in the archive; names are unlike one another, whatever the file system thinks.
std::string placeOf(const ShelfEntry& entry) {
  const std::string name = entry.path.filename().string();
  const auto ending = kindOfFile(entry.path) == ShelfKind::reference ? name.rfind('.') : name.find('.', 1);
  return fmt::format("{}{}{}", kFiles, entry.name, lowerCase(name.substr(ending)));
}

Json jsonOf(const ShelfEntry& entry) {
  return {{"name", entry.name},         {"kind", kindWord(entry.kind)}, {"file", placeOf(entry)},
          {"checksum", entry.checksum}, {"width", entry.width},         {"height", entry.height},
          {"note", entry.note},         {"tags", entry.tags},           {"albums", entry.albums},
          {"added", entry.added}};
}

// What the index says of the files of an archive, by their places.
std::map<std::string, ShelfEntry> entriesIn(const std::string& index, const fs::path& archive) {
  std::map<std::string, ShelfEntry> entries;
  try {
    const Json json = Json::parse(index);
    if (json.at("shelf").get<int>() > kVersion)
      throw Error(fmt::format("{} was exported by a newer jugendstil", archive.string()));
    for (const Json& one : json.at("entries")) {
      ShelfEntry entry;
      entry.name = one.at("name").get<std::string>();
      requireName(entry.name);
      entry.kind = kindOfWord(one.at("kind").get<std::string>());
      entry.checksum = one.at("checksum").get<std::string>();
      entry.note = one.at("note").get<std::string>();
      entry.tags = labelWords(one.at("tags").get<std::vector<std::string>>());
      entry.albums = labelWords(one.at("albums").get<std::vector<std::string>>());
      entry.added = one.at("added").get<std::int64_t>();
      entries[one.at("file").get<std::string>()] = std::move(entry);
    }
  } catch (const Json::exception&) {
    throw Error(fmt::format("{}: its shelf.json is damaged, or no shelf's", archive.string()));
  } catch (const UsageError& e) {
    throw Error(fmt::format("{}: {}", archive.string(), e.what()));
  }
  return entries;
}

class Importer {
 public:
  Importer(Shelf& shelf, const fs::path& archive) : shelf_(shelf), archive_(archive), zip_(archive) {}

  std::vector<AddedFile> run() {
    if (zip_.next() != kIndex)
      throw Error(
          fmt::format("{} is no archive of a shelf: it does not begin with {}", archive_.string(), kIndex));
    auto entries = entriesIn(zip_.content(kMostIndex), archive_);
    for (std::string place = zip_.next(); !place.empty(); place = zip_.next()) {
      const auto at = entries.find(place);
      if (at == entries.end()) continue;
      take(place, at->second, zip_.content(kMostFile));
      entries.erase(at);
    }
    if (!entries.empty())
      throw Error(fmt::format("{} is damaged: {} is not in it", archive_.string(), entries.begin()->first));
    return std::move(told_);
  }

 private:
  void take(const std::string& place, const ShelfEntry& entry, const std::string& content) {
    if (checksum(content) != entry.checksum)
      throw Error(fmt::format("{} is damaged: {} is not what it was", archive_.string(), place));
    for (ShelfEntry& twin : shelf_.withChecksum(entry.checksum)) {
      merge(twin, entry);
      return;
    }
    fs::create_directories(shelf_.keptFolder());
    const std::string name = fs::path(place).filename().string();
    const std::string ending = name.substr(std::min(name.size(), entry.name.size()));
    const fs::path file = fs::absolute(shelf_.keptFolder()) / (entry.checksum + ending);
    if (!kindOfFile(file))
      throw Error(fmt::format("{}: {} is nothing that a shelf holds", archive_.string(), place));
    writeFileAtomically(file, content);
    ReadFile read = readForShelf(file, entry.kind);
    read.entry.name = shelf_.freeName(entry.name);
    read.entry.note = entry.note;
    read.entry.tags = entry.tags;
    read.entry.albums = entry.albums;
    read.entry.added = entry.added;
    read.entry.kept = true;
    read.entry.id = shelf_.put(read.entry, read.look);
    told_.push_back({fs::path(place), AddedAs::fresh, std::move(read.entry), ""});
  }

  void merge(ShelfEntry& twin, const ShelfEntry& entry) {
    const auto add = [](std::vector<std::string>& words, const std::vector<std::string>& more) {
      words.insert(words.end(), more.begin(), more.end());
      words = labelWords(words);
    };
    add(twin.tags, entry.tags);
    add(twin.albums, entry.albums);
    if (twin.note.empty()) twin.note = entry.note;
    shelf_.change(twin);
    told_.push_back({twin.path, AddedAs::known, twin, ""});
  }

  Shelf& shelf_;
  const fs::path& archive_;
  ZipReader zip_;
  std::vector<AddedFile> told_;
};

}  // namespace

Exported exportShelf(const std::vector<ShelfEntry>& entries, const fs::path& archive) {
  Exported exported;
  std::vector<ShelfEntry> there;
  for (const ShelfEntry& entry : entries) {
    std::error_code code;
    (fs::is_regular_file(entry.path, code) ? there : exported.left).push_back(entry);
  }
  if (there.empty()) throw Error("none of these files is in its place: jugendstil shelf check");
  Json list = Json::array();
  AtomicFile target(archive);
  ZipWriter zip(target.temporary(), archive.string());
  // The index comes first, so that an archive can be read in one go; files are known again by it.
  for (ShelfEntry& entry : there) {
    entry.checksum = fileChecksum(entry.path);
    list.push_back(jsonOf(entry));
  }
  zip.add(kIndex, Json{{"shelf", kVersion}, {"entries", list}}.dump(1) + "\n");
  for (const ShelfEntry& entry : there) zip.add(placeOf(entry), readFile(entry.path, kMostFile));
  zip.finish();
  target.commit();
  exported.entries = there.size();
  return exported;
}

void importShelf(Shelf& shelf, const fs::path& archive, const std::function<void(const AddedFile&)>& told) {
  Transaction transaction(shelf.database());
  const std::vector<AddedFile> all = Importer(shelf, archive).run();
  transaction.commit();
  for (const AddedFile& one : all) told(one);
}

}  // namespace jugendstil
