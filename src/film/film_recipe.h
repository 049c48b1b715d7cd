// SPDX-License-Identifier: Apache-2.0
// The file beside a film that makes it again.
#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "film/settings.h"
#include "paint/settings.h"
#include "recipe/recipe_input.h"

namespace jugendstil {

// A picture for one frame of the clip.
struct FrameInput {
  std::int64_t frame = 0;
  RecipeInput file;
};

struct FilmRecipeResult {
  std::string version;
  int width = 0;
  int height = 0;
  std::int64_t frames = 0;
  double seconds = 0;
  double error = 0;        // warping error,
  double sourceError = 0;  // and the clip's own
};

struct FilmRecipe {
  std::string film;                 // name of the result, beside the recipe
  std::optional<RecipeInput> clip;  // its checksum is of the ends only
  std::vector<RecipeInput> references;
  std::optional<RecipeInput> painter;  // that paints in their place, or begins what is painted after them
  std::vector<FrameInput> keys;
  std::vector<FrameInput> masks;        // pictures for frames,
  std::optional<RecipeInput> maskClip;  // or a clip
  bool maskInside = true;
  std::vector<RecipeHold> holds;
  bool grade = false;
  std::optional<RecipeInput> look;     // of grading
  std::optional<RecipeInput> network;  // of painting
  std::optional<RecipeInput> start;    // where paint.start is a file
  PaintSettings paint;
  FilmSettings settings;
  std::vector<std::string> given;  // names of the settings that the text holds
  std::optional<FilmRecipeResult> result;
};

// As paintRecipeText() and parsePaintRecipe().
std::string filmRecipeText(const FilmRecipe& recipe, const std::filesystem::path& folder);
FilmRecipe parseFilmRecipe(std::string_view text, const std::filesystem::path& file);

// Whether a quick painter paints, and does not only begin.
bool paintsAtOnce(const FilmRecipe& recipe);

// References, look or painter as one says them; "its keyframes" where there are none.
std::string afterWords(const FilmRecipe& recipe);

// All settings that its film has: those of painting where it paints, then those of films.
std::vector<SettingText> settingsOf(const FilmRecipe& recipe);

// Painting settings that a film has: it takes no snapshots, and has a size and proofs of its own.
bool settingOfFilms(const std::string& name);

// out.mkv -> out.recipe.toml, frames/shot_%05d.png -> frames/shot.recipe.toml
std::filesystem::path filmRecipePathFor(const std::string& output);

}  // namespace jugendstil
