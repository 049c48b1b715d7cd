// SPDX-License-Identifier: Apache-2.0
// A level to time steps on.
#pragma once

#include "paint/level.h"

namespace bench {

// Its canvas, margin included, has exactly this size.
inline jugendstil::LevelPlan canvasOf(int width, int height) {
  jugendstil::LevelPlan plan;
  plan.picture = {width, height};
  plan.canvas = plan.picture;
  plan.steps = 1000;
  return plan;
}

}  // namespace bench
