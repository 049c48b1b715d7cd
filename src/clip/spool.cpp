#include "clip/spool.h"

#include <fmt/format.h>

#include <array>
#include <cstdio>
#include <string_view>

#include "base/error.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr std::string_view kMagic = "YUV4MPEG2";

void copyInput(std::FILE* to, const fs::path& path) {
  std::array<char, 1 << 16> block;
  std::size_t all = 0;
  for (;;) {
    const std::size_t got = std::fread(block.data(), 1, block.size(), stdin);
    if (got == 0) break;
    if (all == 0 && std::string_view(block.data(), std::min(got, kMagic.size())) != kMagic)
      throw Error("standard input is not a YUV4MPEG2 stream; it must begin with \"YUV4MPEG2\"");
    if (std::fwrite(block.data(), 1, got, to) != got)
      throw Error(fmt::format("{} cannot be written: is the disk full?", path.string()));
    all += got;
  }
  if (all == 0) throw Error("nothing came through standard input; it should be a YUV4MPEG2 stream");
}

}  // namespace

SpooledClip::SpooledClip(const std::string& name, const fs::path& workFolder) : name_(name) {
  if (name != "-") return;
  file_ = workFolder.string() + ".input.y4m";
  std::FILE* to = std::fopen(file_.c_str(), "wb");
  if (to == nullptr) throw Error(fmt::format("{} cannot be written; is the folder there?", file_.string()));
  try {
    copyInput(to, file_);
  } catch (...) {
    std::fclose(to);
    fs::remove(file_);
    throw;
  }
  std::fclose(to);
  name_ = file_.string();
}

SpooledClip::~SpooledClip() {
  std::error_code code;
  if (!file_.empty()) fs::remove(file_, code);
}

}  // namespace jugendstil
