// SPDX-License-Identifier: Apache-2.0
#include "base/atomic_file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <random>

#include "base/error.h"
#include "base/file.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

// Names may have 255 bytes; a long one leaves room for what stands around it.
constexpr std::size_t kMostStem = 80;
constexpr std::size_t kMostExtension = 40;
constexpr int kTries = 16;
constexpr std::size_t kRandomDigits = 8;

std::string beginOfName(const fs::path& target) {
  return fmt::format(".{}.", target.stem().string().substr(0, kMostStem));
}

std::string endOfName(const fs::path& target) {
  const std::string extension = target.extension().string();
  return extension.size() <= kMostExtension ? ".part" + extension : ".part";
}

// In the target's name: the temporary file's tells nobody anything.
[[noreturn]] void refuse(const fs::path& target, const std::string& reason) {
  throw DiskError(fmt::format("cannot write {}", target.string()), reason);
}

struct Created {
  fs::path name;
  int handle = -1;
};

bool hasName(int handle) {
  struct stat about {};
  return fstat(handle, &about) == 0 && about.st_nlink > 0;
}

// The lock says that its writer lives; it goes with the process, however that ends. Waits while another looks
// whether it does. False where it was taken for a left-over before it was locked. Some file systems have no
// locks; nobody takes anything for a left-over there.
bool lockedByWriter(int handle) {
  int failed = 0;
  do failed = flock(handle, LOCK_EX);
  while (failed != 0 && errno == EINTR);
  return failed != 0 || hasName(handle);
}

// Those of this target whose program is gone; one that is at work keeps its own.
void removeLeftOvers(const fs::path& target) {
  std::error_code code;
  for (fs::directory_iterator at(folderOf(target), code); at != fs::directory_iterator();
       at.increment(code)) {
    if (!isLeftOver(at->path(), target) || !at->is_regular_file(code)) continue;
    const int handle = open(at->path().c_str(), O_RDONLY | O_NOFOLLOW | O_CLOEXEC | O_NONBLOCK);
    if (handle < 0) continue;
    if (flock(handle, LOCK_EX | LOCK_NB) == 0) unlink(at->path().c_str());
    close(handle);
  }
}

Created createdBeside(const fs::path& target) {
  std::random_device random;
  for (int i = 0; i < kTries; ++i) {
    fs::path name =
        folderOf(target) / fmt::format("{}{:08x}{}", beginOfName(target), random(), endOfName(target));
    const int handle = open(name.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0666);
    if (handle >= 0 && lockedByWriter(handle)) return {std::move(name), handle};
    if (handle >= 0) close(handle);
    if (handle < 0 && errno != EEXIST) break;
  }
  refuse(target, std::strerror(errno));
}

// Whether it was done; not where the target is there.
bool renamedToNew(const fs::path& from, const fs::path& target) {
  if (renameat2(AT_FDCWD, from.c_str(), AT_FDCWD, target.c_str(), RENAME_NOREPLACE) == 0) return true;
  if (errno == EEXIST) return false;
  // Some file systems know no such renaming.
  if (errno != EINVAL && errno != ENOSYS) refuse(target, std::strerror(errno));
  std::error_code code;
  if (fs::exists(target, code)) return false;
  if (rename(from.c_str(), target.c_str()) != 0) refuse(target, std::strerror(errno));
  return true;
}

}  // namespace

AtomicFile::AtomicFile(fs::path target, Appeared appeared) : target_(std::move(target)) {
  const fs::path folder = folderOf(target_);
  std::error_code code;
  if (!fs::is_directory(folder, code)) {
    throw Error(fmt::format("cannot write {}: there is no folder {}; make it first", target_.string(),
                            folder.string()));
  }
  if (fs::is_directory(target_, code)) {
    throw Error(fmt::format("cannot write {}: that is a folder; name a file in it", target_.string()));
  }
  removeLeftOvers(target_);
  mayReplace_ = appeared == Appeared::replaced || fs::exists(target_, code);
  Created created = createdBeside(target_);
  temporary_ = std::move(created.name);
  lock_ = created.handle;
}

AtomicFile::~AtomicFile() {
  if (!committed_) unlink(temporary_.c_str());
  close(lock_);
}

void AtomicFile::commit() {
  try {
    File file(temporary_, File::Mode::write);
    file.sync();
    file.close();
  } catch (const DiskError& e) {
    refuse(target_, e.reason());
  }
  if (mayReplace_) {
    if (rename(temporary_.c_str(), target_.c_str()) != 0) refuse(target_, std::strerror(errno));
  } else if (!renamedToNew(temporary_, target_)) {
    throw Error(fmt::format(
        "another program has made {} while it was being written, and it is not replaced; move it away",
        target_.string()));
  }
  committed_ = true;
  syncFolder(folderOf(target_));
}

void writeFileAtomically(const fs::path& target, std::string_view content) {
  AtomicFile file(target);
  try {
    File to(file.temporary(), File::Mode::write);
    to.write(content);
    to.close();
  } catch (const DiskError& e) {
    refuse(target, e.reason());
  }
  file.commit();
}

bool isLeftOver(const fs::path& file, const fs::path& target) {
  const std::string name = file.filename().string();
  const std::string begin = beginOfName(target);
  const std::string end = endOfName(target);
  return name.size() == begin.size() + kRandomDigits + end.size() && name.starts_with(begin) &&
         name.ends_with(end) &&
         name.find_first_not_of("0123456789abcdef", begin.size()) == begin.size() + kRandomDigits;
}

}  // namespace jugendstil
