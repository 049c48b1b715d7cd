// SPDX-License-Identifier: Apache-2.0
// The manual page, from the options that the commands parse and what manual.roff says besides.
#pragma once

#include <string>
#include <vector>

#include "cli/command.h"

namespace jugendstil::cli {

// For man(1), in roff.
std::string manualPage(const std::vector<CommandInfo>& commands);

}  // namespace jugendstil::cli
