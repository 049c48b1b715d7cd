// What the recipes of all commands have in common: inputs, references, settings.
#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "image/toml_reader.h"
#include "paint/recipe.h"
#include "paint/setting_values.h"

namespace jugendstil {

// --- Written. Paths are relative to the folder where they lie in or near it.
std::string recipeHead(const char* command);
std::string portablePath(const std::filesystem::path& path, const std::filesystem::path& folder);
std::string inputLines(const RecipeInput& input, const std::filesystem::path& folder);
std::string settingLine(const SettingInfo& info, const std::string& text);

// --- Read. Throws UsageError with a place.
class RecipeReader : protected TomlReader {
 public:
  RecipeReader(std::string_view text, const std::filesystem::path& file);

 protected:
  // Refuses recipes of another format or command.
  void head(const char* command) const;
  std::filesystem::path pathFrom(const std::string& file) const;
  std::optional<RecipeInput> input(const char* name, bool share = false) const;
  // The same of a table whose keys were looked at.
  RecipeInput inputIn(const toml::table& table, const char* name) const;
  // [[name]] blocks, none where there are none.
  std::vector<const toml::table*> blocks(const char* name) const;
  std::vector<RecipeInput> references() const;
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
