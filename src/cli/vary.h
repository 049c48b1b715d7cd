// SPDX-License-Identifier: Apache-2.0
// Settings that take several values, each for a result of its own.
#pragma once

#include <functional>
#include <string>
#include <vector>

namespace jugendstil::cli {

struct Choice {
  std::string setting;
  std::vector<std::string> values;
};

// "likeness=20,50,80": values are divided by commas; where they hold commas themselves, by semicolons. Each
// is tried with `set`. Throws UsageError.
Choice choiceFrom(const std::string& word,
                  const std::function<void(const std::string& setting, const std::string& value)>& set);

// The text as a part of a file's name.
std::string fileWord(std::string text);

}  // namespace jugendstil::cli
