// SPDX-License-Identifier: Apache-2.0
#include "paint/history.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "recipe/recipe_reader.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr std::string_view kEnding = ".recipe.toml";

std::vector<fs::path> recipesIn(const fs::path& folder) {
  std::error_code code;
  if (!fs::is_directory(folder, code)) throw Error(fmt::format("{}: is not a folder", folder.string()));
  std::vector<std::pair<fs::file_time_type, fs::path>> found;
  for (const auto& entry : fs::directory_iterator(folder, code)) {
    if (entry.is_regular_file(code) && entry.path().filename().string().ends_with(kEnding))
      found.emplace_back(entry.last_write_time(code), entry.path());
  }
  if (code) throw Error(fmt::format("{}: cannot be read ({})", folder.string(), code.message()));
  std::sort(found.begin(), found.end());
  std::vector<fs::path> files;
  for (auto& [time, file] : found) files.push_back(std::move(file));
  return files;
}

std::string nameOf(const std::optional<RecipeInput>& input) {
  return input ? input->path.filename().string() : std::string("none");
}

// By name, and by content where the names are the same.
std::string fileDifference(const char* what, const std::optional<RecipeInput>& a,
                           const std::optional<RecipeInput>& b) {
  if (nameOf(a) != nameOf(b)) return fmt::format("{}: {} / {}", what, nameOf(a), nameOf(b));
  if (a && a->checksum != b->checksum) return fmt::format("{}: {}, with another content", what, nameOf(a));
  return {};
}

std::string maskName(const PaintRecipe& recipe) {
  return recipe.mask ? fmt::format("{} {}", recipe.maskInside ? "inside" : "outside", nameOf(recipe.mask))
                     : std::string("none");
}

}  // namespace

History historyOf(const fs::path& folder) {
  History history;
  for (const fs::path& file : recipesIn(folder)) {
    try {
      const std::string text = readRecipe(file);
      if (recipeCommand(text, file) != "paint") continue;
      PastPainting past{file, {}, parsePaintRecipe(text, file)};
      if (!past.recipe.result) continue;  // a preset
      past.picture = folder / past.recipe.picture;
      history.paintings.push_back(std::move(past));
    } catch (const Error& e) {
      history.unreadable.emplace_back(e.what());
    }
  }
  return history;
}

std::vector<std::string> unusualSettings(const PaintRecipe& recipe) {
  const PaintSettings usual;
  std::vector<std::string> all;
  for (const SettingInfo& info : paintSettingTable()) {
    const std::string value = paintSettingText(recipe.settings, info.name);
    if (value != paintSettingText(usual, info.name)) all.push_back(fmt::format("{} {}", info.name, value));
  }
  return all;
}

std::string referenceNames(const PaintRecipe& recipe) {
  std::string text;
  for (const RecipeInput& r : recipe.references) {
    text += (text.empty() ? "" : " and ") + r.path.filename().string();
    if (recipe.references.size() > 1) text += fmt::format(" @{}", r.share);
  }
  for (const RecipePart& p : recipe.parts) {
    text += fmt::format("{}{} under {}", text.empty() ? "" : ", ", p.reference.path.filename().string(),
                        p.mask.path.filename().string());
  }
  return text;
}

std::vector<std::string> differences(const PaintRecipe& a, const PaintRecipe& b) {
  std::vector<std::string> all;
  const auto add = [&](std::string text) {
    if (!text.empty()) all.push_back(std::move(text));
  };
  add(fileDifference("photo", a.photo, b.photo));
  if (referenceNames(a) != referenceNames(b)) {
    add(fmt::format("after: {} / {}", referenceNames(a), referenceNames(b)));
  } else {
    for (std::size_t i = 0; i < a.references.size(); ++i)
      add(fileDifference("reference", a.references[i], b.references[i]));
  }
  if (maskName(a) != maskName(b)) add(fmt::format("mask: {} / {}", maskName(a), maskName(b)));
  for (const SettingInfo& info : paintSettingTable()) {
    const std::string left = paintSettingText(a.settings, info.name);
    const std::string right = paintSettingText(b.settings, info.name);
    if (left != right) add(fmt::format("{}: {} / {}", info.name, left, right));
  }
  add(fileDifference("network", a.network, b.network));
  if (a.result && b.result && a.result->version != b.result->version)
    add(fmt::format("version: {} / {}", a.result->version, b.result->version));
  return all;
}

}  // namespace jugendstil
