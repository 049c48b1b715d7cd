// SPDX-License-Identifier: Apache-2.0
// Settings that take several values, each for a result of its own.
#pragma once

#include <functional>
#include <string>
#include <utility>
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

// One of all combinations: its name, "moss-seed-2", and what is set for it.
struct Variation {
  std::string name;
  std::vector<std::pair<std::string, std::string>> settings;
};

// All combinations for words like "likeness=20,50,80", the last word's changing fastest; names begin with the
// stem. `noun` ("pieces") is for the UsageError where there are more than `most`, or two would have one name.
std::vector<Variation> variationsOf(
    const std::vector<std::string>& words, const std::string& stem, std::size_t most, const char* noun,
    const std::function<void(const std::string& setting, const std::string& value)>& set);

// The text as a part of a file's name.
std::string fileWord(std::string text);

}  // namespace jugendstil::cli
