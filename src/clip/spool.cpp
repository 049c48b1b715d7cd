// SPDX-License-Identifier: Apache-2.0
#include "clip/spool.h"

#include <unistd.h>

#include <array>
#include <cerrno>
#include <cstring>
#include <span>
#include <string_view>

#include "base/error.h"
#include "base/file.h"

namespace jugendstil {
namespace {

constexpr std::string_view kMagic = "YUV4MPEG2";

// As much of standard input as there is room for; less only at its end.
std::string_view nextOfInput(std::span<char> room) {
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

void copyInput(File& to) {
  std::array<char, std::size_t{1} << 16> block;
  std::string_view bytes = nextOfInput(block);
  if (bytes.empty()) throw Error("nothing came through standard input; it should be a YUV4MPEG2 stream");
  if (!bytes.starts_with(kMagic))
    throw Error("standard input is not a YUV4MPEG2 stream; it must begin with \"YUV4MPEG2\"");
  for (; !bytes.empty(); bytes = nextOfInput(block)) to.write(bytes);
  to.close();
}

}  // namespace

SpooledClip::SpooledClip(const std::string& name, const std::filesystem::path& workFolder) : name_(name) {
  if (name != "-") return;
  file_.emplace(workFolder.string() + ".input.y4m");
  File to(file_->temporary(), File::Mode::write);
  copyInput(to);
  name_ = file_->temporary().string();
}

}  // namespace jugendstil
