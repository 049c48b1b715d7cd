// SPDX-License-Identifier: Apache-2.0
#include "shelf/shelf.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/utf8.h"
#include "base/words.h"
#include "shelf/schema.h"
#include "shelf/suiting.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr const char* kColumns =
    "entry.id, entry.name, entry.kind, entry.path, entry.checksum, entry.bytes, entry.modified, entry.width, "
    "entry.height, entry.note, entry.added, entry.kept";

fs::path databaseIn(const fs::path& folder) {
  std::error_code code;
  fs::create_directories(folder, code);
  if (code && !fs::is_directory(folder)) throw DiskError("cannot make " + folder.string(), code.message());
  return folder / "shelf.db";
}

// Every word as it may be begun, whatever stands in it.
std::string matchOf(const std::string& words) {
  std::string match;
  for (const std::string& word : splitAt(words, ' ')) {
    if (word.empty()) continue;
    std::string quoted;
    for (const char c : word) quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
    match += fmt::format("\"{}\"* ", quoted);
  }
  return match;
}

// The conditions of a search, and what is bound to them.
struct Conditions {
  std::string from = "entry";
  std::string where = "1";
  std::vector<std::string> values;

  explicit Conditions(const ShelfSearch& search) {
    if (const std::string match = matchOf(search.words); !match.empty()) {
      from += " JOIN words ON words.rowid = entry.id";
      where += " AND words MATCH ?";
      values.push_back(match);
    }
    if (search.kind) {
      where += " AND entry.kind = ?";
      values.push_back(kindWord(*search.kind));
    }
    const auto labelled = [&](const char* sort, const std::vector<std::string>& words) {
      for (const std::string& word : words) {
        where += fmt::format(
            " AND EXISTS (SELECT 1 FROM label WHERE entry = entry.id AND sort = '{}' AND word = ?)", sort);
        values.push_back(word);
      }
    };
    labelled("tag", search.tags);
    labelled("album", search.albums);
  }

  Statement select(const Database& database, const std::string& columns, const std::string& more) const {
    Statement statement =
        database.prepare(fmt::format("SELECT {} FROM {} WHERE {} {}", columns, from, where, more));
    for (std::size_t i = 0; i < values.size(); ++i) statement.bind(static_cast<int>(i) + 1, values[i]);
    return statement;
  }
};

}  // namespace

Shelf::Shelf(fs::path folder) : folder_(std::move(folder)), database_(databaseIn(folder_)) {
  migrate(database_);
}

bool Shelf::standsIn(const fs::path& folder) {
  std::error_code code;
  return fs::exists(folder / "shelf.db", code);
}

std::vector<ShelfEntry> Shelf::entries(Statement& statement) const {
  std::vector<ShelfEntry> all;
  while (statement.step()) {
    ShelfEntry e;
    e.id = statement.number(0);
    e.name = statement.text(1);
    e.kind = kindOfWord(statement.text(2));
    e.path = nameOfUtf8(statement.text(3));
    e.checksum = statement.text(4);
    e.bytes = statement.number(5);
    e.modified = statement.number(6);
    e.width = static_cast<int>(statement.number(7));
    e.height = static_cast<int>(statement.number(8));
    e.note = statement.text(9);
    e.added = statement.number(10);
    e.kept = statement.number(11) != 0;
    all.push_back(std::move(e));
  }
  Statement labels = database_.prepare("SELECT sort, word FROM label WHERE entry = ? ORDER BY word");
  for (ShelfEntry& e : all) {
    labels.bind(1, e.id);
    while (labels.step()) (labels.text(0) == "tag" ? e.tags : e.albums).push_back(labels.text(1));
    labels.reset();
  }
  return all;
}

std::vector<FoundEntry> Shelf::find(const ShelfSearch& search) const {
  const Conditions conditions(search);
  std::vector<FoundEntry> found;
  if (!search.like && !search.colour && !search.suits) {
    const std::string limit = search.most > 0 ? fmt::format(" LIMIT {}", search.most) : "";
    Statement statement =
        conditions.select(database_, kColumns, "ORDER BY entry.name COLLATE NOCASE" + limit);
    for (ShelfEntry& e : entries(statement)) found.push_back({std::move(e), 0});
    return found;
  }
  std::vector<std::pair<double, std::int64_t>> ranked;
  {
    Conditions measured = conditions;
    measured.from += " JOIN measure ON measure.entry = entry.id";
    Statement statement = measured.select(database_, "entry.id, measure.numbers", "");
    while (statement.step()) {
      const auto measures = measuresIn(statement.text(1));
      if (!measures) continue;
      const double rank = search.suits  ? suiting(*search.suits, *measures).misfit
                          : search.like ? difference(*search.like, *measures)
                                        : -shareOf(*search.colour, *measures);
      ranked.emplace_back(rank, statement.number(0));
    }
  }
  std::sort(ranked.begin(), ranked.end());
  if (search.most > 0 && ranked.size() > search.most) ranked.resize(search.most);
  Statement one = database_.prepare(fmt::format("SELECT {} FROM entry WHERE id = ?", kColumns));
  for (const auto& [rank, id] : ranked) {
    one.bind(1, id);
    for (ShelfEntry& e : entries(one)) found.push_back({std::move(e), std::abs(rank)});
    one.reset();
  }
  return found;
}

