// SPDX-License-Identifier: Apache-2.0
// Values that change over a film: what they are at some moments, and how they go from one to the next.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

#include "clip/moment.h"

namespace jugendstil {

enum class Ease { smooth, linear, hold };

// What a value is from a moment on. Before the first key it is what it is there.
template <typename T>
struct Key {
  std::string at;  // as it was given; empty: from the beginning
  T value{};
};
template <typename T>
using Keys = std::vector<Key<T>>;

// "VALUE", "VALUE; 2s=VALUE; 96=VALUE", divided. Throws UsageError, which calls the text `name`, for empty
// parts and for what stands before a = and is no moment.
Keys<std::string> keysIn(std::string_view name, std::string_view text);
// One part of it: "2s=VALUE" or "VALUE", which may have a = of its own.
Key<std::string> keyIn(std::string_view word);

// The frame, also between two, of a moment of a film of so many frames a second.
double frameAt(std::string_view moment, double rate);

// Where a frame is among keys: this part of the way, eased, from one to the other.
struct KeyPlace {
  std::size_t from = 0;
  std::size_t to = 0;
  double part = 0;
};
// `frames` are those of the keys, rising.
KeyPlace placeAmong(const std::vector<double>& frames, double frame, Ease ease);

// The frames of moments. Throws UsageError, which calls them keys of `name`, where they do not rise.
std::vector<double> risingFrames(std::string_view name, const std::vector<std::string>& moments, double rate);

template <typename T>
std::vector<double> framesOf(std::string_view name, const Keys<T>& keys, double rate) {
  std::vector<std::string> moments;
  for (const Key<T>& key : keys) moments.push_back(key.at);
  return risingFrames(name, moments, rate);
}

}  // namespace jugendstil
