// SPDX-License-Identifier: Apache-2.0
// Files that appear whole or not at all.
#pragma once

#include <filesystem>
#include <string_view>

namespace jugendstil {

// A temporary file beside the target, of a name that nobody can foretell. commit() sees it onto the disk and
// renames it; without commit() the destructor removes it, and after a kill the next one of the same target.
// The temporary keeps the target's extension, by which picture writers choose their format.
class AtomicFile {
 public:
  // What becomes of a file that another program makes under the target's name in the meantime.
  enum class Appeared { replaced, kept };

  // Throws Error where the folder is missing or the target is one, DiskError where it cannot be written.
  explicit AtomicFile(std::filesystem::path target, Appeared appeared = Appeared::replaced);
  ~AtomicFile();
  AtomicFile(const AtomicFile&) = delete;
  AtomicFile& operator=(const AtomicFile&) = delete;

  const std::filesystem::path& temporary() const { return temporary_; }

  // Throws DiskError where seeing it onto the disk or renaming fails, Error where a file has appeared that is
  // to be kept.
  void commit();

 private:
  std::filesystem::path target_;
  std::filesystem::path temporary_;
  bool mayReplace_ = true;
  bool committed_ = false;
  int lock_ = -1;
};

// Writes text or bytes atomically. Throws as AtomicFile does.
void writeFileAtomically(const std::filesystem::path& target, std::string_view content);

// Whether a file is what an AtomicFile of this target leaves when the program is killed.
bool isLeftOver(const std::filesystem::path& file, const std::filesystem::path& target);

}  // namespace jugendstil
