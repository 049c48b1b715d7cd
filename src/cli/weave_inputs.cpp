// SPDX-License-Identifier: Apache-2.0
#include "cli/weave_inputs.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "base/error.h"
#include "cli/paint_inputs.h"
#include "cli/recipe_options.h"
#include "image/mask.h"
#include "image/picture_file.h"
#include "paint/by_patches.h"
#include "paint/reference.h"
#include "weave/grow.h"
#include "weave/layout.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

Image opaque(const Picture& picture, const fs::path& path) {
  for (std::size_t i = 0; picture.image.channels == 4 && i < picture.image.area(); ++i) {
    if (picture.image.pixel(i)[3] < 1)
      throw Error(fmt::format(
          "{} is transparent in places; a swatch has to be opaque: crop it, or lay it over a colour",
          path.string()));
  }
  return rgbOf(picture.image);
}

// An Error says whose it is.
void naming(const fs::path& path, const std::function<void()>& work) {
  try {
    work();
  } catch (const UsageError& e) {
    throw UsageError(fmt::format("{}: {}", path.string(), e.what()));
  } catch (const Error& e) {
    throw Error(fmt::format("{}: {}", path.string(), e.what()));
  }
}

Picture read(RecipeInput& input, const char* what, bool quiet) {
  knowFile(input, what, quiet);
  return readPicture(input.path);
}

void readPictureWithHole(WeaveRecipe& recipe, bool quiet, WeaveFiles& files) {
  const Picture picture = read(*recipe.picture, "picture", quiet);
  WeaveInputs& weave = files.weave;
  weave.picture = rgbOf(picture.image);
  files.metadata = picture.metadata;
  files.depth = picture.depth;
  if (picture.image.channels == 4) files.transparent = picture.image;
  knowFile(*recipe.hole, "mask", quiet);
  weave.hole = readMaskFor(recipe.hole->path, picture.image.width, picture.image.height);
  weave.hole = resizedMask(weave.hole, picture.image.width, picture.image.height);
  if (coverage(weave.hole) <= 0)
    throw Error(fmt::format("{} is black all over: there is nothing to fill", recipe.hole->path.string()));
  if (coverage(weave.hole) >= 1 && weave.swatches.empty())
    throw Error(fmt::format("{} covers the whole picture: nothing is left to fill it with",
                            recipe.hole->path.string()));
  weave.width = picture.image.width;
  weave.height = picture.image.height;
}

// A grey map, as a picture of any size or as a drawing for a piece of this one.
Image readMap(RecipeInput& input, const char* what, bool quiet, const WeaveInputs& weave) {
  knowFile(input, what, quiet);
  return readMask(input.path, weave.width, weave.height);
}

// A map that would have to be stretched was made for another piece.
void requireFormat(const RecipeInput& input, const Image& map, const WeaveInputs& weave) {
  constexpr double kFormat = 0.02;
  const double ratio = 1.0 * map.width / map.height * weave.height / weave.width;
  if (std::abs(ratio - 1) <= kFormat) return;
  throw Error(
      fmt::format("{} is {}x{}, and the piece {}x{}: a map has its piece's format; leave --size out to take "
                  "that of the map",
                  input.path.string(), map.width, map.height, weave.width, weave.height));
}

void readLayout(WeaveRecipe& recipe, bool quiet, WeaveInputs& weave) {
  if (!recipe.layoutMap) {
    weave.layout = rgbOf(readMap(*recipe.layout, "layout", quiet, weave));
    return;
  }
  weave.layout = rgbOf(read(*recipe.layout, "layout", quiet).image);
  weave.layoutMap = rgbOf(read(*recipe.layoutMap, "swatch's map", quiet).image);
  const Image& swatch = weave.swatches.front().picture;
  if (weave.layoutMap.width != swatch.width || weave.layoutMap.height != swatch.height)
    throw Error(fmt::format("{} is {}x{}, but the swatch {} is {}x{}: a swatch's map has its size",
                            recipe.layoutMap->path.string(), weave.layoutMap.width, weave.layoutMap.height,
                            recipe.swatches.front().path.string(), swatch.width, swatch.height));
  naming(recipe.layout->path, [&] { requireColoursOf(weave.layout, weave.layoutMap); });
}

// A weave's settings as those of a painting.
PaintSettings paintSettingsOf(const WeaveSettings& weave) {
  PaintSettings settings;
  settings.likeness = weave.likeness;
  settings.stroke = weave.stroke;
  settings.palette = weave.palette;
  settings.trim = weave.trim;
  settings.longEdge = weave.longEdge;
  settings.opacity = weave.opacity;
  settings.blend = weave.blend;
  settings.seed = weave.seed;
  return settings;
}

