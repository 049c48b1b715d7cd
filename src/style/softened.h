// SPDX-License-Identifier: Apache-2.0
// Planes made smaller and softer, and the way back for gradients.
#pragma once

#include <vector>

namespace jugendstil {

// Means of two by two values; both sides must be even.
void halve(const std::vector<float>& plane, int width, int height, std::vector<float>& half);

// The transpose of halve, added: scale times a quarter of each value of the half-sized plane for its four in
// a plane of this width.
void addUnhalved(const std::vector<float>& half, int width, float scale, std::vector<float>& plane);

// [1 2 1] / 4 along both axes, nothing outside: a symmetric matrix, so it is its own transpose.
void soften(std::vector<float>& plane, int width, int height, std::vector<float>& scratch);

}  // namespace jugendstil
