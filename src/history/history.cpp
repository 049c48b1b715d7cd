// SPDX-License-Identifier: Apache-2.0
#include "history/history.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "recipe/recipe_file.h"

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

}  // namespace

History historyOf(const fs::path& folder) {
  History history;
  for (const fs::path& file : recipesIn(folder)) {
    try {
      if (auto work = pastWork(readRecipe(file), file)) history.works.push_back(std::move(*work));
    } catch (const Error& e) {
      history.unreadable.emplace_back(e.what());
    }
  }
  return history;
}

}  // namespace jugendstil