void readAlong(WeaveRecipe& recipe, bool quiet, WeaveFiles& files) {
  Picture photo = read(*recipe.along, "photo", quiet);
  files.paint.photo = std::move(photo.image);
  files.metadata = photo.metadata;
  files.depth = photo.depth == Depth::eight ? Depth::eight : Depth::sixteen;
  // What lies under a reference's alpha would come to light.
  const auto readOpaque = [&](RecipeInput& reference) {
    PaintReference whole{opaque(read(reference, "reference", quiet), reference.path), reference.share};
    naming(reference.path, [&] { requireSwatch(whole.image); });
    return whole;
  };
  for (RecipeInput& swatch : recipe.swatches) files.paint.references.push_back(readOpaque(swatch));
  readParts(recipe.parts, recipe.mask, readOpaque, quiet, files.paint);
  files.settings = paintSettingsOf(recipe.settings);
  sizeByPatches(files.paint, files.settings);
}

// What a pixel takes: time, in pixels of a piece that is only grown, and bytes held at the most. Measured
// with pieces of 4096x4096 and photos of a megapixel.
struct PixelCost {
  double time = 1;
  double bytes = 19;
};
PixelCost pixelCost(const WeaveInputs& weave) {
  // Tones are evened by solving for all pixels of a hole.
  if (!weave.hole.empty()) return {1 + 9 * coverage(weave.hole), 110};
  if (!weave.layout.empty()) return {2.9, 60};  // joins are everywhere
  const double count = countOf(weave.swatches);
  if (count < 2) return {};
  return weave.mix == Mix::apart ? PixelCost{2.1, 65} : PixelCost{1.2 * count, 20 + 46 * count};
}

// References stand at about the picture's size, and are all looked at.
PixelCost pixelCostAlong(const WeaveFiles& files, Size size) {
  double references = 0;
  const auto add = [&](const std::vector<PaintReference>& some) {
    for (const PaintReference& r : some) {
      const Size scaled = scaledSize({r.image.width, r.image.height}, size, files.settings.stroke);
      references += 1.0 * scaled.width * scaled.height;
    }
  };
  add(files.paint.references);
  for (const PaintPart& part : files.paint.parts) add(part.references);
  const double pixels = 1.0 * size.width * size.height;
  // Blocks are laid in the last level below this size, and joins mended in all.
  double laid = pixels;
  while (laid > 800e3) laid /= 4;
  const double woven = pixelsByPatches(files.paint, files.settings) / pixels;
  const double ratio = references / pixels;
  return {woven * (3.5 + 9 * laid / pixels) + 1.5 * ratio, 100 + 225 * ratio};
}

}  // namespace

WeaveFiles readWeave(WeaveRecipe& recipe, bool quiet) {
  WeaveFiles files;
  if (recipe.along) {
    readAlong(recipe, quiet, files);
    return files;
  }
  WeaveInputs& weave = files.weave;
  const WeaveSettings& settings = recipe.settings;
  for (RecipeInput& swatch : recipe.swatches) {
    const Picture picture = read(swatch, "swatch", quiet);
    if (weave.swatches.empty()) files.depth = picture.depth;
    weave.swatches.push_back({opaque(picture, swatch.path), swatch.share});
    naming(swatch.path, [&] { requireSwatch(weave.swatches.back().picture); });
  }
  weave.width = settings.width > 0 ? settings.width : kUsualPiece;
  weave.height = settings.width > 0 ? settings.height : kUsualPiece;
  weave.repeats = settings.repeats;
  weave.seed = settings.seed;
  weave.mix = settings.mix;
  const auto fit = [&](const RecipeInput& input, const Image& map) {
    if (settings.width > 0) return requireFormat(input, map, weave);
    weave.width = map.width;
    weave.height = map.height;
  };
  if (recipe.picture) readPictureWithHole(recipe, quiet, files);
  if (recipe.layout) {
    readLayout(recipe, quiet, weave);
    fit(*recipe.layout, weave.layout);
  }
  if (recipe.over) {
    weave.over = readMap(*recipe.over, "map", quiet, weave);
    fit(*recipe.over, weave.over);
  }
  return files;
}

Image wovenFrom(const WeaveFiles& files, const std::function<void(double)>& progress) {
  return files.alongPhoto() ? paintByPatches(files.paint, files.settings, progress)
                            : weave(files.weave, progress);
}

Size sizeOf(const WeaveFiles& files) {
  return files.alongPhoto() ? sizeByPatches(files.paint, files.settings)
                            : Size{files.weave.width, files.weave.height};
}

WeaveCost costOf(const WeaveFiles& files) {
  // Getting ready takes as long as so many pixels.
  constexpr double kGettingReady = 150e3;
  constexpr double kBytesOfProgram = 150e6;
  const Size size = sizeOf(files);
  const double pixels = 1.0 * size.width * size.height;
  const PixelCost pixel = files.alongPhoto() ? pixelCostAlong(files, size) : pixelCost(files.weave);
  return {kGettingReady + pixel.time * pixels, kBytesOfProgram + pixel.bytes * pixels};
}

}  // namespace jugendstil::cli
