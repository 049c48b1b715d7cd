// SPDX-License-Identifier: Apache-2.0
// A network that makes pictures out of pictures, as plain data.
#pragma once

#include <cstddef>
#include <cstdint>
#include <random>
#include <span>
#include <vector>

#include "grade/recolour.h"

namespace jugendstil {

// What a layer takes its values from where that is no other layer.
inline constexpr int kPicture = -1;
// What the values of its pictures are counted from: display-encoded middle grey.
inline constexpr float kMiddle = 0.5F;

// Added to the variance, so that what is of one value has no infinite gain.
inline constexpr float kNormalisingFloor = 1e-5F;

// Layers stand in the order in which they are computed. In `Net::parameters` a convolution has weights
// (outputs x inputs x kernel x kernel) and a bias for each output, a normalisation or a scaling a scale and a
// shift for each channel, the others have none.
struct NetLayer {
  enum class Kind {
    convolution,    // square, so that the size stays, or is halved by a stride of 2
    normalisation,  // each channel to mean 0 and deviation 1 over the picture, then scaled and shifted
    enlarging,      // to twice the size
    sum,            // of two layers of the same size
    scaling,        // of each channel, and a shift
    bounded,        // hyperbolic tangent
  };
  // What an enlarging puts where no value was.
  enum class Between { linear, nearest, zeros };
  Kind kind = Kind::convolution;
  int from = kPicture;
  int also = kPicture;  // what a sum adds
  int outputs = 0;      // channels
  int kernel = 3;
  int stride = 1;
  bool rectified = false;  // negative values to 0 in the end; not of what is enlarged or bounded
  bool mirrored = false;   // a convolution continues by reflection about its outermost values, not by zeros
  Between between = Between::linear;
  float floor = kNormalisingFloor;

  // So many zeros, or mirrored values, stand before the first that a convolution takes.
  int pad() const { return (kernel - 1) / 2; }
};

struct Net {
  int channels = 3;  // of the picture that goes in
  std::vector<NetLayer> layers;
  std::vector<float> parameters;

  int inputsOf(int layer) const;
  // Of one layer, and where they begin among all.
  std::size_t parameterCount(int layer) const;
  std::size_t firstParameter(int layer) const;
  // By how much smaller than the picture a layer is, per axis; sizes must divide by the largest.
  int shrinkOf(int layer) const;
  int largestShrink() const;
};

// Checks that layers take what stands before them, in sizes and channels that fit, and gives all parameters a
// place. Throws Error that names the layer.
void requireSound(const Net& net);

// A number of mean 0 and deviation 1. The standard library's own normal distribution differs from one library
// to the next.
float drawnNormal(std::mt19937_64& random);

// First parameters: weights drawn so that values keep their spread from layer to layer (He, Zhang, Ren & Sun
// 2015), scales 1, biases and shifts 0. Equal seeds give equal ones.
std::vector<float> firstParameters(const Net& net, std::uint64_t seed);

// A painter's network: most of the work at a quarter of the size, in few channels, enlarged before it is
// convolved, so that there is no checker-board (Johnson, Alahi & Fei-Fei 2016; Ulyanov, Vedaldi & Lempitsky
// 2016; Odena, Dumoulin & Olah 2016). Its first layer turns the photo's colours into the reference's, pixel
// by pixel, and what the others make is added to that. Takes and gives RGB about 0: display-encoded values
// less kMiddle.
Net painterNet(std::uint64_t seed);

// No change of colours.
inline constexpr AffineColourMap kOwnColours{{{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}}, {}};

// The change of colours that a painter's network begins with, of display-encoded RGB; kOwnColours at first.
void setColours(Net& net, const AffineColourMap& map);
// The same read back. Throws Error where the first layer is no change of colours.
AffineColourMap coloursOf(const Net& net);

}  // namespace jugendstil
