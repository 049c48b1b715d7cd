// SPDX-License-Identifier: Apache-2.0
// Repeatable randomness in the plane.
#pragma once

#include <cmath>
#include <cstdint>

namespace demo {

inline std::uint32_t hash(std::uint32_t a, std::uint32_t b, std::uint32_t c) {
  std::uint32_t h = a * 0x9E3779B1U ^ b * 0x85EBCA77U ^ c * 0xC2B2AE3DU;
  h ^= h >> 15;
  h *= 0x2C1B3C6DU;
  h ^= h >> 12;
  h *= 0x297A2D39U;
  return h ^ h >> 15;
}

// Uniform in [0, 1).
inline float chance(std::uint32_t a, std::uint32_t b = 0, std::uint32_t c = 0) {
  return static_cast<float>(hash(a, b, c) >> 8) * (1.0F / 16777216.0F);
}

// Smooth value noise in [0, 1], one feature per unit.
inline float noise(float x, float y, std::uint32_t seed) {
  const float fx = std::floor(x);
  const float fy = std::floor(y);
  const auto ix = static_cast<std::uint32_t>(static_cast<int>(fx));
  const auto iy = static_cast<std::uint32_t>(static_cast<int>(fy));
  const float u = (x - fx) * (x - fx) * (3 - 2 * (x - fx));
  const float v = (y - fy) * (y - fy) * (3 - 2 * (y - fy));
  const float a = chance(ix, iy, seed);
  const float b = chance(ix + 1, iy, seed);
  const float c = chance(ix, iy + 1, seed);
  const float d = chance(ix + 1, iy + 1, seed);
  return (a + (b - a) * u) * (1 - v) + (c + (d - c) * u) * v;
}

// Sum of octaves, about [0, 1].
inline float fractal(float x, float y, std::uint32_t seed, int octaves = 5) {
  float sum = 0;
  float weight = 0.5F;
  for (int i = 0; i < octaves; ++i) {
    sum += weight * noise(x, y, seed + static_cast<std::uint32_t>(i) * 101U);
    x = x * 2.03F + 17.1F;
    y = y * 2.03F + 9.2F;
    weight *= 0.5F;
  }
  return sum / (1 - weight * 2);
}

inline float smooth(float low, float high, float v) {
  const float t = std::fmin(1.0F, std::fmax(0.0F, (v - low) / (high - low)));
  return t * t * (3 - 2 * t);
}

struct Colour {
  float r = 0, g = 0, b = 0;
};
inline Colour operator*(Colour a, float s) { return {a.r * s, a.g * s, a.b * s}; }
inline Colour operator+(Colour a, Colour b) { return {a.r + b.r, a.g + b.g, a.b + b.b}; }
inline Colour mix(Colour a, Colour b, float t) { return a * (1 - t) + b * t; }

struct Point {
  float x = 0, y = 0;
};

}  // namespace demo
