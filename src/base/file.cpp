// SPDX-License-Identifier: Apache-2.0
#include "base/file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <array>
#include <cerrno>
#include <cstring>
#include <utility>

#include "base/error.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

int flagsOf(File::Mode mode) {
  switch (mode) {
    case File::Mode::read:
      return O_RDONLY;
    case File::Mode::write:
      return O_RDWR;
    case File::Mode::create:
      return O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW;
    case File::Mode::replace:
      return O_RDWR | O_CREAT | O_TRUNC;
    case File::Mode::append:
      return O_RDWR | O_CREAT | O_APPEND;
  }
  return O_RDONLY;
}

// One call of the system, repeated where a signal came in between.
template <typename Call>
auto uninterrupted(const Call& call) {
  auto result = call();
  while (result < 0 && errno == EINTR) result = call();
  return result;
}

}  // namespace

File::File(fs::path path, Mode mode) : path_(std::move(path)) {
  // A pipe that nobody writes into shall not be waited for.
  const int flags = flagsOf(mode) | O_CLOEXEC | (mode == Mode::read ? O_NONBLOCK : 0);
  handle_ = uninterrupted([&] { return open(path_.c_str(), flags, 0666); });
  if (handle_ < 0) {
    const bool reading = mode == Mode::read;
    if (reading && errno == ENOENT) throw Error(fmt::format("{}: no such file", path_.string()));
    fail(reading ? "cannot be opened" : "cannot be written");
  }
  if (mode == Mode::read) requireReadable();
}

void File::requireReadable() {
  struct stat about {};
  if (fstat(handle_, &about) != 0) return;
  if (S_ISREG(about.st_mode) || S_ISFIFO(about.st_mode)) {
    fcntl(handle_, F_SETFL, fcntl(handle_, F_GETFL) & ~O_NONBLOCK);
    return;
  }
  ::close(std::exchange(handle_, -1));
  throw Error(
      fmt::format("{}: is a {}, not a file", path_.string(), S_ISDIR(about.st_mode) ? "folder" : "device"));
}

File::~File() {
  if (handle_ >= 0) ::close(handle_);
}

File::File(File&& other) noexcept
    : path_(std::move(other.path_)), handle_(std::exchange(other.handle_, -1)) {}

void File::fail(const char* what) const {
  throw DiskError(fmt::format("{}: {}", path_.string(), what), std::strerror(errno));
}

std::size_t File::read(std::span<char> to) {
  std::size_t got = 0;
  while (got < to.size()) {
    const auto n = uninterrupted([&] { return ::read(handle_, to.data() + got, to.size() - got); });
    if (n < 0) fail("cannot be read");
    if (n == 0) break;
    got += n;
  }
  return got;
}

std::size_t File::readAt(std::span<char> to, std::uint64_t offset) const {
  std::size_t got = 0;
  while (got < to.size()) {
    const auto n = uninterrupted(
        [&] { return pread(handle_, to.data() + got, to.size() - got, static_cast<off_t>(offset + got)); });
    if (n < 0) fail("cannot be read");
    if (n == 0) break;
    got += n;
  }
  return got;
}

void File::write(std::string_view bytes) {
  while (!bytes.empty()) {
    const auto n = uninterrupted([&] { return ::write(handle_, bytes.data(), bytes.size()); });
    if (n < 0) fail("cannot be written");
    bytes.remove_prefix(n);
  }
}

void File::writeAt(std::string_view bytes, std::uint64_t offset) {
  while (!bytes.empty()) {
    const auto n = uninterrupted(
        [&] { return pwrite(handle_, bytes.data(), bytes.size(), static_cast<off_t>(offset)); });
    if (n < 0) fail("cannot be written");
    bytes.remove_prefix(n);
    offset += n;
  }
}

std::uint64_t File::size() const {
  struct stat about {};
  if (fstat(handle_, &about) != 0) fail("cannot be read");
  return about.st_size;
}

void File::sync() {
  if (uninterrupted([&] { return fsync(handle_); }) != 0) fail("cannot be written");
}

void File::close() {
  if (::close(std::exchange(handle_, -1)) != 0) fail("cannot be written");
}

void requireRegularFile(const fs::path& path) {
  std::error_code code;
  const fs::file_status status = fs::status(path, code);
  if (code || !fs::exists(status) || fs::is_directory(status) || fs::is_regular_file(status)) return;
  throw Error(fmt::format("{}: is a pipe or a device, not a file; save what comes out of it as a file first",
                          path.string()));
}

std::string readFile(const fs::path& path, std::size_t maxBytes) {
  const auto requireSmall = [&](std::uintmax_t size) {
    if (size > maxBytes)
      throw Error(fmt::format("{}: is larger than {} MB, too large for what it should be", path.string(),
                              maxBytes >> 20));
  };
  File file(path, File::Mode::read);
  std::string content;
  // Known beforehand of files, but not of pipes.
  std::error_code code;
  if (const std::uintmax_t size = fs::file_size(path, code); !code) {
    requireSmall(size);
    content.reserve(size);
  }
  std::array<char, std::size_t{1} << 16> block;
  while (const std::size_t got = file.read(block)) {
    content.append(block.data(), got);
    requireSmall(content.size());
  }
  return content;
}

std::string_view readInput(std::span<char> room) {
  std::size_t all = 0;
  while (all < room.size()) {
    const ssize_t got = ::read(STDIN_FILENO, room.data() + all, room.size() - all);
    if (got < 0 && errno == EINTR) continue;
    if (got < 0) throw DiskError("standard input cannot be read", std::strerror(errno));
    if (got == 0) break;
    all += got;
  }
  return {room.data(), all};
}

void syncFolder(const fs::path& folder) {
  const int handle = open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (handle < 0) return;  // a folder that may be written into but not read
  const bool synced = uninterrupted([&] { return fsync(handle); }) == 0;
  const int reason = errno;
  close(handle);
  if (!synced && reason == EIO)
    throw DiskError(fmt::format("{}: cannot be written", folder.string()), std::strerror(reason));
}

fs::path folderOf(const fs::path& file) {
  return file.has_parent_path() ? file.parent_path() : fs::path(".");
}

}  // namespace jugendstil
