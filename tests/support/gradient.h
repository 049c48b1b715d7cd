// SPDX-License-Identifier: Apache-2.0
// Central differences along a direction against a gradient's promise.
#pragma once

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <random>

#include "image/planes.h"

namespace testing_support {

// value(picture) is differentiated at p along a smooth and a rough random direction of the given size and
// compared with <gradient, direction>.
inline void expectGradient(const std::function<double(const jugendstil::Planes&)>& value,
                           const jugendstil::Planes& p, const jugendstil::Planes& gradient, float step,
                           double tolerance) {
  for (unsigned seed = 1; seed <= 4; ++seed) {
    std::mt19937 random(seed);
    std::normal_distribution<float> normal;
    double slope = 0;
    jugendstil::Planes plus = p;
    jugendstil::Planes minus = p;
    for (std::size_t c = 0; c < 3; ++c) {
      float last = 0;
      for (std::size_t i = 0; i < p.area(); ++i) {
        last = seed % 2 == 0 ? 0.9F * last + 0.4F * normal(random) : normal(random);
        // A part along the gradient itself keeps the slope well away from zero.
        const float d = last + (gradient.plane[c][i] > 0 ? 1.0F : -1.0F);
        slope += static_cast<double>(gradient.plane[c][i]) * static_cast<double>(d);
        plus.plane[c][i] += step * d;
        minus.plane[c][i] -= step * d;
      }
    }
    const double measured = (value(plus) - value(minus)) / (2.0 * static_cast<double>(step));
    EXPECT_NEAR(measured, slope, tolerance * std::fabs(slope)) << "direction " << seed;
  }
}

}  // namespace testing_support
