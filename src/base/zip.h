// SPDX-License-Identifier: Apache-2.0
// Zip archives.
#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

struct archive;

namespace jugendstil {

// Writes an archive file by file, none of them compressed: what is put in is compressed already. Nothing is
// dated, so equal content gives an equal archive. Throws DiskError where the disk fails, Error else.
class ZipWriter {
 public:
  // `name` is what messages call it.
  ZipWriter(const std::filesystem::path& file, std::string name);

  void add(const std::string& name, std::string_view bytes);
  void finish();

 private:
  void require(int code) const;
  struct Close {
    void operator()(archive* a) const;
  };

  std::string name_;
  std::unique_ptr<archive, Close> archive_;
};

// Reads an archive from its beginning on. Throws Error where it is missing, no zip or damaged.
class ZipReader {
 public:
  explicit ZipReader(const std::filesystem::path& file);

  // Goes to the next file and gives its name; empty at the end. Folders are left out.
  std::string next();
  // The content of the file that next() named. Throws Error where it is larger than maxBytes.
  std::string content(std::size_t maxBytes);

 private:
  [[noreturn]] void fail() const;
  struct Close {
    void operator()(archive* a) const;
  };

  std::string name_;
  std::unique_ptr<archive, Close> archive_;
};

}  // namespace jugendstil
