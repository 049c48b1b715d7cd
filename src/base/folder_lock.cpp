// SPDX-License-Identifier: Apache-2.0
#include "base/folder_lock.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>

#include "base/error.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

// Whoever held it before may have removed the folder between our opening and our locking it.
bool stillStands(int handle, const fs::path& folder) {
  struct stat held {};
  struct stat named {};
  return fstat(handle, &held) == 0 && stat(folder.c_str(), &named) == 0 && held.st_ino == named.st_ino &&
         held.st_dev == named.st_dev;
}

}  // namespace

FolderLock::FolderLock(const fs::path& folder) {
  for (;;) {
    std::error_code code;
    fs::create_directories(folder, code);
    if (code) throw DiskError(fmt::format("the folder {} cannot be made", folder.string()), code.message());
    handle_ = open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    if (handle_ < 0)
      throw DiskError(fmt::format("the folder {} cannot be opened", folder.string()), std::strerror(errno));
    const bool taken = flock(handle_, LOCK_EX | LOCK_NB) != 0 && errno == EWOULDBLOCK;
    // File systems that know no locks are worked on without.
    if (!taken && stillStands(handle_, folder)) return;
    close(handle_);
    handle_ = -1;
    if (taken) {
      throw Error(fmt::format(
          "another run is at work in {}; wait for it, end it, or choose another name for the result",
          folder.string()));
    }
  }
}

FolderLock::~FolderLock() {
  if (handle_ >= 0) close(handle_);
}

}  // namespace jugendstil
