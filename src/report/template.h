// SPDX-License-Identifier: Apache-2.0
// Pages are written as pages, with marks like @TITLE@ where something is to be put in.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace jugendstil {

// The page with each mark replaced by its text; what was put in is not searched again.
std::string filledTemplate(std::string_view page,
                           const std::vector<std::pair<std::string_view, std::string>>& marks);

// JSON as a script may hold it: no "</script>" inside.
std::string scriptText(std::string json);

}  // namespace jugendstil
