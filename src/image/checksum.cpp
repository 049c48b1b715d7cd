#include "image/checksum.h"

#include <OpenImageIO/hash.h>

#include "image/atomic_file.h"

namespace jugendstil {

std::string checksum(std::string_view bytes) {
  OIIO::SHA1 hash;
  hash.append(bytes.data(), bytes.size());
  return hash.digest();
}

std::string fileChecksum(const std::filesystem::path& path) {
  return checksum(readFile(path, std::size_t{8} << 30));
}

}  // namespace jugendstil
