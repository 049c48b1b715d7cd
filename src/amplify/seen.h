// SPDX-License-Identifier: Apache-2.0
// What the bands of a network see, as pictures.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "image/image.h"
#include "network/band.h"
#include "network/chain.h"

namespace jugendstil {

// How a photo wakes the channels of a band.
class Woken {
 public:
  // The photo is RGB, display-encoded. Throws Error where memory runs out.
  Woken(const Chain& chain, std::size_t band, const Image& photo);

  // Of each channel: its part of the variance of all of them over the photo, 1 together.
  const std::vector<double>& shares() const { return shares_; }
  // 1 channel, a value for each of the band's positions: 0 as low as anywhere, 1 high.
  Image heat(int channel) const;

 private:
  BandShape shape_;
  int margin_ = 0;           // positions on each side that are not the photo's
  std::vector<float> rows_;  // P x C
  std::vector<double> shares_;
};

// The numbers of so many channels with the largest shares, the largest first.
std::vector<int> strongest(const std::vector<double>& shares, std::size_t count);

// The photo in grey, and warm and bright where the heat is.
Image heatOver(const Image& photo, const Image& heat);

using SeenProgress = std::function<void(double part)>;  // may throw Stopped

// What one channel answers most strongly to: soft grey noise, edge x edge, amplified for it alone (Olah,
// Mordvintsev & Schubert 2017). The seed makes the noise.
Image textureOf(const Chain& chain, const std::string& band, int channel, int edge, unsigned seed,
                const SeenProgress& progress);

// A texture grown from noise by what one band knows of a reference alone, edge x edge; where progress throws
// Stopped, so does this (Gatys, Ecker & Bethge,
// "Texture synthesis using convolutional neural networks", 2015, by one layer).
Image grownBy(const Chain& chain, const std::string& band, const Image& reference, int edge,
              const SeenProgress& progress);

}  // namespace jugendstil
