// SPDX-License-Identifier: Apache-2.0
// Chance that can be had again.
#pragma once

#include <cstdint>

namespace jugendstil {

// Uniform numbers that depend on nothing but the seed (the generator is Knuth's MMIX).
class Dice {
 public:
  explicit Dice(std::uint64_t seed) : state_(seed * 0x9E3779B97F4A7C15ULL + 1) { next(); }
  // In [from, to).
  int between(int from, int to) { return from + static_cast<int>(next() % static_cast<unsigned>(to - from)); }

 private:
  std::uint32_t next() {
    state_ = state_ * 6364136223846793005ULL + 1442695040888963407ULL;
    return static_cast<std::uint32_t>(state_ >> 33);
  }
  std::uint64_t state_;
};

}  // namespace jugendstil
