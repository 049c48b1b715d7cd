#include "paint/recipe.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <sstream>

#include "image/error.h"
#include "image/toml_reader.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr int kFormat = 1;

std::string portablePath(const fs::path& path, const fs::path& folder) {
  const fs::path full = fs::absolute(path).lexically_normal();
  const fs::path near = full.lexically_relative(fs::absolute(folder).lexically_normal());
  // Out of the neighbourhood the absolute path is the more useful one.
  const auto ups = std::count(near.begin(), near.end(), fs::path(".."));
  return near.empty() || ups > 2 ? full.string() : near.string();
}

std::string settingLine(const PaintSettings& settings, const SettingInfo& info) {
  const std::string text = paintSettingText(settings, info.name);
  return fmt::format("{} = {}\n", info.name, info.number ? text : tomlText(text));
}

std::string inputLines(const RecipeInput& input, const fs::path& folder) {
  return fmt::format("file = {}\nchecksum = {}\n", tomlText(portablePath(input.path, folder)),
                     tomlText(input.checksum));
}

// Walks the tables and complains with a place.
class Parser : TomlReader {
 public:
  Parser(std::string_view text, const fs::path& file)
      : TomlReader(text, file), folder_(fs::absolute(file).parent_path()) {}

  Recipe parse() {
    allow(root(),
          {"recipe", "command", "picture", "photo", "reference", "part", "mask", "start", "network",
           "settings", "result"},
          "key");
    if (const auto* node = root().get("recipe")) {
      if (node->value<std::int64_t>() != kFormat)
        fail(node->source(), "this version reads recipes of format 1");
    }
    if (const auto* node = root().get("command")) {
      if (node->value<std::string>() != "paint") fail(node->source(), "the command of a recipe is \"paint\"");
    }
    Recipe recipe;
    recipe.picture = text(root(), "picture");
    recipe.photo = input(root().get("photo"), "photo", false);
    recipe.start = input(root().get("start"), "start", false);
    recipe.network = input(root().get("network"), "network", false);
    references(recipe);
    parts(recipe);
    mask(recipe);
    settings(recipe);
    result(recipe);
    return recipe;
  }

 private:
  std::optional<RecipeInput> input(const toml::node* node, const char* name, bool share) const {
    const toml::table* table = tableOf(node, name);
    if (table == nullptr) return std::nullopt;
    std::vector<std::string> known{"file", "checksum"};
    if (share) known.emplace_back("share");
    allow(*table, known, "key");
    return inputIn(*table, name);
  }

  fs::path pathFrom(const std::string& file) const {
    return fs::path(file).is_absolute() ? fs::path(file) : (folder_ / file).lexically_normal();
  }

  RecipeInput inputIn(const toml::table& table, const char* name) const {
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

  void parts(Recipe& recipe) const {
    const auto* node = root().get("part");
    if (node == nullptr) return;
    if (!node->is_array_of_tables()) fail(node->source(), "parts are written [[part]], one block each");
    for (const toml::node& one : *node->as_array()) {
      const toml::table& table = *one.as_table();
      allow(table, {"mask", "mask_checksum", "file", "checksum", "share"}, "key");
      const std::string file = text(table, "mask");
      if (file.empty()) fail(table.source(), "\"part\" needs mask = \"...\"");
      recipe.parts.push_back({{pathFrom(file), text(table, "mask_checksum"), 1}, inputIn(table, "part")});
    }
  }

  void mask(Recipe& recipe) const {
    const toml::table* table = tableOf(root().get("mask"), "mask");
    if (table == nullptr) return;
    allow(*table, {"file", "checksum", "side"}, "key");
    recipe.mask = inputIn(*table, "mask");
    const std::string side = table->get("side") == nullptr ? "inside" : text(*table, "side");
    if (side != "inside" && side != "outside")
      fail(table->get("side")->source(), "\"side\" is \"inside\" or \"outside\"");
    recipe.maskInside = side == "inside";
  }

  void references(Recipe& recipe) const {
    const auto* node = root().get("reference");
    if (node == nullptr) return;
    if (!node->is_array_of_tables())
      fail(node->source(), "references are written [[reference]], one block each");
    for (const toml::node& one : *node->as_array())
      recipe.references.push_back(*input(&one, "reference", true));
  }

  void settings(Recipe& recipe) const {
    const toml::table* table = tableOf(root().get("settings"), "settings");
    if (table == nullptr) return;
    std::vector<std::string> known;
    for (const SettingInfo& info : paintSettingTable()) known.push_back(info.name);
    allow(*table, known, "setting");
    for (const SettingInfo& info : paintSettingTable()) {
      const auto* node = table->get(info.name);
      if (node == nullptr) continue;
      const std::string value = settingValue(*node, info);
      try {
        setPaintSetting(recipe.settings, info.name, value);
      } catch (const UsageError& e) {
        fail(node->source(), e.what());
      }
      recipe.given.push_back(info.name);
    }
  }

  std::string settingValue(const toml::node& node, const SettingInfo& info) const {
    if (node.is_integer()) return std::to_string(**node.as_integer());
    if (node.is_floating_point()) return fmt::format("{}", **node.as_floating_point());
    if (node.is_string() && !info.number) return **node.as_string();
    fail(node.source(), fmt::format("{} is {}", info.name,
                                    info.number ? "a number, without quotes" : "text in quotes or a number"));
  }

  void result(Recipe& recipe) const {
    const toml::table* table = tableOf(root().get("result"), "result");
    if (table == nullptr) return;
    allow(*table,
          {"version", "finished", "width", "height", "seconds", "loss", "loss_style", "loss_content",
           "loss_colour", "loss_smoothness", "loss_range"},
          "key");
    RecipeResult r;
    r.version = text(*table, "version");
    if (const auto* node = table->get("finished")) {
      if (!node->is_boolean()) fail(node->source(), "\"finished\" is true or false");
      r.finished = **node->as_boolean();
    }
    r.width = static_cast<int>(number(*table, "width", 0));
    r.height = static_cast<int>(number(*table, "height", 0));
    r.seconds = number(*table, "seconds", 0);
    r.loss = {number(*table, "loss_style", 0), number(*table, "loss_content", 0),
              number(*table, "loss_colour", 0), number(*table, "loss_smoothness", 0),
              number(*table, "loss_range", 0)};
    recipe.result = r;
  }

  fs::path folder_;
};

}  // namespace

