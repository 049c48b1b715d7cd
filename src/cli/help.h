// SPDX-License-Identifier: Apache-2.0
// What a command says about itself, in lines that fit the terminal.
#pragma once

#include <boost/program_options.hpp>
#include <string>
#include <string_view>

namespace jugendstil::cli {

namespace po = boost::program_options;

// An empty group of options under a heading.
po::options_description optionGroup(const std::string& heading);

// The two options by which every command is asked about itself.
void addHelpOptions(po::options_description& options);

// Where help was asked for, prints it and returns true: usage and the names of options for -h, what each does
// for
// --help.
bool sayHelpIfAsked(const po::variables_map& given, std::string_view usage,
                    const po::options_description& options);

}  // namespace jugendstil::cli
