// SPDX-License-Identifier: Apache-2.0
// What was made once, in one form for paintings, grades, films, weaves, amplified photos, dives and painters,
// as its recipe tells.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "amplify/recipe.h"
#include "dive/recipe.h"
#include "film/film_recipe.h"
#include "grade/recipe.h"
#include "learn/recipe.h"
#include "paint/recipe.h"
#include "weave/recipe.h"

namespace jugendstil {

// A file that it was made from, by what it was ("photo").
struct PastInput {
  std::string role;
  std::string name;  // of the file, without its folder
  std::string checksum;
};

struct PastWork {
  std::filesystem::path recipe;
  std::string command;  // "paint", "grade", "film", "weave", "amplify", "dive", "learn"
  std::vector<std::filesystem::path> results;  // beside the recipe; may be gone
  std::vector<PastInput> inputs;               // photos, the clip or swatches first
  std::string after;  // references or swatches in words; the look's name where it was one
  std::string mask;   // "inside sky.png", or empty
  std::string held;   // "holding faces 85", or empty
  std::vector<SettingText> settings;
  std::string version;
  bool finished = true;
  int width = 0;  // 0 where the recipe does not tell
  int height = 0;
  int frames = 0;  // of a film
  double seconds = 0;
  std::vector<std::pair<std::string, double>> figures;  // "loss", "ciede2000", "warping_error"
};

// The work that a recipe tells of; none where it has no result (a preset). Throws UsageError where it cannot
// be understood.
std::optional<PastWork> pastWork(std::string_view text, const std::filesystem::path& recipe);

// What stands between the photo and `after`: "after", "from", "towards".
const char* linkTo(const PastWork& work);

// Whether it was made with this setting, written as on the command line; false where its command has none of
// that name. Throws UsageError for a value that is none.
bool hasSetting(const PastWork& work, std::string_view name, std::string_view value);

// Throws UsageError where no command has a setting of that name.
void requireSettingName(std::string_view name);

// What is not the same in two, like "likeness: 20 / 80"; paths and times do not count.
std::vector<std::string> differences(const PastWork& a, const PastWork& b);

}  // namespace jugendstil
