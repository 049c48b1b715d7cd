// SPDX-License-Identifier: Apache-2.0
// What the bands of a network see, as pictures.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "image/image.h"
#include "network/chain.h"

namespace jugendstil {

struct WokenChannel {
  int channel = 0;   // from 0
  double share = 0;  // of the variance of all the band's channels over the photo
  Image heat;        // 1 channel, a value for each of the band's positions: 0 as low as anywhere, 1 high
};

// The channels of a band that tell a photo's places apart most, the strongest first. The photo is RGB,
// display-encoded. Throws Error where it is too small for the band.
std::vector<WokenChannel> wokenChannels(const Chain& chain, std::size_t band, const Image& photo,
                                        std::size_t count);

// The photo in grey, and warm and bright where the heat is.
Image heatOver(const Image& photo, const Image& heat);

using SeenProgress = std::function<void(double part)>;  // may throw Stopped

// What one channel answers most strongly to: soft grey noise, edge x edge, amplified for it alone (Olah,
// Mordvintsev & Schubert 2017). The seed makes the noise.
Image textureOf(const Chain& chain, const std::string& band, int channel, int edge, unsigned seed,
                const SeenProgress& progress);

// A texture grown from noise by what one band knows of a reference alone, edge x edge (Gatys, Ecker & Bethge,
// "Texture synthesis using convolutional neural networks", 2015, by one layer).
Image grownBy(const Chain& chain, const std::string& band, const Image& reference, int edge,
              const SeenProgress& progress);

}  // namespace jugendstil
