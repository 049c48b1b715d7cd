// SPDX-License-Identifier: Apache-2.0
#include "cli/moved_inputs.h"

#include <fmt/format.h>

#include <functional>
#include <optional>
#include <span>
#include <vector>

#include "base/checksum.h"
#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"
#include "cli/frame_words.h"
#include "cli/say.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMostFiles = 2000;  // more are not read for the sake of a checksum

class Search {
 public:
  Search(const fs::path& recipe, bool quiet) : beside_(folderOf(fs::absolute(recipe))), quiet_(quiet) {}

  void find(RecipeInput& input, const char* what, const char* option, bool clip = false) const {
    std::error_code code;
    if (input.checksum.empty() || input.path.empty() || fs::exists(input.path, code) ||
        isFramePattern(input.path.string()))
      return;
    const auto found = place(input, clip);
    if (!found) {
      throw Error(
          fmt::format("the {} {} is not there, nor is it in {} or the working folder, by name or by "
                      "checksum; say where it lies "
                      "with {}",
                      what, input.path.string(), beside_.string(), option));
    }
    if (!quiet_)
      say(stderr, "note: the {} is no longer {}; taken from {}\n", what, input.path.string(),
          found->string());
    input.path = *found;
  }

  void find(std::span<RecipeInput> references, std::span<RecipePart> parts,
            std::optional<RecipeMask>& mask) const {
    for (RecipeInput& r : references) find(r, "reference", "--after FILE");
    for (RecipePart& part : parts) {
      find(part.mask, "mask", "--part MASK=REF");
      find(part.reference, "reference", "--part MASK=REF");
    }
    if (mask) find(mask->file, "mask", mask->inside ? "--inside FILE" : "--outside FILE");
  }

 private:
  std::optional<fs::path> place(const RecipeInput& input, bool clip) const {
    const fs::path folders[] = {beside_, fs::current_path()};
    for (const fs::path& folder : folders) {
      if (auto found = byChecksum(folder, input, clip)) return found;
    }
    std::error_code code;
    for (const fs::path& folder : folders) {
      if (fs::is_regular_file(folder / input.path.filename(), code)) return folder / input.path.filename();
    }
    return std::nullopt;
  }

  // Only files of its kind: reading all of a large folder would take longer than the painting.
  static std::optional<fs::path> byChecksum(const fs::path& folder, const RecipeInput& input, bool clip) {
    const std::string extension = extensionOf(input.path);
    std::error_code code;
    std::size_t looked = 0;
    fs::recursive_directory_iterator files(folder, fs::directory_options::skip_permission_denied, code);
    for (; !code && files != fs::recursive_directory_iterator(); files.increment(code)) {
      if (files.depth() > 0 && files->is_directory(code)) files.disable_recursion_pending();
      if (++looked > kMostFiles) break;
      if (!files->is_regular_file(code) || extensionOf(files->path()) != extension) continue;
      try {
        const std::string sum = clip ? fileEndsChecksum(files->path()) : fileChecksum(files->path());
        if (sum == input.checksum) return files->path();
      } catch (const Error&) {  // a file that cannot be read is not the one
      }
    }
    return std::nullopt;
  }

  fs::path beside_;
  bool quiet_;
};

}  // namespace

namespace {

void findHeld(const Search& search, std::vector<RecipeHold>& holds) {
  for (RecipeHold& hold : holds) {
    if (hold.mask) search.find(*hold.mask, "mask", "--hold MASK=LIKENESS");
  }
}

}  // namespace

void findMovedInputs(PaintRecipe& recipe, const fs::path& file, bool quiet) {
  const Search search(file, quiet);
  if (recipe.photo) search.find(*recipe.photo, "photo", "--photo FILE");
  search.find(recipe.references, recipe.parts, recipe.mask);
  if (recipe.drawnLines) search.find(*recipe.drawnLines, "drawing", "--lines-from FILE");
  if (recipe.linesInside) search.find(*recipe.linesInside, "mask", "--lines-inside FILE");
  findHeld(search, recipe.holds);
  if (recipe.painter) search.find(*recipe.painter, "painter", "--with FILE");
  if (recipe.start) search.find(*recipe.start, "start picture", "--start FILE");
  if (recipe.network) search.find(*recipe.network, "network", "--network FILE");
}

