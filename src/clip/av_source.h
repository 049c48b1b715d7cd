// SPDX-License-Identifier: Apache-2.0
// Clips through libav: an index of all frames from the container first, then frames by number. What helpers
// do; others call openClip.
#pragma once

#include <memory>
#include <string>

#include "clip/clip.h"

namespace jugendstil {

// Throws Error: missing, not a clip, no pictures in it, no frames.
std::unique_ptr<FrameSource> openAvSource(const std::string& name);

}  // namespace jugendstil