std::optional<ShelfEntry> Shelf::named(std::string_view name) const {
  Statement statement = database_.prepare(fmt::format("SELECT {} FROM entry WHERE name = ?", kColumns));
  statement.bind(1, name);
  const auto found = entries(statement);
  return found.empty() ? std::nullopt : std::optional(found[0]);
}

std::optional<ShelfEntry> Shelf::at(const fs::path& file) const {
  Statement statement = database_.prepare(fmt::format("SELECT {} FROM entry WHERE path = ?", kColumns));
  statement.bind(1, utf8Of(file));
  const auto found = entries(statement);
  return found.empty() ? std::nullopt : std::optional(found[0]);
}

std::vector<ShelfEntry> Shelf::withChecksum(std::string_view checksum) const {
  Statement statement =
      database_.prepare(fmt::format("SELECT {} FROM entry WHERE checksum = ? ORDER BY id", kColumns));
  statement.bind(1, checksum);
  return entries(statement);
}

std::vector<std::string> Shelf::names() const {
  Statement statement = database_.prepare("SELECT name FROM entry ORDER BY name COLLATE NOCASE");
  std::vector<std::string> all;
  while (statement.step()) all.push_back(statement.text(0));
  return all;
}

EntryLook Shelf::lookOf(std::int64_t id) const {
  Statement statement =
      database_.prepare("SELECT picture, numbers FROM thumbnail JOIN measure USING (entry) WHERE entry = ?");
  statement.bind(1, id);
  if (!statement.step()) return {};
  return {statement.text(0), measuresIn(statement.text(1))};
}

std::string Shelf::freeName(const std::string& name) const {
  Statement statement = database_.prepare("SELECT 1 FROM entry WHERE name = ?");
  for (int i = 1;; ++i) {
    std::string one = i == 1 ? name : fmt::format("{}-{}", name, i);
    statement.bind(1, one);
    if (!statement.step()) return one;
    statement.reset();
  }
}

std::int64_t Shelf::put(const ShelfEntry& entry, const EntryLook& look) {
  Statement statement = database_.prepare(
      "INSERT INTO entry (name, kind, path, checksum, bytes, modified, width, height, note, added, kept) "
      "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
  statement.bind(1, entry.name).bind(2, kindWord(entry.kind)).bind(3, utf8Of(entry.path));
  statement.bind(4, entry.checksum).bind(5, entry.bytes).bind(6, entry.modified);
  statement.bind(7, std::int64_t{entry.width}).bind(8, std::int64_t{entry.height}).bind(9, entry.note);
  statement.bind(10, entry.added).bind(11, std::int64_t{entry.kept});
  statement.run();
  ShelfEntry put = entry;
  put.id = database_.lastId();
  putLabels(put);
  changeLook(put.id, look);
  return put.id;
}

void Shelf::change(const ShelfEntry& entry) {
  Statement statement = database_.prepare(
      "UPDATE entry SET name = ?, kind = ?, path = ?, checksum = ?, bytes = ?, modified = ?, width = ?, "
      "height = ?, note = ?, kept = ? WHERE id = ?");
  statement.bind(1, entry.name).bind(2, kindWord(entry.kind)).bind(3, utf8Of(entry.path));
  statement.bind(4, entry.checksum).bind(5, entry.bytes).bind(6, entry.modified);
  statement.bind(7, std::int64_t{entry.width}).bind(8, std::int64_t{entry.height}).bind(9, entry.note);
  statement.bind(10, std::int64_t{entry.kept}).bind(11, entry.id);
  statement.run();
  putLabels(entry);
}

void Shelf::putLabels(const ShelfEntry& entry) {
  database_.prepare("DELETE FROM label WHERE entry = ?").bind(1, entry.id).run();
  Statement label = database_.prepare("INSERT OR IGNORE INTO label (entry, sort, word) VALUES (?, ?, ?)");
  for (const std::string& word : entry.tags) label.bind(1, entry.id).bind(2, "tag").bind(3, word).run();
  for (const std::string& word : entry.albums) label.bind(1, entry.id).bind(2, "album").bind(3, word).run();
  database_.prepare("DELETE FROM words WHERE rowid = ?").bind(1, entry.id).run();
  database_.prepare("INSERT INTO words (rowid, name, note, labels, path) VALUES (?, ?, ?, ?, ?)")
      .bind(1, entry.id)
      .bind(2, entry.name)
      .bind(3, entry.note)
      .bind(4, fmt::format("{} {}", fmt::join(entry.tags, " "), fmt::join(entry.albums, " ")))
      .bind(5, utf8Of(entry.path.filename()))
      .run();
}

void Shelf::changeLook(std::int64_t id, const EntryLook& look) {
  if (!look.measures) {
    database_.prepare("DELETE FROM thumbnail WHERE entry = ?").bind(1, id).run();
    database_.prepare("DELETE FROM measure WHERE entry = ?").bind(1, id).run();
    return;
  }
  database_.prepare("INSERT OR REPLACE INTO thumbnail (entry, picture) VALUES (?, ?)")
      .bind(1, id)
      .bindBytes(2, look.thumbnail)
      .run();
  database_.prepare("INSERT OR REPLACE INTO measure (entry, numbers) VALUES (?, ?)")
      .bind(1, id)
      .bindBytes(2, measureBytes(*look.measures))
      .run();
}

void Shelf::forget(std::int64_t id) {
  database_.prepare("DELETE FROM words WHERE rowid = ?").bind(1, id).run();
  database_.prepare("DELETE FROM entry WHERE id = ?").bind(1, id).run();
}

}  // namespace jugendstil
