// SPDX-License-Identifier: Apache-2.0
#include "cli/recipe_options.h"

#include "base/checksum.h"
#include "cli/say.h"
#include "paint/first_state.h"

namespace jugendstil::cli {

namespace fs = std::filesystem;

RecipeInput inputNamed(const fs::path& path, double share) { return {path, "", share}; }

std::optional<std::vector<RecipeInput>> givenReferences(const po::variables_map& given) {
  if (given.count("after") == 0) return std::nullopt;
  std::vector<RecipeInput> references;
  for (const std::string& word : listOf(given, "after")) {
    const ReferenceWord r = parseReference(word);
    references.push_back(inputNamed(r.path, r.share));
  }
  return references;
}

RecipeInput networkFor(const po::variables_map& given, const std::optional<RecipeInput>& recipes) {
  if (given.count("network") != 0) return inputNamed(textOf(given, "network"));
  return recipes ? *recipes : inputNamed(shippedNetwork());
}

void takeStart(const po::variables_map& given, PaintSettings& settings, std::optional<RecipeInput>& start) {
  if (given.count("start") != 0) start.reset();
  if (start) {
    settings.start = start->path.string();
  } else if (!startIsWord(settings.start)) {
    start = inputNamed(settings.start);
  }
}

void know(RecipeInput& input, const std::string& checksum, const char* what, bool quiet) {
  if (!input.checksum.empty() && input.checksum != checksum && !quiet) {
    say(stderr, "note: the {} {} is not the file the recipe was made with; the result will differ\n", what,
        input.path.string());
  }
  input.checksum = checksum;
}

void knowFile(RecipeInput& input, const char* what, bool quiet) {
  know(input, fileChecksum(input.path), what, quiet);
}

void noteVersion(const std::string& version, bool quiet) {
  if (version == JUGENDSTIL_VERSION || quiet) return;
  say(stderr, "note: the recipe is of version {}, this is {}; the result may differ\n", version,
      JUGENDSTIL_VERSION);
}

fs::path againName(const fs::path& recipe, const fs::path& result) {
  return recipe.parent_path() / (result.stem().string() + "-again" + result.extension().string());
}

}  // namespace jugendstil::cli
