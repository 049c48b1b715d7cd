// SPDX-License-Identifier: Apache-2.0
// What the recipes of all commands have in common when they are read: inputs, references, settings.
#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/toml_reader.h"
#include "recipe/piece_result.h"
#include "recipe/recipe_input.h"
#include "recipe/setting_values.h"

namespace jugendstil {

// All throw UsageError with a line and a column.
class RecipeReader : protected TomlReader {
 public:
  RecipeReader(std::string_view text, const std::filesystem::path& file);

 protected:
  // Refuses recipes of another format or command.
  void head(const char* command) const;
  std::filesystem::path pathFrom(const std::string& file) const;
  std::optional<RecipeInput> input(const char* name, bool share = false) const;
  // [network]: a file, or the name of one that comes with the program.
  std::optional<RecipeInput> network() const;
  // The same of a table whose keys were looked at.
  RecipeInput inputIn(const toml::table& table, const char* name) const;
  // [[name]] blocks, none where there are none; and such blocks that are files with shares.
  std::vector<const toml::table*> blocks(const char* name) const;
  std::vector<RecipeInput> sharedInputs(const char* name) const;
  std::vector<RecipeInput> references() const { return sharedInputs("reference"); }
  std::vector<RecipePart> parts() const;           // [[part]]
  std::vector<RecipeHold> holds() const;           // [[hold]]
  std::optional<RecipeMask> mask() const;          // [mask]
  std::optional<PieceResult> pieceResult() const;  // [result]
  // Calls set(name, value) for all that [table] holds.
  using Set = std::function<void(const std::string& name, const std::string& value)>;
  void settings(const char* table, const std::vector<SettingInfo>& infos, const Set& set) const;
  bool truth(const toml::table& table, const char* key, bool fallback) const;

 private:
  RecipeInput checkedInput(const toml::table& table, const char* name, bool share) const;
  std::string settingValue(const toml::node& node, const SettingInfo& info) const;

  std::filesystem::path folder_;
};

}  // namespace jugendstil
