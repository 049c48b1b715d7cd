// SPDX-License-Identifier: Apache-2.0
// Command lines: Boost.Program_options with the tables of settings, and messages in our words.
#pragma once

#include <array>
#include <boost/program_options.hpp>
#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "cli/command.h"
#include "cli/help.h"
#include "grade/look.h"
#include "image/mask.h"
#include "recipe/setting_values.h"

namespace jugendstil::cli {

namespace po = boost::program_options;

// Settings as long options taking text, under a heading.
po::options_description settingOptions(const std::string& heading, const std::vector<SettingInfo>& settings);

// Values of options, with the word that stands for them in the help: one; one each time that the option is
// given; or all words up to the next option. Boost's own template takes a second of compiling in each file.
const po::value_semantic* textValue(const std::string& name);
const po::value_semantic* textsValue(const std::string& name);
const po::value_semantic* wordsValue(const std::string& name);

// The value of a switch: "yes" where it is named alone; another one stands behind "=", so that a switch never
// takes the next word.
const po::value_semantic* switchValue();
// Whether a switch is on; off where it was not given. Throws UsageError.
bool switchOf(const po::variables_map& given, const char* name);

// Calls set(name, text) for each of the settings that was given.
void applyGiven(const po::variables_map& given, const std::vector<SettingInfo>& settings,
                const std::function<void(const std::string& name, const std::string& text)>& set);

// How a command reports while it works.
po::options_description reportOptions();

// Parses; unknown options and missing values become a UsageError that offers the nearest option.
po::variables_map parseWords(const Words& words, const po::options_description& options,
                             const po::positional_options_description& positions, const std::string& command);

// The value of --after: every word up to the next option, as a shell makes of refs/*.
const po::value_semantic* referencesValue();

// Throws UsageError with the usage ("paint needs a photo: ..."), and says where photos may have gone, where
// none is given.
void requirePhoto(const po::variables_map& given, const std::string& usage);

// REF or REF@SHARE, given for this option. A file that is called like that with the @ wins.
struct ReferenceWord {
  std::filesystem::path path;
  double share = 1;
};
ReferenceWord parseReference(const std::string& word, const char* option = "--after");

// Numbers divided by a word, like 3,4 or 0..30; none where it is not like that.
std::vector<double> numbersIn(std::string_view text, std::string_view between);

// X,Y,WIDTH,HEIGHT. Throws UsageError that names the option.
MaskBox parseBox(const std::string& option, const std::string& text);

// #RRGGBB or #RGB as display values; none where it is not like that.
std::optional<std::array<float, 3>> colourOfHex(std::string hex);

// What was given for an option that takes text, or several, or a number from 0 to `most`. Throws UsageError.
std::string textOf(const po::variables_map& given, const char* name, const std::string& otherwise = {});
std::vector<std::string> listOf(const po::variables_map& given, const char* name);
double numberOf(const po::variables_map& given, const char* name, double usual, double most);

// A look from our own TOML, or imported from .cube, .clf or a Hald picture.
Look readLook(const std::filesystem::path& path);

// Throws Error where the file exists and may not be replaced.
void requireFree(const std::filesystem::path& path, bool force);

// The name that was free when the work began; where another program has taken it since, the first of NAME-2,
// NAME-3 ... that is free, and that is said.
std::filesystem::path stillFree(const std::filesystem::path& name);

// What -o says, by one rule in all commands: a folder that exists or a name with a slash at its end is a
// folder, in which the result gets the name.
bool meansFolder(const std::string& output);
std::filesystem::path outputFor(const std::string& output, const std::filesystem::path& name);
// Makes the folder in which it is to lie. Throws Error.
void makeFolderFor(const std::filesystem::path& output);

// Throws Error where nothing can be written there, or in what will be its folder, without leaving anything.
void requirePlace(const std::filesystem::path& output, bool makesFolder = false);

// Throws UsageError where the result would replace the photo it is made from.
void requireOther(const std::filesystem::path& output, const std::filesystem::path& photo);

// The folder with networks/ and demo/: beside the program where installed, else where it was built. Throws
// Error where there is neither.
std::filesystem::path shareFolder();

// The feature network in it.
std::filesystem::path shippedNetwork();
// The painter that knows any reference.
std::filesystem::path shippedGeneralPainter();

}  // namespace jugendstil::cli
