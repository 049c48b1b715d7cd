// SPDX-License-Identifier: Apache-2.0
// Telling things on the terminal or into a pipe.
#pragma once

#include <fmt/format.h>

#include <cstdio>
#include <nlohmann/json_fwd.hpp>
#include <string_view>

namespace jugendstil::cli {

// Prints text without what would move the terminal's cursor (base/words.h), and does nothing where it cannot
// be printed: a message must never cost work. Whether standard output took everything is asked at the end of
// the program (outputIsWhole).
void sayText(std::FILE* to, std::string_view text);

// Writes over the terminal's last line.
void sayOver(std::FILE* to, std::string_view text);

template <typename... T>
void say(std::FILE* to, fmt::format_string<T...> format, T&&... values) {
  sayText(to, fmt::format(format, std::forward<T>(values)...));
}

// An object on a line of its own, for other programs. Names of files may be any; they come out as utf8Of()
// has them.
void sayJson(std::FILE* to, const nlohmann::json& object);

// Whether all that was said on standard output has arrived; what a reader who went away did not want counts
// as arrived.
bool outputIsWhole();

// Gives the program's three streams files to write to and read from where it was started without: the next
// file that is opened would take their place, and messages would be written into pictures.
void openStreams();

}  // namespace jugendstil::cli
