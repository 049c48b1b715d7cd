// Files that appear whole or not at all.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

namespace jugendstil {

// A temporary file beside the target. commit() flushes it to the disk and renames it; without commit() the
// destructor removes it. The temporary keeps the target's extension, by which picture writers choose
// their format.
class AtomicFile {
 public:
  // Throws Error where the folder is missing or not writable.
  explicit AtomicFile(std::filesystem::path target);
  ~AtomicFile();
  AtomicFile(const AtomicFile&) = delete;
  AtomicFile& operator=(const AtomicFile&) = delete;

  const std::filesystem::path& temporary() const { return temporary_; }

  // Throws Error where flushing or renaming fails (a full disk, for one).
  void commit();

 private:
  std::filesystem::path target_;
  std::filesystem::path temporary_;
  bool committed_ = false;
};

// Writes text or bytes atomically. Throws Error.
void writeFileAtomically(const std::filesystem::path& target, std::string_view content);

// The whole of a file. Throws Error where it is missing, a folder, unreadable or larger than maxBytes.
std::string readFile(const std::filesystem::path& path, std::size_t maxBytes);

}  // namespace jugendstil
