// SPDX-License-Identifier: Apache-2.0
// What a recipe tells of the picture that it made.
#pragma once

#include <string>

namespace jugendstil {

struct PieceResult {
  std::string version;
  int width = 0;
  int height = 0;
  double seconds = 0;
};

}  // namespace jugendstil
