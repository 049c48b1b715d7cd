// SPDX-License-Identifier: Apache-2.0
#include "base/words.h"

#include <algorithm>
#include <cctype>

namespace jugendstil {
namespace {

std::size_t editDistance(std::string_view a, std::string_view b) {
  std::vector<std::size_t> row(b.size() + 1);
  for (std::size_t j = 0; j <= b.size(); ++j) row[j] = j;
  for (std::size_t i = 1; i <= a.size(); ++i) {
    std::size_t diagonal = row[0];
    row[0] = i;
    for (std::size_t j = 1; j <= b.size(); ++j) {
      const std::size_t change = diagonal + (a[i - 1] == b[j - 1] ? 0 : 1);
      diagonal = row[j];
      row[j] = std::min({row[j] + 1, row[j - 1] + 1, change});
    }
  }
  return row.back();
}

// The digits behind a word: "line 7", "line: 7" or "line (7".
std::string numberBehind(std::string_view word, std::string_view message) {
  for (auto at = message.find(word); at != std::string_view::npos; at = message.find(word, at + 1)) {
    std::string_view rest = message.substr(at + word.size());
    if (rest.starts_with(':')) rest.remove_prefix(1);
    rest.remove_prefix(std::min(rest.find_first_not_of(" ("), rest.size()));
    const auto digits = rest.substr(0, rest.find_first_not_of("0123456789"));
    if (!digits.empty()) return std::string(digits);
  }
  return {};
}

}  // namespace

std::string nearestWord(std::string_view word, const std::vector<std::string>& candidates) {
  return nearestWord(word, candidates, std::max<std::size_t>(2, word.size() / 3));
}

std::string nearestWord(std::string_view word, const std::vector<std::string>& candidates, std::size_t most) {
  std::string best;
  std::size_t least = most + 1;
  for (const std::string& candidate : candidates) {
    const std::size_t distance = editDistance(word, candidate);
    if (distance < least) {
      least = distance;
      best = candidate;
    }
  }
  return best;
}

std::string lowerCase(std::string text) {
  std::transform(text.begin(), text.end(), text.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return text;
}

std::string trimmedWord(std::string_view text) {
  const auto first = text.find_first_not_of(" \t");
  return first == std::string_view::npos
             ? std::string()
             : std::string(text.substr(first, text.find_last_not_of(" \t") - first + 1));
}

std::string harmless(std::string text) {
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto c = static_cast<unsigned char>(text[i]);
    if ((c < ' ' && c != '\n' && c != '\t') || c == 0x7F) text[i] = ' ';
    // In UTF-8 a second set of them.
    const bool second = i > 0 && text[i - 1] == '\xC2' && c >= 0x80 && c < 0xA0;
    if (second) text[i - 1] = text[i] = ' ';
  }
  return text;
}

std::string onOneLine(std::string text) {
  text = harmless(std::move(text));
  std::replace_if(
      text.begin(), text.end(), [](char c) { return c == '\n' || c == '\t'; }, ' ');
  return text;
}

std::vector<std::string> splitAt(std::string_view text, char by) {
  std::vector<std::string> parts;
  for (;;) {
    const auto end = text.find(by);
    parts.emplace_back(text.substr(0, end));
    if (end == std::string_view::npos) return parts;
    text.remove_prefix(end + 1);
  }
}

std::string placeToldIn(const std::string& message) {
  const std::string told = lowerCase(message);
  const std::string line = numberBehind("line", told);
  const std::string column = numberBehind("column", told);
  if (line.empty()) return {};
  return ", line " + line + (column.empty() ? "" : ", column " + column);
}

}  // namespace jugendstil
