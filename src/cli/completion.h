// SPDX-License-Identifier: Apache-2.0
// Completions for shells, from the options that the commands parse.
#pragma once

#include <string>
#include <vector>

#include "cli/command.h"

namespace jugendstil::cli {

// A script for "bash", "zsh" or "fish". Throws UsageError for another shell.
std::string completionScript(const std::vector<CommandInfo>& commands, const std::string& shell);

}  // namespace jugendstil::cli
