// SPDX-License-Identifier: Apache-2.0
// One program at a time in a folder.
#pragma once

#include <filesystem>

namespace jugendstil {

// Holds a folder, which is made where there is none, until the object goes or the program ends, however it
// ends: the lock is the system's (flock) and leaves nothing behind.
class FolderLock {
 public:
  // Throws Error where another holder has it, DiskError where the folder cannot be made or opened.
  explicit FolderLock(const std::filesystem::path& folder);
  ~FolderLock();
  FolderLock(const FolderLock&) = delete;
  FolderLock& operator=(const FolderLock&) = delete;

 private:
  int handle_ = -1;
};

}  // namespace jugendstil