std::string recipeText(const Recipe& recipe, const fs::path& folder) {
  std::string out =
      "# How a picture was painted. The same again:  jugendstil redo THIS_FILE -o NEW.png\n"
      "# With a change:                              jugendstil redo THIS_FILE --likeness 30 -o NEW.png\n"
      "# Its settings for another photo:             jugendstil paint PHOTO --after REF --recipe THIS_FILE "
      "-o NEW.png\n";
  out += fmt::format("recipe = {}\ncommand = \"paint\"\n", kFormat);
  if (!recipe.picture.empty()) out += fmt::format("picture = {}\n", tomlText(recipe.picture));
  if (recipe.photo) out += "\n[photo]\n" + inputLines(*recipe.photo, folder);
  for (const RecipeInput& r : recipe.references) {
    out += "\n[[reference]]\n" + inputLines(r, folder) + fmt::format("share = {}\n", r.share);
  }
  for (const RecipePart& p : recipe.parts) {
    out += fmt::format("\n[[part]]\nmask = {}\nmask_checksum = {}\n",
                       tomlText(portablePath(p.mask.path, folder)), tomlText(p.mask.checksum));
    out += inputLines(p.reference, folder) + fmt::format("share = {}\n", p.reference.share);
  }
  if (recipe.mask) {
    out += "\n[mask]\n" + inputLines(*recipe.mask, folder) +
           fmt::format("side = {}\n", tomlText(recipe.maskInside ? "inside" : "outside"));
  }
  if (recipe.start) out += "\n[start]\n" + inputLines(*recipe.start, folder);
  if (recipe.network) out += "\n[network]\n" + inputLines(*recipe.network, folder);
  out += "\n[settings]\n";
  for (const SettingInfo& info : paintSettingTable()) out += settingLine(recipe.settings, info);
  if (!recipe.result) return out;
  const RecipeResult& r = *recipe.result;
  out += fmt::format("\n[result]\nversion = {}\nfinished = {}\nwidth = {}\nheight = {}\nseconds = {:.1f}\n",
                     tomlText(r.version), r.finished, r.width, r.height, r.seconds);
  out += fmt::format(
      "loss = {:.6f}\nloss_style = {:.6f}\nloss_content = {:.6f}\nloss_colour = {:.6f}\nloss_smoothness = "
      "{:.6f}\nloss_range = {:.6f}\n",
      r.loss.total(), r.loss.style, r.loss.content, r.loss.colour, r.loss.smoothness, r.loss.range);
  return out;
}

Recipe parseRecipe(std::string_view text, const fs::path& file) { return Parser(text, file).parse(); }

fs::path recipePathFor(const fs::path& picture) {
  fs::path path = picture;
  return path.replace_extension(".recipe.toml");
}

}  // namespace jugendstil
