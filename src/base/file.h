// SPDX-License-Identifier: Apache-2.0
// Files of the system, read and written without losing an error.
#pragma once

#include <cstddef>
#include <cstdint>
#include <filesystem>
#include <span>
#include <string>
#include <string_view>

namespace jugendstil {

// An open file. Everything that fails throws DiskError with the file's name and the system's reason.
class File {
 public:
  enum class Mode {
    read,     // must exist
    write,    // must exist, and is read as well
    create,   // must not exist, not even as a link
    replace,  // made, or emptied
    append,   // made where it does not exist
  };

  // Throws Error where a file to read does not exist or is a folder.
  File(std::filesystem::path path, Mode mode);
  ~File();
  File(File&& other) noexcept;
  File(const File&) = delete;
  File& operator=(const File&) = delete;

  // The next bytes, as many as there are and `to` has room for; 0 at the end.
  std::size_t read(std::span<char> to);
  // The same from a place, which does not move the next read().
  std::size_t readAt(std::span<char> to, std::uint64_t offset) const;

  void write(std::string_view bytes);
  void writeAt(std::string_view bytes, std::uint64_t offset);

  std::uint64_t size() const;
  // Sees all that was written onto the disk.
  void sync();
  // Some systems tell only now that they could not write.
  void close();

  const std::filesystem::path& path() const { return path_; }

 private:
  void requireReadable();
  [[noreturn]] void fail(const char* what) const;

  std::filesystem::path path_;
  int handle_ = -1;
};

// Throws Error where a name means a pipe, a device or the like, which cannot be read here and there, or more
// than once, and may never end.
void requireRegularFile(const std::filesystem::path& path);

// The whole of a file, or of a pipe that somebody writes into. Throws Error where it is
// missing, a folder, a device or larger than maxBytes, DiskError where reading fails.
std::string readFile(const std::filesystem::path& path, std::size_t maxBytes);

// The next bytes of standard input, as many as there is room for; fewer only at its end. Throws DiskError.
std::string_view readInput(std::span<char> room);

// Sees a folder's list of names onto the disk, without which a new or renamed file may be gone after a power
// cut. Throws DiskError. File systems that cannot do this for folders are left alone.
void syncFolder(const std::filesystem::path& folder);

// The folder in which a file of this name lies: "." for a bare name.
std::filesystem::path folderOf(const std::filesystem::path& file);

}  // namespace jugendstil
