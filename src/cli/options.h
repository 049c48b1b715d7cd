// Command lines: Boost.Program_options with the settings table, and messages in our words.
#pragma once

#include <boost/program_options.hpp>
#include <filesystem>
#include <string>

#include "cli/command.h"
#include "grade/look.h"
#include "image/mask.h"
#include "paint/painter.h"
#include "paint/settings.h"

namespace jugendstil::cli {

namespace po = boost::program_options;

// Every paint setting as a long option taking text.
po::options_description paintSettingOptions();

// Applies those that were given, of those that the command has; without `has`, of all.
void applyGiven(const po::variables_map& given, PaintSettings& settings,
                bool (*has)(const std::string& setting) = nullptr);

// Prints a command's usage and its options.
void sayHelp(std::string_view usage, const po::options_description& options);

// How a command reports while it works.
po::options_description reportOptions();

// Parses; unknown options and missing values become a UsageError that offers the nearest option.
po::variables_map parseWords(const Words& words, const po::options_description& options,
                             const po::positional_options_description& positions, const std::string& command);

// REF or REF@SHARE. A file that is called like that with the @ wins.
struct ReferenceWord {
  std::filesystem::path path;
  double share = 1;
};
ReferenceWord parseReference(const std::string& word);

// Numbers divided by a word, like 3,4 or 0..30; none where it is not like that.
std::vector<double> numbersIn(std::string_view text, std::string_view between);

// X,Y,WIDTH,HEIGHT. Throws UsageError that names the option.
MaskBox parseBox(const std::string& option, const std::string& text);

// What was given for an option that takes several, or a number from 0 to `most`. Throws UsageError.
std::vector<std::string> listOf(const po::variables_map& given, const char* name);
double numberOf(const po::variables_map& given, const char* name, double usual, double most);

// A look from our own TOML, or imported from .cube, .clf or a Hald picture.
Look readLook(const std::filesystem::path& path);

// Throws Error where the file exists and may not be replaced.
void requireFree(const std::filesystem::path& path, bool force);

// The folder with networks/ and demo/: beside the program where installed, else where it was built.
std::filesystem::path shareFolder();

}  // namespace jugendstil::cli
