// SPDX-License-Identifier: Apache-2.0
// Fades from and to black.
#pragma once

#include <functional>
#include <vector>

#include "film/frame_feed.h"

namespace jugendstil {

// How bright each frame is beside its shot, 0 to 1: below 1 only where the shot fades in from black or out to
// it. A painting of darkness is no picture; such frames are painted as if they were bright, and darkened
// after. `brightness` are mean display values, `begins` tells where shots begin.
std::vector<float> fadesOf(const std::vector<double>& brightness, const std::vector<bool>& begins);

// The same for the frames of a clip, all of which are read once. `progress` (frames gone through) may throw
// Stopped.
std::vector<float> findFades(FrameFeed& feed, const std::function<void(std::int64_t)>& progress);

// The frame as bright as its shot; what is nearly black stays dark rather than becoming noise.
Image unfaded(const Image& frame, float fade);

// The picture as dark as its frame.
Image faded(const Image& picture, float fade);

}  // namespace jugendstil
