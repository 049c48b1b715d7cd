// SPDX-License-Identifier: Apache-2.0
// Text inside XML and HTML.
#pragma once

#include <string>

namespace jugendstil {

// With what these languages keep for themselves replaced, so that it can stand in text and in quoted
// attributes.
inline std::string escapedMarkup(const std::string& text) {
  std::string out;
  for (const char c : text) {
    if (c == '&')
      out += "&amp;";
    else if (c == '<')
      out += "&lt;";
    else if (c == '>')
      out += "&gt;";
    else if (c == '"')
      out += "&quot;";
    else
      out += c;
  }
  return out;
}

}  // namespace jugendstil
