// SPDX-License-Identifier: Apache-2.0
#include "cli/kept_painting.h"

#include <algorithm>
#include <string_view>

#include "base/checksum.h"
#include "base/file_name.h"
#include "cli/paint_state.h"
#include "paint/finish.h"
#include "recipe/recipe_writer.h"

namespace jugendstil::cli {

namespace fs = std::filesystem;

fs::path keptPaintingPath(const fs::path& output) {
  constexpr std::string_view kEnding = ".recipe.toml";
  fs::path::string_type path = recipePathFor(output).native();
  path.resize(path.size() - kEnding.size());
  return path + ".painting.png";
}

Depth paintingDepth(const PaintSettings& settings, Depth photo) {
  return settings.encoding.depth.value_or(photo) == Depth::eight ? Depth::eight : Depth::sixteen;
}

bool isPaintingItself(const PaintRecipe& recipe, const fs::path& output, Depth photo, bool transparent) {
  const PaintSettings& s = recipe.settings;
  const std::string ending = extensionOf(output);
  return s.opacity == 1 && s.blend == BlendMode::normal && !recipe.mask && recipe.parts.empty() &&
         !transparent && (ending == ".png" || ending == ".tif" || ending == ".tiff") &&
         s.encoding.depth.value_or(photo) != Depth::floating;
}

Image paintingSheet(const PaintResult& result, Palette palette) {
  Image painting = inPalette(result.photo, result.painting, palette);
  if (result.shown.empty()) return painting;
  Image out(painting.width, painting.height, 4);
  for (std::size_t i = 0; i < out.area(); ++i) {
    std::copy_n(painting.pixel(i), 3, out.pixel(i));
    out.pixel(i)[3] = result.shown.pixels[i];
  }
  return out;
}

Image laidSheet(const Image& sheet, const Image& photo, const PaintSettings& settings) {
  Image shown;
  if (sheet.channels == 4) {
    shown = Image(sheet.width, sheet.height, 1);
    for (std::size_t i = 0; i < shown.area(); ++i) shown.pixels[i] = sheet.pixel(i)[3];
  }
  PaintSettings laying = settings;
  laying.palette = Palette::reference;  // it has its palette already
  return laidOver(photo, rgbOf(sheet), shown, laying);
}

std::optional<Picture> knownPainting(const PaintRecipe& recipe) {
  if (!recipe.painting) return std::nullopt;
  const RecipePainting& known = *recipe.painting;
  std::error_code code;
  if (!fs::is_regular_file(known.file.path, code) || known.making != checksum(makingOf(recipe)) ||
      known.file.checksum != fileChecksum(known.file.path))
    return std::nullopt;
  return readPicture(known.file.path);
}

}  // namespace jugendstil::cli
