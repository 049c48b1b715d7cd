#include "base/atomic_file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>

#include "base/error.h"

namespace jugendstil {

namespace fs = std::filesystem;

AtomicFile::AtomicFile(fs::path target) : target_(std::move(target)) {
  const fs::path folder = target_.has_parent_path() ? target_.parent_path() : fs::path(".");
  std::error_code code;
  if (!fs::is_directory(folder, code)) {
    throw Error(fmt::format("cannot write {}: there is no folder {}; make it first", target_.string(),
                            folder.string()));
  }
  if (fs::is_directory(target_, code)) {
    throw Error(fmt::format("cannot write {}: that is a folder; name a file in it", target_.string()));
  }
  temporary_ =
      folder / fmt::format(".{}.{}.part{}", target_.stem().string(), getpid(), target_.extension().string());
  const int file = open(temporary_.c_str(), O_CREAT | O_WRONLY | O_CLOEXEC, 0666);
  if (file < 0) {
    throw Error(fmt::format("cannot write in the folder {}: {}", folder.string(), std::strerror(errno)));
  }
  close(file);
}

AtomicFile::~AtomicFile() {
  if (!committed_) unlink(temporary_.c_str());
}

void AtomicFile::commit() {
  const int file = open(temporary_.c_str(), O_RDONLY | O_CLOEXEC);
  const bool flushed = file >= 0 && fsync(file) == 0;
  const int reason = errno;
  if (file >= 0) close(file);
  if (!flushed) {
    throw Error(
        fmt::format("cannot write {}: {}; nothing was kept", target_.string(), std::strerror(reason)));
  }
  if (rename(temporary_.c_str(), target_.c_str()) != 0) {
    throw Error(fmt::format("cannot write {}: {}", target_.string(), std::strerror(errno)));
  }
  committed_ = true;
}

void writeFileAtomically(const fs::path& target, std::string_view content) {
  AtomicFile file(target);
  std::ofstream stream(file.temporary(), std::ios::binary);
  stream.write(content.data(), static_cast<std::streamsize>(content.size()));
  stream.close();
  if (!stream) throw Error(fmt::format("cannot write {}: is the disk full?", target.string()));
  file.commit();
}

std::string readFile(const fs::path& path, std::size_t maxBytes) {
  std::error_code code;
  if (!fs::exists(path, code)) throw Error(fmt::format("{}: no such file", path.string()));
  if (fs::is_directory(path, code)) throw Error(fmt::format("{}: is a folder, not a file", path.string()));
  std::ifstream stream(path, std::ios::binary);
  if (!stream) throw Error(fmt::format("{}: cannot be opened: {}", path.string(), std::strerror(errno)));
  std::string content;
  char block[1 << 16];
  while (stream.read(block, sizeof block) || stream.gcount() > 0) {
    content.append(block, static_cast<std::size_t>(stream.gcount()));
    if (content.size() > maxBytes) {
      throw Error(fmt::format("{}: is larger than {} MB, too large for what it should be", path.string(),
                              maxBytes >> 20));
    }
  }
  return content;
}

}  // namespace jugendstil
