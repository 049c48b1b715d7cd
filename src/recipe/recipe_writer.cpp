// SPDX-License-Identifier: Apache-2.0
#include "recipe/recipe_writer.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/file.h"
#include "base/toml_reader.h"
#include "base/utf8.h"

namespace jugendstil {

namespace fs = std::filesystem;

namespace {

class Results : TomlReader {
 public:
  using TomlReader::TomlReader;

  bool has(const std::string& name) const {
    for (const char* result : {"picture", "film", "piece"}) {
      if (text(root(), result) == name) return true;
    }
    // In recipes of paintings a painter is an input.
    const auto* painter = root().get_as<std::string>("painter");
    if (painter != nullptr && painter->get() == name) return true;
    const auto* photos = root().get_as<toml::array>("photo");
    return photos != nullptr && std::any_of(photos->begin(), photos->end(), [&](const toml::node& photo) {
             return photo.is_table() && text(*photo.as_table(), "result") == name;
           });
  }
};

bool isRecipeOf(const fs::path& recipe, const std::string& result) {
  try {
    return Results(readFile(recipe, std::size_t{1} << 20), recipe).has(utf8Of(result));
  } catch (const Error&) {
    return false;
  }
}

}  // namespace

fs::path recipePathFor(const fs::path& result) {
  fs::path own = result.string() + ".recipe.toml";
  fs::path plain = result;
  plain.replace_extension(".recipe.toml");
  std::error_code code;
  if (fs::exists(own, code)) return own;
  const bool free = !fs::exists(plain, code) || isRecipeOf(plain, result.filename().string());
  return free ? plain : own;
}

std::string recipeHead(const char* command) {
  return fmt::format("recipe = {}\ncommand = {}\n", kRecipeFormat, tomlText(command));
}

std::string portablePath(const fs::path& path, const fs::path& folder) {
  const fs::path full = fs::absolute(path).lexically_normal();
  const fs::path near = full.lexically_relative(fs::absolute(folder).lexically_normal());
  // Out of the neighbourhood the absolute path is the more useful one.
  const auto ups = std::count(near.begin(), near.end(), fs::path(".."));
  return near.empty() || ups > 2 ? full.string() : near.string();
}

std::string inputLines(const RecipeInput& input, const fs::path& folder) {
  const std::string where = input.shipped.empty() ? "file = " + tomlText(portablePath(input.path, folder))
                                                  : "shipped = " + tomlText(input.shipped);
  return fmt::format("{}\nchecksum = {}\n", where, tomlText(input.checksum));
}

std::string sharedBlocks(const char* name, const std::vector<RecipeInput>& inputs, const fs::path& folder) {
  std::string out;
  for (const RecipeInput& input : inputs)
    out += fmt::format("\n[[{}]]\n{}share = {}\n", name, inputLines(input, folder), input.share);
  return out;
}

std::string partBlocks(const std::vector<RecipePart>& parts, const fs::path& folder) {
  std::string out;
  for (const RecipePart& p : parts) {
    out += fmt::format("\n[[part]]\nmask = {}\nmask_checksum = {}\n",
                       tomlText(portablePath(p.mask.path, folder)), tomlText(p.mask.checksum));
    out += inputLines(p.reference, folder) + fmt::format("share = {}\n", p.reference.share);
  }
  return out;
}

std::string holdBlocks(const std::vector<RecipeHold>& holds, const fs::path& folder) {
  std::string out;
  for (const RecipeHold& h : holds)
    out += "\n[[hold]]\n" + (h.mask ? inputLines(*h.mask, folder) : "faces = true\n") +
           fmt::format("likeness = {}\n", h.likeness);
  return out;
}

std::string maskBlock(const std::optional<RecipeMask>& mask, const fs::path& folder) {
  if (!mask) return {};
  return "\n[mask]\n" + inputLines(mask->file, folder) +
         fmt::format("side = {}\n", tomlText(mask->inside ? "inside" : "outside"));
}

std::string settingLine(const SettingInfo& info, const std::string& text) {
  return fmt::format("{} = {}\n", info.name, info.number ? text : tomlText(text));
}

std::string pieceResultBlock(const std::optional<PieceResult>& result) {
  if (!result) return {};
  return fmt::format("\n[result]\nversion = {}\nwidth = {}\nheight = {}\nseconds = {:.1f}\n",
                     tomlText(result->version), result->width, result->height, result->seconds);
}

}  // namespace jugendstil
