// SPDX-License-Identifier: Apache-2.0
#include "base/zip.h"

#include <archive.h>
#include <archive_entry.h>
#include <fmt/format.h>

#include <array>
#include <cstring>

#include "base/error.h"

namespace jugendstil {
namespace {

// Zip knows no time before this one.
constexpr std::time_t kNoTime = 315532800;

struct FreeEntry {
  void operator()(archive_entry* e) const { archive_entry_free(e); }
};

}  // namespace

void ZipWriter::Close::operator()(archive* a) const { archive_write_free(a); }

ZipWriter::ZipWriter(const std::filesystem::path& file, std::string name)
    : name_(std::move(name)), archive_(archive_write_new()) {
  archive_write_set_format_zip(archive_.get());
  archive_write_zip_set_compression_store(archive_.get());
  require(archive_write_open_filename(archive_.get(), file.c_str()));
}

void ZipWriter::add(const std::string& name, std::string_view bytes) {
  const std::unique_ptr<archive_entry, FreeEntry> entry(archive_entry_new());
  archive_entry_set_pathname(entry.get(), name.c_str());
  archive_entry_set_size(entry.get(), static_cast<la_int64_t>(bytes.size()));
  archive_entry_set_filetype(entry.get(), AE_IFREG);
  archive_entry_set_perm(entry.get(), 0644);
  archive_entry_set_mtime(entry.get(), kNoTime, 0);
  require(archive_write_header(archive_.get(), entry.get()));
  if (archive_write_data(archive_.get(), bytes.data(), bytes.size()) != static_cast<la_ssize_t>(bytes.size()))
    require(ARCHIVE_FATAL);
}

void ZipWriter::finish() { require(archive_write_close(archive_.get())); }

void ZipWriter::require(int code) const {
  if (code >= ARCHIVE_WARN) return;
  const int number = archive_errno(archive_.get());
  const std::string what = fmt::format("cannot write {}", name_);
  if (number > 0) throw DiskError(what, std::strerror(number));
  throw Error(
      fmt::format("{}: the archive did not take a part of it; try again with a smaller picture", what));
}

void ZipReader::Close::operator()(archive* a) const { archive_read_free(a); }

ZipReader::ZipReader(const std::filesystem::path& file) : name_(file.string()), archive_(archive_read_new()) {
  constexpr std::size_t kBlock = 1U << 16U;
  std::error_code code;
  if (!std::filesystem::is_regular_file(file, code)) throw Error(fmt::format("there is no file {}", name_));
  archive_read_support_format_zip(archive_.get());
  if (archive_read_open_filename(archive_.get(), file.c_str(), kBlock) != ARCHIVE_OK) fail();
}

std::string ZipReader::next() {
  for (;;) {
    archive_entry* entry = nullptr;
    const int code = archive_read_next_header(archive_.get(), &entry);
    if (code == ARCHIVE_EOF) return {};
    if (code < ARCHIVE_WARN) fail();
    const char* name = archive_entry_pathname(entry);
    if (archive_entry_filetype(entry) == AE_IFREG && name != nullptr && *name != '\0') return name;
  }
}

std::string ZipReader::content(std::size_t maxBytes) {
  std::string bytes;
  std::array<char, 1U << 16U> block;
  for (;;) {
    const la_ssize_t got = archive_read_data(archive_.get(), block.data(), block.size());
    if (got < 0) fail();
    if (got == 0) return bytes;
    if (bytes.size() + static_cast<std::size_t>(got) > maxBytes)
      throw Error(fmt::format("{}: a file inside is larger than {} MB", name_, maxBytes >> 20U));
    bytes.append(block.data(), static_cast<std::size_t>(got));
  }
}

void ZipReader::fail() const {
  const char* reason = archive_error_string(archive_.get());
  throw Error(fmt::format("{} cannot be read as a zip archive{}", name_,
                          reason == nullptr ? std::string() : fmt::format(" ({})", reason)));
}

}  // namespace jugendstil
