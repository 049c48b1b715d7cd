// SPDX-License-Identifier: Apache-2.0
#include "cli/grade_inputs.h"

#include "base/error.h"
#include "base/file_name.h"
#include "cli/batch.h"
#include "cli/recipe_options.h"
#include "image/mask.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

bool isLookName(const fs::path& path) {
  const std::string extension = extensionOf(path);
  return extension == ".toml" || extension == ".cube" || extension == ".clf";
}

// A part's reference may be a look as well.
GradeTarget readTarget(RecipeInput& input, bool quiet) {
  const bool look = isLookName(input.path);
  knowFile(input, look ? "look" : "reference", quiet);
  GradeTarget target;
  if (look) {
    target.look = readLook(input.path);
  } else {
    target.references.push_back({fileStatistics(input.path), input.share});
  }
  return target;
}

Image readGradeMask(RecipeInput& input, const fs::path& photo, bool quiet) {
  knowFile(input, "mask", quiet);
  // Only a drawing has to know the photo's size.
  if (extensionOf(input.path) != ".svg") return readMask(input.path, 0, 0);
  const StoredPicture first = StoredPicture::read(photo);
  const bool lying = first.orientation() > 4;
  return readMask(input.path, lying ? first.height() : first.width(), lying ? first.width() : first.height());
}

// One look for what is graded alike in the whole set.
void matchPooled(GradeTarget& target, std::vector<GradeStatistics> photos, const MatchSettings& match) {
  std::erase_if(photos, [](const GradeStatistics& s) { return s.colours.empty(); });
  if (target.empty() || target.look || photos.empty()) return;
  target.look = matchLook(pooledStatistics(photos), target.references, match);
}

}  // namespace

GradeInputs readGradeInputs(GradeRecipe& recipe, bool quiet) {
  GradeInputs inputs;
  inputs.settings = recipe.settings;
  const fs::path& photo = recipe.photos[0].photo.path;
  for (RecipeInput& r : recipe.references) {
    knowFile(r, "reference", quiet);
    inputs.rest.references.push_back({fileStatistics(r.path), r.share});
  }
  if (recipe.look) {
    knowFile(*recipe.look, "look", quiet);
    inputs.rest.look = readLook(recipe.look->path);
  }
  for (RecipePart& part : recipe.parts)
    inputs.parts.push_back({readGradeMask(part.mask, photo, quiet), readTarget(part.reference, quiet)});
  if (recipe.mask) {
    inputs.mask = readGradeMask(recipe.mask->file, photo, quiet);
    if (!recipe.mask->inside) inputs.mask = inverted(std::move(*inputs.mask));
  }
  return inputs;
}

void matchTogether(const GradeRecipe& recipe, GradeInputs& inputs) {
  const auto& photos = recipe.photos;
  std::vector<PhotoStatistics> all(photos.size());
  runBatch(
      photos.size(), inputs.settings.threads, ProgressStyle::none, "photo",
      [&](std::size_t i, const ItemProgress&) { all[i] = photoStatistics(photos[i].photo.path, inputs); });
  std::erase_if(all, [](const PhotoStatistics& s) { return s.rest.colours.empty() && s.parts.empty(); });
  if (all.empty()) throw Error("none of the photos can be read; check their names and that they are whole");
  const auto pooled = [&](GradeTarget& target, const auto& take) {
    std::vector<GradeStatistics> some;
    for (PhotoStatistics& one : all) some.push_back(std::move(take(one)));
    matchPooled(target, std::move(some), inputs.settings.match);
  };
  pooled(inputs.rest, [](PhotoStatistics& s) -> GradeStatistics& { return s.rest; });
  for (std::size_t i = 0; i < inputs.parts.size(); ++i)
    pooled(inputs.parts[i].target, [i](PhotoStatistics& s) -> GradeStatistics& { return s.parts[i]; });
}

}  // namespace jugendstil::cli
