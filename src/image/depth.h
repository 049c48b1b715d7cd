// SPDX-License-Identifier: Apache-2.0
// How finely a picture file tells values apart, and how strongly it is compressed.
#pragma once

#include <optional>

namespace jugendstil {

enum class Depth { eight, sixteen, floating };  // bits; or floating point, 16 or 32 of them

// What was asked of a file beside its name; the rest is as usual.
struct Encoding {
  std::optional<Depth> depth{};  // otherwise that of what it was made from, as far as the format holds it
  std::optional<int> quality{};  // 0 to 100, of JPEG (95) and WebP (92); the other formats lose nothing
  // A PNG that is soon deleted, or made again: in a third to a seventh of the time, a twentieth to an eighth
  // larger.
  bool quickly = false;
};

}  // namespace jugendstil
