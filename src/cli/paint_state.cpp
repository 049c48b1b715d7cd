// SPDX-License-Identifier: Apache-2.0
#include "cli/paint_state.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/checksum.h"
#include "base/error.h"
#include "base/state_file.h"
#include "recipe/recipe_file.h"
#include "recipe/recipe_writer.h"

namespace jugendstil::cli {

namespace fs = std::filesystem;

bool isOfLaying(std::string_view setting) {
  constexpr const char* kAfterwards[] = {"opacity", "blend", "depth", "quality", "snapshots"};
  return std::find(std::begin(kAfterwards), std::end(kAfterwards), setting) != std::end(kAfterwards);
}

fs::path stateFileFor(const fs::path& output) { return fs::path(output).concat(".unfinished"); }

namespace {

std::string makingBy(const PaintRecipe& recipe, const std::function<std::string(const RecipeInput&)>& sumOf) {
  std::string text = fmt::format("jugendstil {}\nnetwork {}\nphoto {}\n", JUGENDSTIL_VERSION,
                                 sumOf(*recipe.network), sumOf(*recipe.photo));
  for (const RecipeInput& r : recipe.references) text += fmt::format("after {} @{}\n", sumOf(r), r.share);
  for (const RecipePart& part : recipe.parts)
    text +=
        fmt::format("part {} after {} @{}\n", sumOf(part.mask), sumOf(part.reference), part.reference.share);
  for (const RecipeHold& hold : recipe.holds)
    text += fmt::format("hold {} {}\n", hold.mask ? sumOf(*hold.mask) : "faces", hold.likeness);
  if (recipe.drawnLines) text += fmt::format("lines from {}\n", sumOf(*recipe.drawnLines));
  if (recipe.linesInside) text += fmt::format("lines inside {}\n", sumOf(*recipe.linesInside));
  if (recipe.mask) text += fmt::format("mask {} {}\n", recipe.mask->inside, sumOf(recipe.mask->file));
  if (recipe.painter) text += fmt::format("with {}\n", sumOf(*recipe.painter));
  if (recipe.start) text += fmt::format("start {}\n", sumOf(*recipe.start));
  for (const SettingText& setting : settingsOf(recipe)) {
    if (!isOfLaying(setting.info.name) && (setting.info.name != "start" || !recipe.start))
      text += fmt::format("{} = {}\n", setting.info.name, setting.text);
  }
  return text;
}

}  // namespace

std::string makingOf(const PaintRecipe& recipe) {
  return makingBy(recipe, [](const RecipeInput& input) { return fileChecksum(input.path); });
}

std::string makingAsRead(const PaintRecipe& recipe) {
  return makingBy(recipe, [](const RecipeInput& input) { return input.checksum; });
}

// What an earlier run left on its way is never thrown away unasked.
void requireNoOtherState(const fs::path& output, bool mayReplace, const char* what) {
  const fs::path state = stateFileFor(output);
  std::error_code code;
  if (!mayReplace && fs::exists(state, code))
    throw Error(
        fmt::format("{} is a {} that was stopped, with other inputs or settings: give those again to go "
                    "on, --force to begin anew, or another name",
                    state.string(), what));
}

bool goesOn(const fs::path& output, bool mayReplace, const std::function<std::string()>& making,
            const std::function<bool(const fs::path& recipe)>& unfinished) {
  const fs::path file = stateFileFor(output);
  std::error_code code;
  if (!fs::exists(file, code) || makingOfState(file) != making()) return false;
  // A result of that name is only the work's own where its recipe says that it is unfinished.
  if (mayReplace || !fs::exists(output, code)) return true;
  const fs::path beside = recipePathFor(output);
  return fs::exists(beside, code) && unfinished(beside);
}

bool goesOn(const PaintRecipe& recipe, const fs::path& output, bool mayReplace) {
  return goesOn(
      output, mayReplace, [&] { return makingOf(recipe); }, isUnfinished);
}

bool isUnfinished(const fs::path& recipe) {
  const PaintRecipe known = parsePaintRecipe(readRecipe(recipe), recipe);
  return known.result && !known.result->finished;
}

}  // namespace jugendstil::cli
