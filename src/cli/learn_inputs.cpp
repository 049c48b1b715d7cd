// SPDX-License-Identifier: Apache-2.0
#include "cli/learn_inputs.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/checksum.h"
#include "base/error.h"
#include "cli/frame_words.h"
#include "cli/options.h"
#include "cli/paint_inputs.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "clip/clip.h"
#include "image/picture_file.h"
#include "learn/clip_lessons.h"
#include "learn/general_painter.h"
#include "network/chain_file.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMostPhotos = 64;
constexpr int kPairs = 24;

std::vector<fs::path> picturesIn(const fs::path& folder) {
  std::vector<fs::path> files;
  std::error_code code;
  for (fs::directory_iterator entry(folder, code); !code && entry != fs::directory_iterator();
       entry.increment(code)) {
    if (entry->is_regular_file(code) && isPictureName(entry->path())) files.push_back(entry->path());
  }
  if (code) throw Error(fmt::format("cannot look into the folder {}: {}", folder.string(), code.message()));
  if (files.empty())
    throw Error(fmt::format(
        "{} has no photos in it (.png, .jpg, .tif, .webp, .exr); name a folder of photos, or a clip",
        folder.string()));
  std::sort(files.begin(), files.end());
  return files;
}

// A photo as large as it is learned on.
Image readLesson(RecipeInput& photo, int longEdge, bool quiet) {
  knowFile(photo, "photo", quiet);
  const Image picture = rgbOf(readPicture(photo.path).image);
  const Size size = sizeForLongEdge(picture.width, picture.height, longEdge);
  return size.width < picture.width ? resizePhoto(picture, size.width, size.height) : picture;
}

std::string nameOf(const ShownInput& shown) {
  return shown.photo ? shown.photo->path.string() : fmt::format("frame {}", shown.frame);
}

// A painting that shows something else would teach nonsense.
void requireFormat(const ShownInput& shown, const PaintedExample& example) {
  constexpr double kFormat = 0.03;
  const double ratio =
      1.0 * example.painting.width / example.painting.height * example.photo.height / example.photo.width;
  if (std::abs(ratio - 1) <= kFormat) return;
  throw Error(
      fmt::format("{} is {}x{}, and {} is {}x{}: a painted picture that is shown has the format of "
                  "what it was painted over",
                  shown.painting.path.string(), example.painting.width, example.painting.height,
                  nameOf(shown), example.photo.width, example.photo.height));
}

}  // namespace

void takeLessons(const std::vector<std::string>& words, LearnRecipe& recipe, bool quiet) {
  recipe.photos.clear();
  recipe.clip.reset();
  std::vector<fs::path> photos;
  for (const std::string& word : words) {
    std::error_code code;
    if (isClipName(word)) {
      if (words.size() > 1) throw UsageError("--on takes photos, or one clip by itself");
      recipe.clip = inputNamed(word);
      return;
    }
    if (fs::is_directory(word, code)) {
      const auto more = picturesIn(word);
      photos.insert(photos.end(), more.begin(), more.end());
    } else {
      photos.emplace_back(word);
    }
  }
  const std::size_t count = std::min(photos.size(), kMostPhotos);
  if (count < photos.size() && !quiet)
    say(stderr, "note: {} of the {} photos are learned on, spread over all\n", count, photos.size());
  for (std::size_t i = 0; i < count; ++i)
    recipe.photos.push_back(inputNamed(photos[i * photos.size() / count]));
}

void takeUsualLessons(LearnRecipe& recipe) {
  for (const fs::path& photo : picturesIn(shareFolder() / "demo" / "photos"))
    recipe.photos.push_back(inputNamed(photo));
  for (const RecipeInput& reference : recipe.references) recipe.photos.push_back(inputNamed(reference.path));
}

ShownInput parseShown(const std::string& word) {
  const auto equals = word.find('=');
  if (equals == std::string::npos || equals == 0 || equals + 1 == word.size())
    throw UsageError(fmt::format(
        "--show is written FRAME=PICTURE or PHOTO=PICTURE, like 48=frame_48.png, not \"{}\"", word));
  ShownInput shown;
  if (word.find_first_not_of("0123456789") == equals) {
    const FrameInput frame = parseFrameWord("show", word, true);
    shown.frame = frame.frame;
    shown.painting = frame.file;
  } else {
    shown.photo = inputNamed(word.substr(0, equals));
    shown.painting = inputNamed(word.substr(equals + 1));
  }
  return shown;
}

LearnFiles readLearn(LearnRecipe& recipe, bool quiet) {
  LearnFiles files;
  const int longEdge = recipe.settings.longEdge;
  for (RecipeInput& reference : recipe.references)
    files.inputs.references.push_back(readReference(reference, recipe.settings.painting.trim, quiet));
  for (RecipeInput& photo : recipe.photos) files.inputs.photos.push_back(readLesson(photo, longEdge, quiet));
  std::unique_ptr<FrameSource> clip;
  if (recipe.clip) {
    const std::string name = recipe.clip->path.string();
    if (!isFramePattern(name)) know(*recipe.clip, fileEndsChecksum(name), "clip", quiet);
    clip = openClip(name);
    files.inputs.pairs = framePairs(*clip, kPairs, longEdge);
  }
  for (ShownInput& shown : recipe.shown) {
    if (!shown.photo && !clip)
      throw UsageError(fmt::format("--show {}={} names a frame; it goes with --on CLIP", shown.frame,
                                   shown.painting.path.string()));
    PaintedExample example;
    example.photo = shown.photo ? readLesson(*shown.photo, longEdge, quiet) : frameOf(*clip, shown.frame);
    example.painting = readLesson(shown.painting, longEdge, quiet);
    requireFormat(shown, example);
    files.inputs.examples.push_back(std::move(example));
  }
  knowFile(*recipe.network, "network", quiet);
  files.chain = readOnnx(recipe.network->path);
  const GeneralPainter general = readGeneralPainter(shippedGeneralPainter());
  if (general.network == files.chain.checksum)
    files.inputs.first = painterFor(general, files.chain, files.inputs.references, recipe.settings).net;
  return files;
}

}  // namespace jugendstil::cli
