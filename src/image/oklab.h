// SPDX-License-Identifier: Apache-2.0
// Oklab, the perceptual space in which colours are matched (Ottosson 2020).
#pragma once

#include <cmath>

namespace jugendstil {

// lightness: 0 black to 1 white. a: green to red, b: blue to yellow; sRGB reaches about 0.32 from grey.
struct Oklab {
  float lightness = 0;
  float a = 0;
  float b = 0;
};

struct LinearRgb {
  float red = 0;
  float green = 0;
  float blue = 0;
};

// Linear sRGB, also outside [0, 1].
inline Oklab oklabOf(const LinearRgb& c) {
  const float l = std::cbrt(0.4122214708F * c.red + 0.5363325363F * c.green + 0.0514459929F * c.blue);
  const float m = std::cbrt(0.2119034982F * c.red + 0.6806995451F * c.green + 0.1073969566F * c.blue);
  const float s = std::cbrt(0.0883024619F * c.red + 0.2817188376F * c.green + 0.6299787005F * c.blue);
  return {0.2104542553F * l + 0.7936177850F * m - 0.0040720468F * s,
          1.9779984951F * l - 2.4285922050F * m + 0.4505937099F * s,
          0.0259040371F * l + 0.7827717662F * m - 0.8086757660F * s};
}

inline LinearRgb linearOf(const Oklab& c) {
  const float l = c.lightness + 0.3963377774F * c.a + 0.2158037573F * c.b;
  const float m = c.lightness - 0.1055613458F * c.a - 0.0638541728F * c.b;
  const float s = c.lightness - 0.0894841775F * c.a - 1.2914855480F * c.b;
  const float l3 = l * l * l;
  const float m3 = m * m * m;
  const float s3 = s * s * s;
  return {4.0767416621F * l3 - 3.3077115913F * m3 + 0.2309699292F * s3,
          -1.2684380046F * l3 + 2.6097574011F * m3 - 0.3413193965F * s3,
          -0.0041960863F * l3 - 0.7034186147F * m3 + 1.7076147010F * s3};
}

inline float chroma(const Oklab& c) { return std::sqrt(c.a * c.a + c.b * c.b); }

}  // namespace jugendstil
