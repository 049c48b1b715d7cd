// SPDX-License-Identifier: Apache-2.0
// Numbered pictures as a clip.
#pragma once

#include <memory>
#include <string>

#include "clip/clip.h"

namespace jugendstil {

// Frames of a pattern like shot_%05d.png, from the lowest number on; a gap is a missing frame. Throws Error
// where there are none, or where they differ in size (when read).
std::unique_ptr<FrameSource> openFrameFolder(const std::string& pattern);

}  // namespace jugendstil
