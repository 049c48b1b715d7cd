// SPDX-License-Identifier: Apache-2.0
// What many tests need: temporary folders, invented pictures, a small network.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "base/error.h"
#include "image/image.h"
#include "image/planes.h"
#include "network/chain.h"

namespace testing_support {

// A fresh folder that goes with the object.
class TemporaryFolder {
 public:
  TemporaryFolder();
  ~TemporaryFolder();
  TemporaryFolder(const TemporaryFolder&) = delete;
  TemporaryFolder& operator=(const TemporaryFolder&) = delete;
  std::filesystem::path operator/(const std::string& name) const { return path / name; }
  std::filesystem::path path;
};

// A smooth, coloured picture with some texture, fixed by the seed; values in [0.1, 0.9].
jugendstil::Image sample(int width, int height, unsigned seed = 1, int channels = 3);

// Strokes of one direction, two pixels wide, with sharp edges, each in a tone of its own; RGB.
jugendstil::Image strokes(int width, int height, bool upright, float red = 1);

// Mean squared difference of two pictures of one size.
double distance(const jugendstil::Image& a, const jugendstil::Image& b);

// A narrow network of the shipped one's shape: three stages, fixed random weights, bands one, two, three
// (style) and two (content too).
jugendstil::Chain smallChain(jugendstil::Pooling pooling = jugendstil::Pooling::average);

// The shipped network.
jugendstil::Chain filigree();

std::filesystem::path sourceFolder();

// What a call that must throw such a failure says; "accepted" where it does not throw.
template <typename Failure, typename Call>
std::string messageOf(const Call& call) {
  try {
    call();
  } catch (const Failure& e) {
    return e.what();
  }
  return "accepted";
}
template <typename Call>
std::string complaint(const Call& call) {
  return messageOf<jugendstil::UsageError>(call);
}
template <typename Call>
std::string refusal(const Call& call) {
  return messageOf<jugendstil::Error>(call);
}

std::string contentOf(const std::filesystem::path& file);
void writeContent(const std::filesystem::path& file, const std::string& content);

// Files in a folder that the program should not have left.
std::vector<std::string> filesIn(const std::filesystem::path& folder);

}  // namespace testing_support
