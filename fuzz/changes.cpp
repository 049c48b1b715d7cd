// SPDX-License-Identifier: Apache-2.0
#include "changes.h"

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstdint>

namespace fuzz {
namespace {

constexpr std::size_t kLongest = std::size_t{1} << 22;

class Change {
 public:
  Change(const std::vector<std::string>& files, std::mt19937& chance) : files_(files), chance_(chance) {}

  std::string made() {
    std::string bytes = files_[below(files_.size())];
    // Mostly little damage: much of it is refused by the first look.
    for (std::size_t left = 1 + below(1 + below(8)); left > 0; --left) once(bytes);
    return bytes;
  }

 private:
  std::size_t below(std::size_t most) {
    return std::uniform_int_distribution<std::size_t>(0, most - 1)(chance_);
  }

  void once(std::string& bytes) {
    if (bytes.empty()) bytes.push_back(static_cast<char>(below(256)));
    const std::size_t at = below(bytes.size());
    const std::size_t part = 1 + below(std::min<std::size_t>(bytes.size() - at, 1 + below(64)));
    switch (below(9)) {
      case 0:
        bytes[at] = static_cast<char>(bytes[at] ^ (1 << below(8)));
        break;
      case 1:
        bytes[at] = static_cast<char>(below(256));
        break;
      case 2:
        putNumber(bytes, at);
        break;
      case 3:
        bytes.erase(at, part);
        break;
      case 4:
        if (bytes.size() < kLongest) bytes.insert(at, bytes.substr(at, part));
        break;
      case 5:
        if (below(8) == 0) bytes.resize(at);
        break;
      case 6:
        std::fill_n(bytes.begin() + static_cast<std::ptrdiff_t>(at), part, below(2) == 0 ? '\0' : '\xFF');
        break;
      case 7:
        putDigits(bytes, at);
        break;
      default:
        takeFromAnother(bytes, at, part);
    }
  }

  // Numbers at which counts and sizes turn over, of one, two, four or eight bytes either way round.
  void putNumber(std::string& bytes, std::size_t at) {
    constexpr std::array<std::uint64_t, 12> kEnds{0,      1,      0x7F,       0x80,       0xFF,       0x7FFF,
                                                  0x8000, 0xFFFF, 0x7FFFFFFF, 0x80000000, 0xFFFFFFFF, ~0ULL};
    const std::uint64_t value = kEnds.at(below(kEnds.size()));
    const std::size_t size = std::min(bytes.size() - at, std::size_t{1} << below(4));
    const bool great = below(2) == 0;
    for (std::size_t i = 0; i < size; ++i)
      bytes[at + i] = static_cast<char>(value >> (8 * (great ? size - 1 - i : i)) & 0xFF);
  }

  void putDigits(std::string& bytes, std::size_t at) {
    const std::array<const char*, 10> kTexts{"-1",  "0",   "99999999999999999999", "1e308", "1e-320",
                                             "nan", "inf", "0x7fffffff",           "\"",    "[["};
    std::size_t begin = at;
    while (begin < bytes.size() && (bytes[begin] < '0' || bytes[begin] > '9')) ++begin;
    std::size_t end = begin;
    while (end < bytes.size() && bytes[end] >= '0' && bytes[end] <= '9') ++end;
    bytes.replace(begin, end - begin, kTexts.at(below(kTexts.size())));
  }

  void takeFromAnother(std::string& bytes, std::size_t at, std::size_t part) {
    const std::string& other = files_[below(files_.size())];
    if (other.empty() || bytes.size() > kLongest) return;
    const std::size_t from = below(other.size());
    bytes.replace(at, below(2) == 0 ? part : 0, other.substr(from, part));
  }

  const std::vector<std::string>& files_;
  std::mt19937& chance_;
};

}  // namespace

std::string changed(const std::vector<std::string>& files, std::mt19937& chance) {
  return Change(files, chance).made();
}

}  // namespace fuzz
