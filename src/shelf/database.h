// SPDX-License-Identifier: Apache-2.0
// An SQLite file as the shelf uses it, with our errors.
#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

struct sqlite3;
struct sqlite3_stmt;

namespace jugendstil {

class Database;

// A prepared statement. Parameters count from 1, columns from 0. All throw as Database does.
class Statement {
 public:
  Statement& bind(int parameter, std::string_view text);
  Statement& bind(int parameter, std::int64_t number);
  Statement& bindBytes(int parameter, std::string_view bytes);

  // Goes to the next row; false where there is none.
  bool step();
  // Runs a statement that gives no rows, and makes it ready to be bound again.
  void run();
  // Ready to be bound again, before the last row was reached.
  void reset();

  std::string text(int column) const;
  std::int64_t number(int column) const;

 private:
  friend class Database;
  Statement(const Database& database, std::string_view sql);
  struct Finish {
    void operator()(sqlite3_stmt* statement) const;
  };

  const Database* database_;
  std::unique_ptr<sqlite3_stmt, Finish> statement_;
};

// Others may use the file at the same time: a writer waits ten seconds for its turn. Throws Error where the
// file is damaged, is not ours, or stays in use; DiskError where the disk fails or is full.
class Database {
 public:
  // Made where it does not exist. Where the folder cannot be written to, it can only be read from.
  explicit Database(const std::filesystem::path& file);

  Statement prepare(std::string_view sql) const { return {*this, sql}; }
  void run(std::string_view sql) const;  // any number of statements
  std::int64_t lastId() const;           // of the row that was put in last
  std::int64_t changed() const;          // rows by the last statement
  bool readOnly() const { return readOnly_; }
  const std::filesystem::path& file() const { return file_; }

  // Throws what an SQLite code stands for.
  [[noreturn]] void fail(int code) const;

 private:
  friend class Statement;
  struct Close {
    void operator()(sqlite3* handle) const;
  };

  std::filesystem::path file_;
  bool readOnly_ = false;
  std::unique_ptr<sqlite3, Close> handle_;
};

// All or nothing: what was written is taken back unless commit() was reached.
class Transaction {
 public:
  explicit Transaction(const Database& database);
  ~Transaction();
  Transaction(const Transaction&) = delete;
  Transaction& operator=(const Transaction&) = delete;
  void commit();

 private:
  const Database& database_;
  bool open_ = true;
};

}  // namespace jugendstil
