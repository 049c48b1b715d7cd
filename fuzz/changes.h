// SPDX-License-Identifier: Apache-2.0
// Damage to files by chance.
#pragma once

#include <random>
#include <string>
#include <vector>

namespace fuzz {

// One of the files with a few changes: bits, bytes, numbers at their ends, parts taken out, doubled, cut off,
// or put in from another.
std::string changed(const std::vector<std::string>& files, std::mt19937& chance);

}  // namespace fuzz
