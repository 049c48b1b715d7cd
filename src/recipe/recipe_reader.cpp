// SPDX-License-Identifier: Apache-2.0
#include "recipe/recipe_reader.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/utf8.h"
#include "recipe/recipe_file.h"

namespace jugendstil {

namespace fs = std::filesystem;

RecipeReader::RecipeReader(std::string_view text, const fs::path& file)
    : TomlReader(text, file), folder_(fs::absolute(file).parent_path()) {}

void RecipeReader::head(const char* command) const {
  if (const auto* node = root().get("recipe")) {
    if (node->value<std::int64_t>() != kRecipeFormat)
      fail(node->source(), "this version reads recipes of format 1");
  }
  if (const auto* node = root().get("command")) {
    const auto found = node->value<std::string>();
    if (found == command) return;
    const auto& known = recipeCommands();
    if (found && std::find(known.begin(), known.end(), *found) != known.end())
      fail(node->source(), fmt::format("this is a recipe of {0}; use it with {0}, or with redo", *found));
    fail(node->source(), fmt::format("the command of a recipe is one of {}", fmt::join(known, ", ")));
  }
}

fs::path RecipeReader::pathFrom(const std::string& file) const {
  const fs::path name = nameOfUtf8(file);
  return name.is_absolute() ? name : (folder_ / name).lexically_normal();
}

RecipeInput RecipeReader::inputIn(const toml::table& table, const char* name) const {
  RecipeInput in;
  const std::string file = text(table, "file");
  if (file.empty()) fail(table.source(), fmt::format("\"{}\" needs file = \"...\"", name));
  in.path = pathFrom(file);
  in.checksum = text(table, "checksum");
  in.share = number(table, "share", 1);
  if (!(in.share > 0) || !std::isfinite(in.share))
    fail(table.get("share")->source(), "\"share\" is a number above 0");
  return in;
}

RecipeInput RecipeReader::checkedInput(const toml::table& table, const char* name, bool share) const {
  std::vector<std::string> known{"file", "checksum"};
  if (share) known.emplace_back("share");
  allow(table, known, "key");
  return inputIn(table, name);
}

std::optional<RecipeInput> RecipeReader::input(const char* name, bool share) const {
  const toml::table* table = tableOf(root().get(name), name);
  if (table == nullptr) return std::nullopt;
  return checkedInput(*table, name, share);
}

std::optional<RecipeInput> RecipeReader::network() const {
  const toml::table* table = tableOf(root().get("network"), "network");
  if (table == nullptr || table->get("shipped") == nullptr) return input("network");
  allow(*table, {"shipped", "checksum"}, "key");
  RecipeInput in;
  in.shipped = text(*table, "shipped");
  if (in.shipped.empty())
    fail(table->source(), "\"shipped\" is the name of a network that comes with the program");
  in.checksum = text(*table, "checksum");
  return in;
}

std::vector<const toml::table*> RecipeReader::blocks(const char* name) const {
  std::vector<const toml::table*> all;
  const auto* node = root().get(name);
  if (node == nullptr) return all;
  if (!node->is_array_of_tables())
    fail(node->source(), fmt::format("every {0} is written [[{0}]], one block each", name));
  for (const toml::node& one : *node->as_array()) all.push_back(one.as_table());
  return all;
}

std::vector<RecipeInput> RecipeReader::sharedInputs(const char* name) const {
  std::vector<RecipeInput> all;
  for (const toml::table* table : blocks(name)) all.push_back(checkedInput(*table, name, true));
  return all;
}

std::vector<RecipePart> RecipeReader::parts() const {
  std::vector<RecipePart> all;
  for (const toml::table* table : blocks("part")) {
    allow(*table, {"mask", "mask_checksum", "file", "checksum", "share"}, "key");
    const std::string file = text(*table, "mask");
    if (file.empty()) fail(table->source(), "\"part\" needs mask = \"...\"");
    all.push_back({{pathFrom(file), text(*table, "mask_checksum"), 1}, inputIn(*table, "part")});
  }
  return all;
}

std::vector<RecipeHold> RecipeReader::holds() const {
  std::vector<RecipeHold> all;
  for (const toml::table* table : blocks("hold")) {
    allow(*table, {"file", "checksum", "faces", "likeness"}, "key");
    const double likeness = number(*table, "likeness", -1);
    if (!(likeness >= 0 && likeness <= 100))
      fail(table->source(), "\"hold\" needs a likeness from 0 to 100, like likeness = 85");
    if (truth(*table, "faces", false))
      all.push_back({std::nullopt, likeness});
    else
      all.push_back({inputIn(*table, "hold"), likeness});
  }
  return all;
}

std::optional<RecipeMask> RecipeReader::mask() const {
  const toml::table* table = tableOf(root().get("mask"), "mask");
  if (table == nullptr) return std::nullopt;
  allow(*table, {"file", "checksum", "side"}, "key");
  const std::string side = table->get("side") == nullptr ? "inside" : text(*table, "side");
  if (side != "inside" && side != "outside")
    fail(table->get("side")->source(), "\"side\" is \"inside\" or \"outside\"");
  return RecipeMask{inputIn(*table, "mask"), side == "inside"};
}

void RecipeReader::settings(const char* name, const std::vector<SettingInfo>& infos, const Set& set) const {
  const toml::table* table = tableOf(root().get(name), name);
  if (table == nullptr) return;
  std::vector<std::string> known;
  for (const SettingInfo& info : infos) known.push_back(info.name);
  allow(*table, known, "setting");
  for (const SettingInfo& info : infos) {
    const auto* node = table->get(info.name);
    if (node == nullptr) continue;
    const std::string value = settingValue(*node, info);
    try {
      set(info.name, value);
    } catch (const UsageError& e) {
      fail(node->source(), e.what());
    }
  }
}

bool RecipeReader::truth(const toml::table& table, const char* key, bool fallback) const {
  const auto* node = table.get(key);
  if (node == nullptr) return fallback;
  if (!node->is_boolean()) fail(node->source(), fmt::format("\"{}\" is true or false", key));
  return **node->as_boolean();
}

std::string RecipeReader::settingValue(const toml::node& node, const SettingInfo& info) const {
  if (node.is_integer()) return std::to_string(**node.as_integer());
  if (node.is_floating_point()) return fmt::format("{}", **node.as_floating_point());
  if (node.is_string() && !info.number) return nameOfUtf8(**node.as_string()).native();
  fail(node.source(), fmt::format("{} is {}", info.name,
                                  info.number ? "a number, without quotes" : "text in quotes or a number"));
}

std::optional<PieceResult> RecipeReader::pieceResult() const {
  const toml::table* table = tableOf(root().get("result"), "result");
  if (table == nullptr) return std::nullopt;
  allow(*table, {"version", "width", "height", "seconds"}, "key");
  return PieceResult{text(*table, "version"), static_cast<int>(number(*table, "width", 0, 0, 1e6)),
                     static_cast<int>(number(*table, "height", 0, 0, 1e6)), number(*table, "seconds", 0)};
}

}  // namespace jugendstil
