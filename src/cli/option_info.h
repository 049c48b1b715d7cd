// SPDX-License-Identifier: Apache-2.0
// Options as plain facts, from the tables that parse them: for the manual and for the shells' completions.
#pragma once

#include <string>
#include <vector>

#include "cli/command.h"

namespace jugendstil::cli {

enum class ValueKind {
  none,   // a flag
  yesNo,  // behind "=" only, and may be missing
  words,  // one of some, or a file as well where `extensions` says which
  file,   // with one of the extensions; any file where none are named
  folder,
  other,  // a number, a name
};

struct OptionInfo {
  std::string name;
  char letter = 0;    // its short form, if any
  std::string value;  // what stands for its value in help
  std::string help;
  bool plain = false;  // also taken from words without an option
  ValueKind kind = ValueKind::none;
  std::vector<std::string> words;
  std::vector<std::string> extensions;  // without the dot
};

// Of one group, in its order, without those that ask for help.
std::vector<OptionInfo> optionsIn(const po::options_description& group);

// Of all kinds of a command, each name once, and that which asks for help.
std::vector<OptionInfo> optionsOf(const CommandInfo& command);

}  // namespace jugendstil::cli
