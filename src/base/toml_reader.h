// SPDX-License-Identifier: Apache-2.0
// TOML files that a person may have edited: every complaint has a line, a column and a suggestion.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Wconversion"
#include <toml++/toml.h>
#pragma GCC diagnostic pop

namespace jugendstil {

// Text as a TOML string, quotes and all. Bytes that are not UTF-8 become what utf8Of() makes of them.
std::string tomlText(const std::string& text);

// A parsed file and the checks that its readers share. All throw UsageError "FILE, line L, column C: ...".
class TomlReader {
 public:
  TomlReader(std::string_view text, std::filesystem::path file);

  const toml::table& root() const { return root_; }

  [[noreturn]] void fail(const toml::source_region& where, const std::string& why) const;

  // Every key of the table is one of known; else the nearest known one is offered.
  void allow(const toml::table& table, const std::vector<std::string>& known, const char* what) const;

  // Null where the node is missing.
  const toml::table* tableOf(const toml::node* node, const char* name) const;

  // Empty or the fallback where the key is missing. The range is inclusive.
  std::string text(const toml::table& table, const char* key) const;
  double number(const toml::table& table, const char* key, double fallback) const;
  double number(const toml::table& table, const char* key, double fallback, double least, double most) const;

 private:
  std::filesystem::path file_;
  toml::table root_;
};

}  // namespace jugendstil
