// SPDX-License-Identifier: Apache-2.0
#include "shelf/entry.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "base/error.h"
#include "base/file_name.h"
#include "base/utf8.h"
#include "base/words.h"
#include "image/picture_file.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr std::array<const char*, 6> kKinds{"reference", "swatch", "mask", "look", "recipe", "painter"};
// What divides words, or a name from what stands beside it, on the command line.
constexpr std::string_view kDividers = "@=:,;/\\*?\"'<>|";

bool endsWith(const std::string& name, std::string_view end) {
  return name.size() > end.size() && std::string_view(name).substr(name.size() - end.size()) == end;
}

}  // namespace

std::string kindWord(ShelfKind kind) { return kKinds[static_cast<std::size_t>(kind)]; }

ShelfKind kindOfWord(std::string_view word) {
  const auto at = std::find(kKinds.begin(), kKinds.end(), word);
  if (at == kKinds.end())
    throw UsageError(fmt::format(
        "what lies on a shelf is a reference, swatch, mask, look, recipe or painter, not \"{}\"", word));
  return static_cast<ShelfKind>(at - kKinds.begin());
}

std::optional<ShelfKind> kindOfFile(const fs::path& file) {
  const std::string name = lowerCase(file.filename().string());
  const std::string extension = extensionOf(file);
  if (endsWith(name, ".recipe.toml")) return ShelfKind::recipe;
  if (endsWith(name, ".look.toml") || extension == ".cube" || extension == ".clf") return ShelfKind::look;
  if (endsWith(name, ".painter.onnx")) return ShelfKind::painter;
  if (extension == ".svg") return ShelfKind::mask;
  if (isPictureName(file)) return ShelfKind::reference;
  return std::nullopt;
}

bool isPicture(ShelfKind kind) {
  return kind == ShelfKind::reference || kind == ShelfKind::swatch || kind == ShelfKind::mask;
}

std::string nameForFile(const fs::path& file) {
  std::string name = utf8Of(file.filename().stem());
  for (const char* second : {".look", ".recipe", ".painter"}) {
    if (endsWith(name, second)) name.erase(name.size() - std::string_view(second).size());
  }
  for (char& c : name) {
    const bool divides =
        c == ' ' || static_cast<unsigned char>(c) < ' ' || kDividers.find(c) != std::string::npos;
    if (divides) c = '_';
  }
  if (name.empty() || name[0] == '-' || name[0] == '.') name = "_" + name;
  return name;
}

void requireName(std::string_view name) {
  const auto wrong = std::find_if(name.begin(), name.end(), [](char c) {
    return static_cast<unsigned char>(c) <= ' ' || kDividers.find(c) != std::string_view::npos;
  });
  if (wrong != name.end())
    throw UsageError(fmt::format("a name on the shelf is one word without {} \"{}\" cannot be one",
                                 "spaces, @ = : , ; / \\ * ? and quotes;", name));
  if (name.empty() || name[0] == '-' || name[0] == '.' || !isUtf8(name))
    throw UsageError(
        fmt::format("a name on the shelf begins with a letter or a number, unlike \"{}\"", name));
}

std::vector<std::string> labelWords(const std::vector<std::string>& texts) {
  std::vector<std::string> words;
  for (const std::string& text : texts) {
    for (const std::string& part : splitAt(text, ',')) {
      const std::string word = trimmedWord(part);
      if (word.empty()) continue;
      if (word.find_first_of("@=:;\"'/\\\n\t") != std::string::npos || !isUtf8(word))
        throw UsageError(
            fmt::format("a tag or an album is plain words, like night or oil-sketch, not \"{}\"", word));
      const bool there = std::any_of(words.begin(), words.end(), [&](const std::string& one) {
        return lowerCase(one) == lowerCase(word);
      });
      if (!there) words.push_back(word);
    }
  }
  return words;
}

std::vector<std::string> withLabels(std::vector<std::string> words, const std::vector<std::string>& more) {
  words.insert(words.end(), more.begin(), more.end());
  return labelWords(words);
}

}  // namespace jugendstil
