// SPDX-License-Identifier: Apache-2.0
// How far two windows are from each other.
#pragma once

#include <cstddef>

namespace jugendstil {

// Windows are compared: this many pixels to each side of a spot, of so many features each.
inline constexpr int kWindow = 3;
inline constexpr int kWindowSide = 2 * kWindow + 1;
inline constexpr std::size_t kFeatures = 4;
inline constexpr std::size_t kWindowRow = std::size_t{kWindowSide} * kFeatures;
inline constexpr std::size_t kWindowValues = kWindowRow * kWindowSide;

// The sum of squared differences of two windows whose rows stand so many values apart.
float windowDistance(const float* a, std::size_t stepA, const float* b, std::size_t stepB);

// The same where each value counts by its own weight; `a` and `weights` are whole windows without gaps. Where
// it comes to more than `most`, any number above that.
float weighedWindowDistance(const float* a, const float* weights, const float* b, std::size_t stepB,
                            float most);

// The same of blocks of any size: `a` and `weights` have rows of `length` values, a multiple of
// kBlockValues, of which those beyond the block weigh nothing; what stands there in `b` must be readable.
inline constexpr std::size_t kBlockValues = 16;
float blockDistance(const float* a, const float* weights, const float* b, std::size_t stepB,
                    std::size_t length, int rows);

}  // namespace jugendstil
