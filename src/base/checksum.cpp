// SPDX-License-Identifier: Apache-2.0
#include "base/checksum.h"

#include <OpenImageIO/hash.h>

#include <algorithm>
#include <array>
#include <vector>

#include "base/file.h"

namespace jugendstil {

std::string checksum(std::string_view bytes) {
  OIIO::SHA1 hash;
  hash.append(bytes.data(), bytes.size());
  return hash.digest();
}

std::string fileChecksum(const std::filesystem::path& path) {
  File file(path, File::Mode::read);
  OIIO::SHA1 hash;
  std::array<char, std::size_t{1} << 16> block;
  while (const std::size_t got = file.read(block)) hash.append(block.data(), got);
  return hash.digest();
}

std::string fileEndsChecksum(const std::filesystem::path& path) {
  constexpr std::uint64_t kEnd = 4 << 20;
  const File file(path, File::Mode::read);
  const std::uint64_t size = file.size();
  const std::uint64_t head = std::min(size, kEnd);
  std::vector<char> bytes(std::min(size, 2 * kEnd));
  file.readAt(std::span(bytes).first(head), 0);
  file.readAt(std::span(bytes).subspan(head), std::max(head, size - kEnd));
  return checksum({bytes.data(), bytes.size()});
}

}  // namespace jugendstil
