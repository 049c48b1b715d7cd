// SPDX-License-Identifier: Apache-2.0
#include "shelf/schema.h"

#include <fmt/format.h>

#include <array>

#include "base/error.h"

namespace jugendstil {
namespace {

// "JuSh": that the file is a shelf.
constexpr int kApplication = 0x4A755368;

// What makes each version from the one before. A step that was shipped is never changed.
constexpr std::array<const char*, kSchemaVersion> kSteps{R"(
  CREATE TABLE entry (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE COLLATE NOCASE,
    kind TEXT NOT NULL,
    path TEXT NOT NULL,
    checksum TEXT NOT NULL,
    bytes INTEGER NOT NULL,
    modified INTEGER NOT NULL,
    width INTEGER NOT NULL,
    height INTEGER NOT NULL,
    note TEXT NOT NULL,
    added INTEGER NOT NULL,
    kept INTEGER NOT NULL
  );
  CREATE INDEX entry_checksum ON entry (checksum);
  CREATE INDEX entry_path ON entry (path);
  CREATE TABLE label (
    entry INTEGER NOT NULL REFERENCES entry ON DELETE CASCADE,
    sort TEXT NOT NULL CHECK (sort IN ('tag', 'album')),
    word TEXT NOT NULL COLLATE NOCASE,
    PRIMARY KEY (entry, sort, word)
  ) WITHOUT ROWID;
  CREATE INDEX label_word ON label (sort, word);
  CREATE TABLE thumbnail (
    entry INTEGER PRIMARY KEY REFERENCES entry ON DELETE CASCADE,
    picture BLOB NOT NULL
  );
  -- By themselves, because all of them are looked through at once.
  CREATE TABLE measure (
    entry INTEGER PRIMARY KEY REFERENCES entry ON DELETE CASCADE,
    numbers BLOB NOT NULL
  );
  CREATE VIRTUAL TABLE words USING fts5 (name, note, labels, path, tokenize = "unicode61 remove_diacritics 2 separators '_'",
    prefix = '2 3');
)"};

std::int64_t pragma(const Database& database, const char* name) {
  Statement statement = database.prepare(fmt::format("PRAGMA {}", name));
  return statement.step() ? statement.number(0) : 0;
}

}  // namespace

void migrate(const Database& database) {
  const auto version = pragma(database, "user_version");
  if (version == kSchemaVersion && pragma(database, "application_id") == kApplication) return;
  if (version > kSchemaVersion)
    throw Error(fmt::format("{} was written by a newer jugendstil; this one knows shelves up to version {}",
                            database.file().string(), kSchemaVersion));
  Transaction transaction(database);
  // Another program may have done it meanwhile.
  auto at = pragma(database, "user_version");
  Statement tables = database.prepare("SELECT count(*) FROM sqlite_schema");
  tables.step();
  if (pragma(database, "application_id") != kApplication && tables.number(0) != 0)
    throw Error(fmt::format("{} is no shelf, but a database of something else", database.file().string()));
  for (; at < kSchemaVersion; ++at) database.run(kSteps[at]);
  database.run(
      fmt::format("PRAGMA application_id = {}; PRAGMA user_version = {}", kApplication, kSchemaVersion));
  transaction.commit();
}

}  // namespace jugendstil
