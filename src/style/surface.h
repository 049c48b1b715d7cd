// SPDX-License-Identifier: Apache-2.0
// The terms that look at the picture's own pixels: colour, smoothness, range.
#pragma once

#include <cstdint>
#include <vector>

#include "image/planes.h"
#include "transport/directions.h"

namespace jugendstil {

// Sliced Wasserstein distance between the picture's and the references' colours in opponent axes, divided
// by 0.05, a mean square distance between quite different palettes.
class ColourTerm {
 public:
  // samples: rows of three opponent values. `places` are the picture's pixels that are looked at, by number;
  // none: all.
  ColourTerm(const std::vector<float>& samples, std::uint64_t seed, std::vector<std::uint32_t> places = {});

  // Returns the value and adds weight times its gradient. Fresh directions at each step.
  double evaluate(const Planes& opponent, double weight, std::uint64_t step, Planes& gradient);

 private:
  DirectionPool pool_;
  std::uint64_t seed_;
  std::vector<std::uint32_t> places_;
};

// The colours of references for a ColourTerm: about count rows, in numbers by share.
std::vector<float> colourSamples(const std::vector<Planes>& references, const std::vector<double>& shares,
                                 std::size_t count);

// Mean squared difference of neighbours, lightness and chroma each with its own weight (after Rudin, Osher
// & Fatemi 1992, squared as in denoising by diffusion). Adds the gradient.
double smoothness(const Planes& opponent, double lightness, double chroma, Planes& gradient);

// weight times the mean over pixels and channels of how far RGB lies outside [0, 1], squared; adds the
// gradient.
double rangePenalty(const Planes& rgb, double weight, Planes& gradient);

}  // namespace jugendstil