void findMovedInputs(GradeRecipe& recipe, const fs::path& file, bool quiet) {
  const Search search(file, quiet);
  for (GradedPhoto& p : recipe.photos) search.find(p.photo, "photo", "--photo FILE");
  search.find(recipe.references, recipe.parts, recipe.mask);
  if (recipe.look) search.find(*recipe.look, "look", "--look FILE");
}

void findMovedInputs(FilmRecipe& recipe, const fs::path& file, bool quiet) {
  const Search search(file, quiet);
  const char* side = recipe.maskInside ? "--inside FILE" : "--outside FILE";
  if (recipe.clip) search.find(*recipe.clip, "clip", "--clip FILE", true);
  for (RecipeInput& r : recipe.references) search.find(r, "reference", "--after FILE");
  if (recipe.painter) search.find(*recipe.painter, "painter", "--with FILE");
  for (FrameInput& key : recipe.keys) search.find(key.file, "key", "--key FRAME=FILE");
  for (FrameInput& mask : recipe.masks) search.find(mask.file, "mask", side);
  findHeld(search, recipe.holds);
  if (recipe.maskClip) search.find(*recipe.maskClip, "mask clip", side, true);
  if (recipe.look) search.find(*recipe.look, "look", "--look FILE");
  if (recipe.start) search.find(*recipe.start, "start picture", "--start FILE");
  if (recipe.network) search.find(*recipe.network, "network", "--network FILE");
}

void findMovedInputs(WeaveRecipe& recipe, const fs::path& file, bool quiet) {
  const Search search(file, quiet);
  for (RecipeInput& s : recipe.swatches) search.find(s, "swatch", "--swatch FILE");
  if (recipe.picture) search.find(*recipe.picture, "picture", "--swatch FILE");
  if (recipe.hole) search.find(*recipe.hole, "mask", "--fill FILE");
  if (recipe.over) search.find(*recipe.over, "map", "--over FILE");
  if (recipe.layout) search.find(*recipe.layout, "layout", "--layout FILE");
  if (recipe.layoutMap) search.find(*recipe.layoutMap, "swatch's map", "--of FILE");
  if (recipe.along) search.find(*recipe.along, "photo", "--along FILE");
  search.find({}, recipe.parts, recipe.mask);
}

void findMovedInputs(AmplifyRecipe& recipe, const fs::path& file, bool quiet) {
  const Search search(file, quiet);
  if (recipe.photo) search.find(*recipe.photo, "photo", "--photo FILE");
  for (RecipeInput& r : recipe.towards) search.find(r, "reference", "--towards FILE");
  search.find({}, {}, recipe.mask);
  if (recipe.network) search.find(*recipe.network, "network", "--network FILE");
}

void findMovedInputs(DiveRecipe& recipe, const fs::path& file, bool quiet) {
  const Search search(file, quiet);
  if (recipe.start)
    search.find(*recipe.start, "start", "--start FILE", isClipName(recipe.start->path.string()));
  for (TimedInput& one : recipe.references) search.find(one.file, "reference", "--after [TIME=]FILE");
  for (TimedInput& one : recipe.painters) search.find(one.file, "painter", "--with [TIME=]FILE");
  for (RecipeInput& r : recipe.towards) search.find(r, "reference", "--towards FILE");
  search.find({}, {}, recipe.mask);
  if (recipe.sound) search.find(*recipe.sound, "sound", "--sound FILE");
  if (recipe.network) search.find(*recipe.network, "network", "--network FILE");
}

void findMovedInputs(LearnRecipe& recipe, const fs::path& file, bool quiet) {
  const Search search(file, quiet);
  for (RecipeInput& r : recipe.references) search.find(r, "reference", "--reference FILE");
  for (RecipeInput& photo : recipe.photos) search.find(photo, "photo", "--on PHOTOS");
  if (recipe.clip) search.find(*recipe.clip, "clip", "--on CLIP", true);
  for (ShownInput& shown : recipe.shown) {
    if (shown.photo) search.find(*shown.photo, "photo", "--show PHOTO=FILE");
    search.find(shown.painting, "painted picture", "--show FRAME=FILE");
  }
  if (recipe.network) search.find(*recipe.network, "network", "--network FILE");
}

}  // namespace jugendstil::cli
