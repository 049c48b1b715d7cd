// SPDX-License-Identifier: Apache-2.0
// Tones evened where a hole was filled.
#pragma once

#include <functional>
#include <vector>

#include "image/image.h"
#include "weave/atlas.h"
#include "weave/woven.h"

namespace jugendstil {

// The picture with its woven pixels made lighter or darker, smoothly, until steps across joins are those that
// the swatches have there, and what is given is met without a step; given pixels stay as they are. Steps
// much larger than kEvened, as things' outlines have them, are left.
//
// Progress is told from 0 to 1 and may throw Stopped.
//
// Pérez, Gangnet & Blake 2003, "Poisson image editing"; Agarwala et al. 2004.
inline constexpr float kEvened = 0.06F;
Image evened(const Image& picture, const Woven& piece, const Atlas& atlas, const std::vector<Image>& swatches,
             const std::function<void(double)>& progress);

}  // namespace jugendstil
