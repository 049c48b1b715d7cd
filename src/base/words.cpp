// SPDX-License-Identifier: Apache-2.0
#include "base/words.h"

#include <algorithm>
#include <cctype>
#include <regex>

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
  std::smatch line;
  std::smatch column;
  if (!std::regex_search(message, line, std::regex("[Ll]ine:?[ (]*([0-9]+)"))) return {};
  const bool both = std::regex_search(message, column, std::regex("[Cc]olumn:?[ (]*([0-9]+)"));
  return ", line " + line[1].str() + (both ? ", column " + column[1].str() : "");
}

}  // namespace jugendstil
