// SPDX-License-Identifier: Apache-2.0
// What a clip has to teach.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "clip/clip.h"
#include "learn/learner.h"

namespace jugendstil {

// So many pairs of frames that follow each other, spread evenly over the clip, reduced to this longer side.
// Frames that cannot be read are left out. Throws Error where fewer than two can.
std::vector<FramePair> framePairs(FrameSource& clip, int pairs, int longEdge);

// One frame of it, by its number. Throws Error where there is none of that number, or it cannot be read.
Image frameOf(FrameSource& clip, std::int64_t frame);

}  // namespace jugendstil
