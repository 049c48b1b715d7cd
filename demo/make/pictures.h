// SPDX-License-Identifier: Apache-2.0
// The pictures of the Palmarium's workshop.
#pragma once

#include <string>

#include "image/image.h"

namespace demo {

jugendstil::Image paintImpasto();  // "Evening at the lily pond", oil
jugendstil::Image layMosaic();     // "The sun lily", glass tesserae
jugendstil::Image cutLino();       // "Moon over the garden", linocut in two inks
jugendstil::Image printPoster();   // "Lilies rising", a poster panel of flat inks
jugendstil::Image washMoor();      // "Rain leaves the moor", wet washes on rough paper

// A rendered scene as a camera would have seen it: soft lens, fall-off to the corners, grain of a small
// sensor. The print is "faded", "crisp", "vivid", "flat" (for
// swatches: no fall-off) or plain.
jugendstil::Image photographed(const jugendstil::Image& render, unsigned seed, const std::string& name);

// The clip out of its rendered passes: DIR/pond.silent.mp4 as a camera would have taken it, and
// DIR/pond.truth.mkv with its true motion and the boat's matte.
void finishClip(const std::string& renders, const std::string& folder);

}  // namespace demo
