// SPDX-License-Identifier: Apache-2.0
// What the commands with recipes have in common: what was given on top of a recipe, and whether its files are
// still the same.
#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "cli/options.h"
#include "paint/settings.h"
#include "recipe/recipe_input.h"
#include "recipe/setting_values.h"

namespace jugendstil::cli {

// A file that was just named; its checksum is not known yet.
RecipeInput inputNamed(const std::filesystem::path& path, double share = 1);

// The references given with --after, if any.
std::optional<std::vector<RecipeInput>> givenReferences(const po::variables_map& given);

// MASK=REF. A file that is called like that with the = wins.
RecipePart parsePart(const std::string& word);

// MASK=LIKENESS, or faces=LIKENESS.
RecipeHold parseHold(const std::string& word);

// The mask given with --inside or --outside, if any. Throws UsageError where both are.
std::optional<RecipeMask> givenMask(const po::variables_map& given);

// What each word was taken for, a line each; and the settings that are not as usual.
void tellInputs(const std::vector<RecipeInput>& references, const std::vector<RecipePart>& parts,
                const std::optional<RecipeMask>& mask, const std::vector<RecipeHold>& holds = {});
void tellSettings(const std::vector<SettingText>& settings);

// Sets what the user's own defaults of a command (defaults.toml) say and neither the command line nor a
// preset does, and tells which ones unless `quiet`. Throws UsageError.
void takeDefaults(const std::string& command, const std::vector<SettingInfo>& known,
                  const po::variables_map& given, const std::vector<std::string>& preset,
                  const std::function<void(const std::string& name, const std::string& value)>& set);

// The network that comes with the program, by its name.
RecipeInput shippedNetworkInput();

// The network given with --network, the recipe's, or the one that comes with the program.
RecipeInput networkFor(const po::variables_map& given, const std::optional<RecipeInput>& recipes);

// The start of settings and recipe together: a picture that was given wins over the recipe's.
void takeStart(const po::variables_map& given, PaintSettings& settings, std::optional<RecipeInput>& start);

// Fills in a checksum, and says where a recipe run again is not given the file that it was made with. `what`
// names it ("photo").
void know(RecipeInput& input, const std::string& checksum, const char* what, bool quiet);
void knowFile(RecipeInput& input, const char* what, bool quiet);

// Says where a recipe comes from another version of the program.
void noteVersion(const std::string& version, bool quiet);

// The name of a result made again without a name of its own: OUT-again.png beside the recipe.
std::filesystem::path againName(const std::filesystem::path& recipe, const std::filesystem::path& result);

}  // namespace jugendstil::cli
