#include "base/checksum.h"

#include <OpenImageIO/hash.h>
#include <fmt/format.h>

#include <algorithm>
#include <fstream>

#include "base/atomic_file.h"
#include "base/error.h"

namespace jugendstil {

std::string checksum(std::string_view bytes) {
  OIIO::SHA1 hash;
  hash.append(bytes.data(), bytes.size());
  return hash.digest();
}

std::string fileChecksum(const std::filesystem::path& path) {
  return checksum(readFile(path, std::size_t{8} << 30));
}

std::string fileEndsChecksum(const std::filesystem::path& path) {
  constexpr std::streamoff kEnd = 4 << 20;
  std::ifstream stream(path, std::ios::binary | std::ios::ate);
  if (!stream) throw Error(fmt::format("{} cannot be opened", path.string()));
  const std::streamoff size = stream.tellg();
  std::string bytes(static_cast<std::size_t>(std::min(size, 2 * kEnd)), '\0');
  const std::streamoff head = std::min(size, kEnd);
  stream.seekg(0);
  stream.read(bytes.data(), head);
  stream.seekg(std::max(head, size - kEnd));
  stream.read(bytes.data() + head, static_cast<std::streamoff>(bytes.size()) - head);
  return checksum(bytes);
}

}  // namespace jugendstil
