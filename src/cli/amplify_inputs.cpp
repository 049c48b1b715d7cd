// SPDX-License-Identifier: Apache-2.0
#include "cli/amplify_inputs.h"

#include <fmt/format.h>

#include <algorithm>

#include "cli/calibration.h"
#include "cli/options.h"
#include "cli/paint_inputs.h"
#include "cli/recipe_options.h"
#include "network/bands_at.h"
#include "network/chain_file.h"
#include "paint/frame.h"

namespace jugendstil::cli {
namespace {

// Seconds a pixel step where nothing is known: two processors of 2026.
constexpr double kUsualRate = 1.6e-6;

// Steps of bands that see much are dear.
std::string rateKey(const AmplifyRecipe& recipe) {
  return fmt::format("{} | amplify {}", calibrationKey(recipe.settings.painting, recipe.network->checksum),
                     amplifySettingText(recipe.settings, "band"));
}

}  // namespace

AmplifyFiles readAmplify(AmplifyRecipe& recipe, bool quiet) {
  AmplifyFiles files;
  knowFile(*recipe.photo, "photo", quiet);
  Picture photo = readPicture(recipe.photo->path);
  files.depth = photo.depth;
  files.metadata = photo.metadata;
  PaintInputs paint;
  paint.photo = std::move(photo.image);
  std::vector<RecipePart> noParts;
  readParts(noParts, recipe.mask, {}, quiet, paint);
  for (RecipeInput& reference : recipe.towards) {
    const PaintReference whole = readReference(reference, recipe.settings.painting.trim, quiet);
    files.inputs.towards.push_back({trimmed(whole.image, recipe.settings.painting.trim), whole.share});
  }
  knowFile(*recipe.network, "network", quiet);
  std::vector<std::string> layers;
  for (const auto& [layer, weight] : recipe.settings.bands) layers.push_back(layer);
  files.chain = withBandsAt(readOnnx(recipe.network->path), layers);
  files.inputs.photo = std::move(paint.photo);
  files.inputs.shown = std::move(paint.inside);
  return files;
}

void requireOtherThanInputs(const std::filesystem::path& output, const AmplifyRecipe& recipe) {
  requireOther(output, recipe.photo->path);
  for (const RecipeInput& reference : recipe.towards) requireOther(output, reference.path);
  if (recipe.mask) requireOther(output, recipe.mask->file.path);
}

double amplifySecondsFor(double work, const AmplifyRecipe& recipe) {
  return std::max(1.0, work * knownRate(calibrationFile(), rateKey(recipe)).value_or(kUsualRate));
}

void learnAmplifyRate(double work, double seconds, const AmplifyRecipe& recipe) {
  learnRate(calibrationFile(), rateKey(recipe), seconds / work, seconds);
}

}  // namespace jugendstil::cli
