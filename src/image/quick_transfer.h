// SPDX-License-Identifier: Apache-2.0
// The transfer functions of sRGB for loops over whole pictures: colour.h's to 1e-6 of their value or of 1,
// without calls, so that a compiler can take many values at once.
#pragma once

#include <bit>
#include <cmath>
#include <cstdint>
#include <span>

namespace jugendstil {

// log2 of a normal number above 0: the exponent, and the series of artanh for what is left, which lies
// between the square roots of 1/2 and 2.
inline float quickLog2(float v) {
  constexpr std::int32_t kRootOfHalf = 0x3F3504F3;
  const auto bits = std::bit_cast<std::int32_t>(v) - kRootOfHalf;
  const float m = std::bit_cast<float>((bits & 0x7FFFFF) + kRootOfHalf);
  const float s = (m - 1) / (m + 1);
  const float q = s * s;
  const float series = 1 + q * (1.0F / 3 + q * (1.0F / 5 + q * (1.0F / 7 + q * (1.0F / 9))));
  return static_cast<float>(bits >> 23) + 2.8853900818F * s * series;
}

// 2^v for v within [-126, 127]: Taylor's series around the nearest whole number.
inline float quickExp2(float v) {
  constexpr float kLn2 = 0.6931471806F;
  const auto whole = static_cast<std::int32_t>(v + (v < 0 ? -0.5F : 0.5F));
  const float x = (v - static_cast<float>(whole)) * kLn2;
  const float series =
      1 + x * (1 + x * (0.5F + x * (1.0F / 6 + x * (1.0F / 24 + x * (1.0F / 120 + x * (1.0F / 720))))));
  return series * std::bit_cast<float>((whole + 127) << 23);
}

// By its bits: behind a ?: compilers put the working of each value under a branch, and take one at a time.
inline float chosen(bool first, float a, float b) {
  const std::int32_t mask = -static_cast<std::int32_t>(first);
  return std::bit_cast<float>((std::bit_cast<std::int32_t>(a) & mask) |
                              (std::bit_cast<std::int32_t>(b) & ~mask));
}

// As srgbToLinear() and linearToSrgb(), for values of at most 2^40 or so.
inline float quickToLinear(float encoded) {
  const float v = std::fabs(encoded);
  const float curve = quickExp2(2.4F * quickLog2((v + 0.055F) * (1 / 1.055F)));
  return std::copysign(chosen(v <= 0.04045F, v * (1 / 12.92F), curve), encoded);
}

inline float quickToDisplay(float linear) {
  const float v = std::fabs(linear);
  const float curve = 1.055F * quickExp2(quickLog2(v + 1e-30F) * (1 / 2.4F)) - 0.055F;
  return std::copysign(chosen(v <= 0.0031308F, v * 12.92F, curve), linear);
}

// above = display(light(below) * (1 - part) + light(above) * part) for each value; where a part is 0 or 1
// exactly one of the two. All three are of one length.
void mixInLight(std::span<const float> below, std::span<float> above, std::span<const float> parts);

}  // namespace jugendstil
