// SPDX-License-Identifier: Apache-2.0
// What pages of reports are made of.
#pragma once

#include <array>

#include "image/image.h"

namespace jugendstil {

using Rgb = std::array<float, 3>;

// A part of a page, in pixels.
struct Box {
  int x = 0;
  int y = 0;
  int width = 0;
  int height = 0;
};

inline constexpr Rgb kPaper{0.93F, 0.925F, 0.91F};
inline constexpr Rgb kInk{0.13F, 0.13F, 0.14F};
inline constexpr Rgb kQuietInk{0.40F, 0.40F, 0.40F};

// An empty page of warm grey.
Image blankPage(int width, int height);

}  // namespace jugendstil
