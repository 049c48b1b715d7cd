// SPDX-License-Identifier: Apache-2.0
#include "base/base64.h"

#include "base/error.h"

namespace jugendstil {
namespace {

constexpr std::string_view kLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

}  // namespace

std::string base64Of(std::string_view bytes) {
  std::string text;
  text.reserve((bytes.size() + 2) / 3 * 4);
  for (std::size_t i = 0; i < bytes.size(); i += 3) {
    const auto byte = [&](std::size_t k) {
      return i + k < bytes.size() ? static_cast<unsigned char>(bytes[i + k]) : 0U;
    };
    const unsigned group = byte(0) << 16U | byte(1) << 8U | byte(2);
    for (std::size_t k = 0; k < 4; ++k) {
      text += i + k > bytes.size() ? '=' : kLetters[group >> (18U - 6U * static_cast<unsigned>(k)) & 63U];
    }
  }
  return text;
}

std::string bytesOfBase64(std::string_view text) {
  if (text.size() % 4 != 0) throw Error("text that should be base64 is cut short");
  std::string bytes;
  bytes.reserve(text.size() / 4 * 3);
  for (std::size_t i = 0; i < text.size(); i += 4) {
    unsigned group = 0;
    std::size_t letters = 0;
    for (std::size_t k = 0; k < 4; ++k) {
      const auto at = kLetters.find(text[i + k]);
      const bool fills = at == std::string_view::npos && text[i + k] == '=' && k >= 2 && i + 4 == text.size();
      if (at == std::string_view::npos ? !fills : letters != k)
        throw Error("text that should be base64 has other letters in it");
      if (!fills) ++letters;
      group = group << 6U | (fills ? 0U : static_cast<unsigned>(at));
    }
    for (std::size_t k = 0; k + 1 < letters; ++k)
      bytes += static_cast<char>(group >> (16U - 8U * static_cast<unsigned>(k)) & 255U);
  }
  return bytes;
}

}  // namespace jugendstil
