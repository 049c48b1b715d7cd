// SPDX-License-Identifier: Apache-2.0
#include "clip/spool.h"

#include <array>
#include <string_view>

#include "base/error.h"
#include "base/file.h"

namespace jugendstil {
namespace {

constexpr std::string_view kMagic = "YUV4MPEG2";

void copyInput(File& to) {
  std::array<char, std::size_t{1} << 16> block;
  std::string_view bytes = readInput(block);
  if (bytes.empty()) throw Error("nothing came through standard input; it should be a YUV4MPEG2 stream");
  if (!bytes.starts_with(kMagic))
    throw Error("standard input is not a YUV4MPEG2 stream; it must begin with \"YUV4MPEG2\"");
  for (; !bytes.empty(); bytes = readInput(block)) to.write(bytes);
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
