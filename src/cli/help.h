// SPDX-License-Identifier: Apache-2.0
// What a command says about itself, in lines that fit the terminal.
#pragma once

#include <boost/program_options.hpp>
#include <string>
#include <vector>

namespace jugendstil::cli {

namespace po = boost::program_options;

// An empty group of options under a heading.
po::options_description optionGroup(const std::string& heading);

// The two options by which every command is asked about itself.
void addHelpOptions(po::options_description& options);

// What a command is called with.
struct CommandHelp {
  std::string usage;  // how it is called, what it does, and examples
  std::vector<po::options_description> groups;

  po::options_description options() const;
};

// Where help was asked for, prints it and returns true: usage and the names of options for -h, what each does
// for --help.
bool sayHelpIfAsked(const po::variables_map& given, const CommandHelp& help);

}  // namespace jugendstil::cli
