// SPDX-License-Identifier: Apache-2.0
// Photos painted over by simple generators, in manners drawn at random: references to learn from.
#pragma once

#include <cstdint>

#include "image/image.h"

namespace training {

// RGB, display-encoded, of the photo's size: brush strokes with relief, dabs, flat inks with or without
// outlines, tesserae, hatching, or a wash, in the photo's colours or in others. Equal seeds give equal ones.
jugendstil::Image study(const jugendstil::Image& photo, std::uint32_t seed);

}  // namespace training
