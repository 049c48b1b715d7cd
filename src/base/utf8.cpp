// SPDX-License-Identifier: Apache-2.0
#include "base/utf8.h"

#include <algorithm>
#include <cstdint>

namespace jugendstil {
namespace {

constexpr std::uint32_t kByte80 = 0x10FF80;

// Length of the character that a text begins with; 0 where that is not UTF-8.
std::size_t characterAt(std::string_view text) {
  const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
  const unsigned char first = byte(0);
  if (first < 0x80) return 1;
  const std::size_t length = first >= 0xF0 ? 4 : first >= 0xE0 ? 3 : 2;
  if (first < 0xC2 || first > 0xF4 || text.size() < length) return 0;
  for (std::size_t i = 1; i < length; ++i) {
    if ((byte(i) & 0xC0) != 0x80) return 0;
  }
  // Longer than need be, surrogates, beyond the last character.
  if ((first == 0xE0 && byte(1) < 0xA0) || (first == 0xED && byte(1) > 0x9F) ||
      (first == 0xF0 && byte(1) < 0x90) || (first == 0xF4 && byte(1) > 0x8F))
    return 0;
  return length;
}

std::string standIn(unsigned char byte) {
  const std::uint32_t code = kByte80 + (byte - 0x80U);
  std::string out;
  for (const int shift : {18, 12, 6, 0})
    out += static_cast<char>((shift == 18 ? 0xF0U : 0x80U) | (code >> shift & (shift == 18 ? 0x07U : 0x3FU)));
  return out;
}

// The byte that a character of four stands for; 0 where it stands for itself.
unsigned char byteFor(std::string_view character) {
  std::uint32_t code = 0;
  for (const char c : character) code = code << 6 | (static_cast<unsigned char>(c) & 0x3FU);
  code &= 0x1FFFFF;  // of the first byte only the lowest three bits count
  return code >= kByte80 ? static_cast<unsigned char>(code - kByte80 + 0x80U) : 0;
}

}  // namespace

std::string utf8Of(const std::filesystem::path& name) {
  const std::string& native = name.native();
  std::string out;
  std::string_view rest = native;
  while (!rest.empty()) {
    std::size_t length = characterAt(rest);
    const bool strange = length == 0 || (length == 4 && byteFor(rest.substr(0, 4)) != 0);
    if (length == 0) length = 1;
    for (std::size_t i = 0; strange && i < length; ++i) out += standIn(static_cast<unsigned char>(rest[i]));
    if (!strange) out += rest.substr(0, length);
    rest.remove_prefix(length);
  }
  return out;
}

std::filesystem::path nameOfUtf8(std::string_view text) {
  std::string out;
  while (!text.empty()) {
    const std::size_t length = std::max<std::size_t>(1, characterAt(text));
    const unsigned char byte = length == 4 ? byteFor(text.substr(0, 4)) : 0;
    if (byte != 0)
      out += static_cast<char>(byte);
    else
      out += text.substr(0, length);
    text.remove_prefix(length);
  }
  return out;
}

bool isUtf8(std::string_view text) {
  while (!text.empty()) {
    const std::size_t length = characterAt(text);
    if (length == 0) return false;
    text.remove_prefix(length);
  }
  return true;
}

}  // namespace jugendstil
