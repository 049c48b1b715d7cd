// SPDX-License-Identifier: Apache-2.0
// Bytes as text (RFC 4648), for pages and files that hold text alone.
#pragma once

#include <string>
#include <string_view>

namespace jugendstil {

std::string base64Of(std::string_view bytes);

// What base64Of made text of. Throws Error for any other text.
std::string bytesOfBase64(std::string_view text);

}  // namespace jugendstil
