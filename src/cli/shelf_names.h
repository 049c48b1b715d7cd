// SPDX-License-Identifier: Apache-2.0
// The user's shelf, and its names in place of files.
#pragma once

#include <boost/program_options.hpp>
#include <filesystem>
#include <string>

namespace jugendstil::cli {

namespace po = boost::program_options;

// Where the shelf stands after the XDG Base Directory specification: in XDG_DATA_HOME, else in
// ~/.local/share; empty where there is neither.
std::filesystem::path shelfFolder();

// Puts files in place of the names of a shelf, wherever an option takes a file and there is none of that
// name, and says which; tag:WORD and album:WORD stand for all that have it, each painted by itself. Throws
// UsageError for a name that is nearly one of the shelf's, and for a tag or an album that nothing has; Error
// where the file is gone.
void takeShelfNames(po::variables_map& given, const po::options_description& options,
                    const std::string& command);

}  // namespace jugendstil::cli
