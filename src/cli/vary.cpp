// SPDX-License-Identifier: Apache-2.0
#include "cli/vary.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>

#include "base/error.h"

namespace jugendstil::cli {

Choice choiceFrom(const std::string& word,
                  const std::function<void(const std::string& setting, const std::string& value)>& set) {
  const auto equals = word.find('=');
  if (equals == std::string::npos || equals == 0 || equals + 1 == word.size())
    throw UsageError(
        fmt::format("--vary is a setting and its values like likeness=20,50,80, not \"{}\"", word));
  Choice choice{word.substr(0, equals), {}};
  const std::string rest = word.substr(equals + 1);
  const char by = rest.find(';') != std::string::npos ? ';' : ',';
  for (std::size_t begin = 0; begin <= rest.size();) {
    const std::size_t end = std::min(rest.find(by, begin), rest.size());
    choice.values.push_back(rest.substr(begin, end - begin));
    begin = end + 1;
  }
  for (const std::string& value : choice.values) {
    try {
      set(choice.setting, value);
    } catch (const UsageError& e) {
      throw UsageError(fmt::format("--vary {}: {}", word, e.what()));
    }
  }
  return choice;
}

std::vector<Variation> variationsOf(
    const std::vector<std::string>& words, const std::string& stem, std::size_t most, const char* noun,
    const std::function<void(const std::string& setting, const std::string& value)>& set) {
  std::vector<Variation> all{{stem, {}}};
  for (const std::string& word : words) {
    const Choice choice = choiceFrom(word, set);
    std::vector<Variation> more;
    for (const Variation& one : all) {
      for (const std::string& value : choice.values) {
        more.push_back(one);
        more.back().name += fmt::format("-{}-{}", choice.setting, fileWord(value));
        more.back().settings.emplace_back(choice.setting, value);
      }
    }
    all = std::move(more);
    if (all.size() > most)
      throw UsageError(fmt::format("these are more than {} {}; vary less at once", most, noun));
  }
  std::vector<std::string> names;
  for (const Variation& one : all) names.push_back(one.name);
  std::sort(names.begin(), names.end());
  const auto twice = std::adjacent_find(names.begin(), names.end());
  if (twice != names.end())
    throw UsageError(fmt::format("two {} would be named {}; vary to values of their own", noun, *twice));
  return all;
}

std::string fileWord(std::string text) {
  for (char& c : text) {
    const bool plain = std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '.' || c == '-' || c == '_';
    if (!plain) c = '_';
  }
  return text;
}

}  // namespace jugendstil::cli
