// SPDX-License-Identifier: Apache-2.0
// A finished film in numbers.
#pragma once

#include <cstdint>

namespace jugendstil {

// What the finished film says of one frame.
struct FrameFigures {
  std::int64_t source = 0;  // its number in the clip
  bool shotBegins = false;
  int tries = 1;        // 0: the clip's frame is damaged
  bool filled = false;  // made from its neighbours
  double error = 0;     // warping errors against the frame before; 0 where a shot begins
  double sourceError = 0;
  double trusted = 0;  // part of the pixels that they were measured on
  double loss = 0;
  int steps = 0;
  double maskConfidence = 1;
};

}  // namespace jugendstil
