// SPDX-License-Identifier: Apache-2.0
// CIELAB for the D65 white of sRGB (ISO/CIE 11664-4): the trade's measure of how far colours are apart.
#pragma once

#include <cmath>

#include "image/oklab.h"

namespace jugendstil {

struct CieLab {
  float lightness = 0;  // 0 to 100
  float a = 0;
  float b = 0;
};

// Linear sRGB with the primaries of IEC 61966-2-1, divided by the white point.
inline CieLab cieLabOf(const LinearRgb& c) {
  const auto f = [](float t) { return t > 216.0F / 24389 ? std::cbrt(t) : (24389.0F / 27 * t + 16) / 116; };
  const float x = f((0.4123908F * c.red + 0.3575843F * c.green + 0.1804808F * c.blue) / 0.9504559F);
  const float y = f(0.2126390F * c.red + 0.7151687F * c.green + 0.0721923F * c.blue);
  const float z = f((0.0193308F * c.red + 0.1191948F * c.green + 0.9505322F * c.blue) / 1.0890578F);
  return {116 * y - 16, 500 * (x - y), 200 * (y - z)};
}

inline LinearRgb linearOf(const CieLab& c) {
  const auto f = [](float t) { return t > 6.0F / 29 ? t * t * t : (116 * t - 16) * (27.0F / 24389); };
  const float fy = (c.lightness + 16) / 116;
  const float x = 0.9504559F * f(fy + c.a / 500);
  const float y = f(fy);
  const float z = 1.0890578F * f(fy - c.b / 200);
  return {3.2409699F * x - 1.5373832F * y - 0.4986108F * z, -0.9692436F * x + 1.8759675F * y + 0.0415551F * z,
          0.0556301F * x - 0.2039770F * y + 1.0569715F * z};
}

inline float squaredDistance(const CieLab& p, const CieLab& q) {
  const float l = p.lightness - q.lightness;
  const float a = p.a - q.a;
  const float b = p.b - q.b;
  return l * l + a * a + b * b;
}

}  // namespace jugendstil
