// SPDX-License-Identifier: Apache-2.0
// Names of files as text.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

namespace jugendstil {

// A file's name may hold any bytes, TOML and JSON only UTF-8. Bytes that are not UTF-8 become characters of
// the last private plane, U+10FF80 for 80 to U+10FFFF for FF (after the same idea in Python's PEP 383), and
// so do the bytes of such characters themselves, so that nameOfUtf8() always gives the name back.
std::string utf8Of(const std::filesystem::path& name);
std::filesystem::path nameOfUtf8(std::string_view text);

// Whether a text is UTF-8 as Unicode defines it: no surrogates, nothing longer than it need be.
bool isUtf8(std::string_view text);

}  // namespace jugendstil
