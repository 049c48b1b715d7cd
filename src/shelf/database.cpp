// SPDX-License-Identifier: Apache-2.0
#include "shelf/database.h"

#include <fmt/format.h>
#include <sqlite3.h>
#include <unistd.h>

#include "base/error.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr int kPatience = 10000;  // milliseconds

// A name as SQLite's URI takes it.
std::string uriOf(const fs::path& file) {
  std::string uri = "file:";
  const std::string name = fs::absolute(file).string();
  for (const char c : name) {
    const auto byte = static_cast<unsigned char>(c);
    const bool plain = std::isalnum(byte) != 0 || c == '/' || c == '.' || c == '-' || c == '_';
    uri += plain ? std::string(1, c) : fmt::format("%{:02X}", byte);
  }
  return uri;
}

bool writable(const fs::path& file) {
  std::error_code code;
  return access(file.parent_path().c_str(), W_OK) == 0 &&
         (!fs::exists(file, code) || access(file.c_str(), W_OK) == 0);
}

}  // namespace

void Statement::Finish::operator()(sqlite3_stmt* statement) const { sqlite3_finalize(statement); }

Statement::Statement(const Database& database, std::string_view sql) : database_(&database) {
  sqlite3_stmt* statement = nullptr;
  const int code = sqlite3_prepare_v2(database.handle_.get(), sql.data(), static_cast<int>(sql.size()),
                                      &statement, nullptr);
  statement_.reset(statement);
  if (code != SQLITE_OK) database.fail(code);
}

Statement& Statement::bind(int parameter, std::string_view text) {
  const int code = sqlite3_bind_text(statement_.get(), parameter, text.empty() ? "" : text.data(),
                                     static_cast<int>(text.size()), SQLITE_TRANSIENT);
  if (code != SQLITE_OK) database_->fail(code);
  return *this;
}

Statement& Statement::bind(int parameter, std::int64_t number) {
  const int code = sqlite3_bind_int64(statement_.get(), parameter, number);
  if (code != SQLITE_OK) database_->fail(code);
  return *this;
}

Statement& Statement::bindBytes(int parameter, std::string_view bytes) {
  const int code =
      sqlite3_bind_blob64(statement_.get(), parameter, bytes.data(), bytes.size(), SQLITE_TRANSIENT);
  if (code != SQLITE_OK) database_->fail(code);
  return *this;
}

bool Statement::step() {
  const int code = sqlite3_step(statement_.get());
  if (code == SQLITE_ROW) return true;
  if (code != SQLITE_DONE) {
    sqlite3_reset(statement_.get());
    database_->fail(code);
  }
  return false;
}

void Statement::run() {
  while (step()) {
  }
  sqlite3_reset(statement_.get());
}

void Statement::reset() { sqlite3_reset(statement_.get()); }

std::string Statement::text(int column) const {
  const void* bytes = sqlite3_column_blob(statement_.get(), column);
  const int size = sqlite3_column_bytes(statement_.get(), column);
  return bytes == nullptr ? std::string() : std::string(static_cast<const char*>(bytes), size);
}

std::int64_t Statement::number(int column) const { return sqlite3_column_int64(statement_.get(), column); }

void Database::Close::operator()(sqlite3* handle) const { sqlite3_close(handle); }

Database::Database(const fs::path& file) : file_(file), readOnly_(!writable(file)) {
  sqlite3* handle = nullptr;
  // Where nobody can write, nobody does: then the file is read as it lies, without the two that stand beside
  // it while it is in use.
  const std::string uri = uriOf(file) + (readOnly_ ? "?immutable=1" : "");
  const int flags = SQLITE_OPEN_URI | SQLITE_OPEN_NOMUTEX |
                    (readOnly_ ? SQLITE_OPEN_READONLY : SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE);
  const int code = sqlite3_open_v2(uri.c_str(), &handle, flags, nullptr);
  handle_.reset(handle);
  if (code != SQLITE_OK) fail(code);
  sqlite3_extended_result_codes(handle, 1);
  sqlite3_busy_timeout(handle, kPatience);
  run("PRAGMA foreign_keys = ON");
  // A writer and readers do not wait for one another; every change is on the disk when it is told.
  if (!readOnly_) run("PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL");
}

void Database::run(std::string_view sql) const {
  const int code = sqlite3_exec(handle_.get(), std::string(sql).c_str(), nullptr, nullptr, nullptr);
  if (code != SQLITE_OK) fail(code);
}

std::int64_t Database::lastId() const { return sqlite3_last_insert_rowid(handle_.get()); }
std::int64_t Database::changed() const { return sqlite3_changes64(handle_.get()); }

void Database::fail(int code) const {
  const std::string name = file_.string();
  const std::string reason = handle_ ? sqlite3_errmsg(handle_.get()) : std::string(sqlite3_errstr(code));
  switch (code & 0xFF) {
    case SQLITE_CORRUPT:
    case SQLITE_NOTADB:
      throw Error(fmt::format(
          "{} is damaged ({}); move it away and import what was exported of it, or add the files again. The "
          "pictures themselves are where they were",
          name, reason));
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
      throw Error(fmt::format("{} has been in use by another program for {} seconds; try again", name,
                              kPatience / 1000));
    case SQLITE_READONLY:
      throw DiskError(fmt::format("cannot write {}", name), "the file or its folder is read-only");
    case SQLITE_FULL:
      throw DiskError(fmt::format("cannot write {}", name), "no space left on the disk");
    case SQLITE_IOERR:
    case SQLITE_CANTOPEN:
    case SQLITE_PERM:
      throw DiskError(fmt::format("cannot use {}", name), reason);
    default:
      throw Error(fmt::format("{}: {}", name, reason));
  }
}

Transaction::Transaction(const Database& database) : database_(database) {
  // As a writer at once: two that read first and write then would wait for one another.
  database_.run("BEGIN IMMEDIATE");
}

Transaction::~Transaction() {
  if (!open_) return;
  try {
    database_.run("ROLLBACK");
  } catch (const Error&) {  // where the disk failed it was taken back already
  }
}

void Transaction::commit() {
  database_.run("COMMIT");
  open_ = false;
}

}  // namespace jugendstil
