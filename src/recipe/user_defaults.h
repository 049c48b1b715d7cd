// SPDX-License-Identifier: Apache-2.0
// The user's own defaults: a file of tables [paint], [grade] and [film] with the keys that recipes have.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "recipe/setting_values.h"

namespace jugendstil {

// Calls set(name, value) for each setting in a command's table. Throws UsageError with file, line and column:
// broken TOML, unknown tables or settings (the nearest one is offered), wrong types, values out of range.
void readUserDefaults(std::string_view text, const std::filesystem::path& file, const std::string& command,
                      const std::vector<SettingInfo>& known,
                      const std::function<void(const std::string& name, const std::string& value)>& set);

}  // namespace jugendstil
