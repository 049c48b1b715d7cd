// SPDX-License-Identifier: Apache-2.0
// Clips and their frames as they are named on the command line.
#pragma once

#include <string>

#include "film/film_recipe.h"

namespace jugendstil::cli {

// "48=fixed.png"; where no number is needed, a word without one is the file, of frame 0. A file that is
// called like that wins. Throws UsageError that names the option.
FrameInput parseFrameWord(const char* option, const std::string& word, bool numberNeeded);

}  // namespace jugendstil::cli
