// SPDX-License-Identifier: Apache-2.0
#include "base/toml_reader.h"

#include <fmt/format.h>

#include <algorithm>
#include <sstream>

#include "base/error.h"
#include "base/utf8.h"
#include "base/words.h"

namespace jugendstil {

std::string tomlText(const std::string& text) {
  std::ostringstream stream;
  stream << toml::value<std::string>(utf8Of(text));
  return stream.str();
}

TomlReader::TomlReader(std::string_view text, std::filesystem::path file) : file_(std::move(file)) {
  try {
    root_ = toml::parse(text, std::string_view(file_.native()));
  } catch (const toml::parse_error& e) {
    const bool twice = e.description().find("redefine") != std::string_view::npos;
    fail(e.source(),
         twice ? "this is said a second time; once is right"
               : std::string("this is no TOML: a line is name = value, texts stand in quotes, tables "
                             "in [brackets]"));
  }
}

void TomlReader::fail(const toml::source_region& where, const std::string& why) const {
  throw UsageError(
      fmt::format("{}, line {}, column {}: {}", file_.string(), where.begin.line, where.begin.column, why));
}

void TomlReader::allow(const toml::table& table, const std::vector<std::string>& known,
                       const char* what) const {
  for (const auto& [key, node] : table) {
    const std::string name(key.str());
    if (std::find(known.begin(), known.end(), name) != known.end()) continue;
    const std::string near = nearestWord(name, known);
    fail(key.source(),
         fmt::format("unknown {} \"{}\"{}", what, name,
                     near.empty() ? std::string() : fmt::format("; did you mean \"{}\"?", near)));
  }
}

const toml::table* TomlReader::tableOf(const toml::node* node, const char* name) const {
  if (node == nullptr) return nullptr;
  if (!node->is_table())
    fail(node->source(), fmt::format("\"{}\" is a table: write [{}] above its keys", name, name));
  return node->as_table();
}

std::string TomlReader::text(const toml::table& table, const char* key) const {
  const auto* node = table.get(key);
  if (node == nullptr) return {};
  if (!node->is_string()) fail(node->source(), fmt::format("\"{}\" is text in quotes", key));
  return **node->as_string();
}

double TomlReader::number(const toml::table& table, const char* key, double fallback) const {
  const auto* node = table.get(key);
  if (node == nullptr) return fallback;
  if (!node->is_number()) fail(node->source(), fmt::format("\"{}\" is a number", key));
  return *node->value<double>();
}

double TomlReader::number(const toml::table& table, const char* key, double fallback, double least,
                          double most) const {
  const double value = number(table, key, fallback);
  const auto* node = table.get(key);
  if (node != nullptr && !(value >= least && value <= most)) {
    fail(node->source(), fmt::format("\"{}\" is a number from {} to {}, not {}", key, least, most, value));
  }
  return value;
}

}  // namespace jugendstil
