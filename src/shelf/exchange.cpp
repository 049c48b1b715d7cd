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
#include "shelf/archive_reader.h"

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

// A file that was taken out of an archive, and what the archive says of it.
struct Unpacked {
  std::string place;
  ShelfEntry said;
  ReadFile read;  // kept, or the twin that is there
};

// Takes all files out, whole as they were; those whose content the shelf has in its place are not written.
class Unpacker {
 public:
  Unpacker(const Shelf& shelf, const fs::path& archive) : shelf_(shelf), archive_(archive), zip_(archive) {}

  std::vector<Unpacked> run() {
    if (zip_.next() != kIndex)
      throw Error(
          fmt::format("{} is no archive of a shelf: it does not begin with {}", archive_.string(), kIndex));
    auto entries = entriesIn(zip_.content(kMostIndex), archive_);
    std::vector<Unpacked> all;
    for (std::string place = zip_.next(); !place.empty(); place = zip_.next()) {
      const auto at = entries.find(place);
      if (at == entries.end()) continue;
      all.push_back({place, at->second, kept(place, at->second, zip_.content(kMostFile))});
      entries.erase(at);
    }
    if (!entries.empty())
      throw Error(fmt::format("{} is damaged: {} is not in it", archive_.string(), entries.begin()->first));
    return all;
  }

 private:
  ReadFile kept(const std::string& place, const ShelfEntry& said, const std::string& content) const {
    if (checksum(content) != said.checksum)
      throw Error(fmt::format("{} is damaged: {} is not what it was", archive_.string(), place));
    std::error_code code;
    for (ShelfEntry& twin : shelf_.withChecksum(said.checksum)) {
      if (fs::exists(twin.path, code)) return {std::move(twin), {}};
    }
    if (!kindOfFile(place))
      throw Error(fmt::format("{}: {} is nothing that a shelf holds", archive_.string(), place));
    fs::create_directories(shelf_.keptFolder());
    const fs::path file = keptPath(shelf_, place, said.checksum);
    writeFileAtomically(file, content);
    ReadFile read = readForShelf(file, said.kind);
    read.entry.kept = true;
    return read;
  }

  const Shelf& shelf_;
  const fs::path& archive_;
  ArchiveReader zip_;
};

AddedFile putThere(Shelf& shelf, Unpacked& one) {
  for (ShelfEntry& twin : shelf.withChecksum(one.said.checksum)) {
    twin.tags = withLabels(std::move(twin.tags), one.said.tags);
    twin.albums = withLabels(std::move(twin.albums), one.said.albums);
    if (twin.note.empty()) twin.note = one.said.note;
    // Where its own is gone, the archive's takes its place.
    twin.path = one.read.entry.path;
    twin.modified = one.read.entry.modified;
    twin.kept = one.read.entry.kept;
    shelf.change(twin);
    return {twin.path, AddedAs::known, twin, ""};
  }
  ShelfEntry& entry = one.read.entry;
  entry.name = shelf.freeName(one.said.name);
  entry.note = one.said.note;
  entry.tags = one.said.tags;
  entry.albums = one.said.albums;
  entry.added = one.said.added;
  entry.id = shelf.put(entry, one.read.look);
  return {one.place, AddedAs::fresh, entry, ""};
}

}  // namespace

Exported exportShelf(const std::vector<ShelfEntry>& entries, const fs::path& archive) {
  Exported exported;
  std::vector<ShelfEntry> there;
  for (const ShelfEntry& entry : entries) {
    std::error_code code;
    (fs::is_regular_file(entry.path, code) ? there : exported.left).push_back(entry);
  }
  if (there.empty()) throw Error("none of these files is in its place any more");
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
  std::vector<Unpacked> all = Unpacker(shelf, archive).run();
  std::vector<AddedFile> added;
  Transaction transaction(shelf.database());
  for (Unpacked& one : all) added.push_back(putThere(shelf, one));
  transaction.commit();
  for (const AddedFile& one : added) told(one);
}

}  // namespace jugendstil
