// SPDX-License-Identifier: Apache-2.0
#include "cli/recipe_options.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cstdlib>

#include "base/checksum.h"
#include "base/error.h"
#include "cli/say.h"
#include "paint/first_state.h"
#include "recipe/recipe_file.h"
#include "recipe/user_defaults.h"

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

RecipePart parsePart(const std::string& word) {
  // The mask's name ends at the first = behind which there is something and before which there is a file.
  std::size_t equals = word.find('=');
  while (equals != std::string::npos && !fs::exists(word.substr(0, equals)) &&
         word.find('=', equals + 1) != std::string::npos)
    equals = word.find('=', equals + 1);
  if (equals == std::string::npos || equals == 0 || equals + 1 == word.size())
    throw UsageError(
        fmt::format("--part is a mask and a reference like sky.png=evening.jpg, not \"{}\"", word));
  const ReferenceWord r = parseReference(word.substr(equals + 1));
  return {inputNamed(word.substr(0, equals)), inputNamed(r.path, r.share)};
}

RecipeHold parseHold(const std::string& word) {
  const std::size_t equals = word.rfind('=');
  if (equals == std::string::npos || equals == 0 || equals + 1 == word.size())
    throw UsageError(
        fmt::format("--hold is a mask and a likeness like hand.png=85, or faces=85, not \"{}\"", word));
  const std::string name = word.substr(0, equals);
  RecipeHold hold{std::nullopt, numberSetting("--hold", word.substr(equals + 1), 0, 100)};
  if (name != "faces") hold.mask = inputNamed(name);
  return hold;
}

std::optional<RecipeMask> givenMask(const po::variables_map& given) {
  if (given.count("inside") != 0 && given.count("outside") != 0)
    throw UsageError("--inside and --outside are the two sides of one mask; give one of them");
  for (const char* side : {"inside", "outside"}) {
    if (given.count(side) != 0)
      return RecipeMask{inputNamed(textOf(given, side)), std::string_view(side) == "inside"};
  }
  return std::nullopt;
}

void tellInputs(const std::vector<RecipeInput>& references, const std::vector<RecipePart>& parts,
                const std::optional<RecipeMask>& mask, const std::vector<RecipeHold>& holds) {
  for (const RecipeInput& r : references)
    say(stdout, "  after {}{}\n", r.path.string(), references.size() > 1 ? fmt::format(" @{}", r.share) : "");
  for (const RecipePart& part : parts)
    say(stdout, "  part {} after {}\n", part.mask.path.string(), part.reference.path.string());
  for (const RecipeHold& hold : holds)
    say(stdout, "  hold {} by a likeness of {}\n", hold.mask ? hold.mask->path.string() : "faces",
        hold.likeness);
  if (mask) say(stdout, "  {} {}\n", mask->inside ? "inside" : "outside", mask->file.path.string());
}

void tellSettings(const std::vector<SettingText>& settings) {
  const auto unusual = unusualOf(settings);
  for (const std::string& setting : unusual) say(stdout, "  {}\n", setting);
  say(stdout, "  everything {}as usual\n", unusual.empty() ? "" : "else ");
}

namespace {

fs::path defaultsFile() {
  const char* config = std::getenv("XDG_CONFIG_HOME");
  const char* home = std::getenv("HOME");
  const fs::path folder = config != nullptr && *config != 0 ? fs::path(config)
                          : home != nullptr && *home != 0   ? fs::path(home) / ".config"
                                                            : fs::path();
  return folder.empty() ? folder : folder / "jugendstil" / "defaults.toml";
}

}  // namespace

void takeDefaults(const std::string& command, const std::vector<SettingInfo>& known,
                  const po::variables_map& given, const std::vector<std::string>& preset,
                  const std::function<void(const std::string& name, const std::string& value)>& set) {
  const fs::path file = defaultsFile();
  std::error_code code;
  if (file.empty() || !fs::exists(file, code)) return;
  std::vector<std::string> taken;
  readUserDefaults(readRecipe(file), file, command, known,
                   [&](const std::string& name, const std::string& value) {
                     if (given.count(name) != 0) return;
                     if (std::find(preset.begin(), preset.end(), name) != preset.end()) return;
                     set(name, value);
                     taken.push_back(fmt::format("{} {}", name, value));
                   });
  if (!taken.empty() && given.count("quiet") == 0)
    say(stderr, "note: {} from {}\n", fmt::join(taken, ", "), file.string());
}

RecipeInput shippedNetworkInput() {
  RecipeInput network = inputNamed(shippedNetwork());
  network.shipped = network.path.stem().string();
  return network;
}

namespace {

// The recipe's network where it lies here: by its name where it came with the program, or as the shipped one
// where that is what it was.
RecipeInput networkOf(const RecipeInput& recipes) {
  RecipeInput shipped = shippedNetworkInput();
  std::error_code code;
  const bool gone = recipes.shipped.empty() && !fs::exists(recipes.path, code);
  if (recipes.shipped == shipped.shipped || (gone && fileChecksum(shipped.path) == recipes.checksum)) {
    shipped.checksum = recipes.checksum;
    return shipped;
  }
  if (recipes.shipped.empty()) return recipes;
  throw Error(
      fmt::format("the recipe's network \"{}\" does not come with this version, which has \"{}\"; name its "
                  "file with --network FILE",
                  recipes.shipped, shipped.shipped));
}

}  // namespace

RecipeInput networkFor(const po::variables_map& given, const std::optional<RecipeInput>& recipes) {
  if (given.count("network") != 0) return inputNamed(textOf(given, "network"));
  return recipes ? networkOf(*recipes) : shippedNetworkInput();
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
