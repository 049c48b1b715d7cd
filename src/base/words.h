// SPDX-License-Identifier: Apache-2.0
// Words that a person typed, or a library said.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace jugendstil {

// The word of candidates that looks most like the given one, or an empty string where none comes close.
std::string nearestWord(std::string_view word, const std::vector<std::string>& candidates);
// The same where at most so many letters differ.
std::string nearestWord(std::string_view word, const std::vector<std::string>& candidates, std::size_t most);

// In small letters, where they are ASCII.
std::string lowerCase(std::string text);

// Without spaces at its ends.
std::string trimmedWord(std::string_view text);

// With blanks for all that would move a terminal's cursor, colour it or name its window, line ends and tabs
// apart: what stands in files is shown and not obeyed.
std::string harmless(std::string text);

// The same on one line.
std::string onOneLine(std::string text);

// The parts between commas or the like; one, the whole text, where there is none.
std::vector<std::string> splitAt(std::string_view text, char by);

// The place that a library's message names, as ", line 3, column 7"; empty where it names none. Its other
// words are not ours to tell.
std::string placeToldIn(const std::string& message);

}  // namespace jugendstil
