// SPDX-License-Identifier: Apache-2.0
#include "paint/frame.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <functional>
#include <vector>

#include "base/number.h"

namespace jugendstil {
namespace {

// Of a line of a frame so much is not further than that from the line's middle colour.
constexpr double kEven = 0.7;
constexpr float kAlike = 0.12F;
constexpr int kLooked = 400;  // pixels of a line
// What is wider is a ground, or a mount that its owner knows of.
constexpr double kMostPart = 1.0 / 8;
constexpr double kLeastPart = 0.004;
// Where one band goes over into the next, lines have both colours.
constexpr double kBetween = 0.005;
constexpr int kMostUneven = 3;  // times as wide on one side as on another

// Pixels (x + i * dx, y + i * dy) of a picture.
struct Line {
  int x, y, dx, dy, length;
};

bool isEven(const Image& image, const Line& line) {
  const int step = std::max(1, line.length / kLooked);
  std::array<std::vector<float>, 3> values;
  for (int i = 0; i < line.length; i += step) {
    for (int c = 0; c < 3; ++c) values[c].push_back(image.at(line.x + i * line.dx, line.y + i * line.dy, c));
  }
  std::vector<char> strays(values[0].size());
  for (const std::vector<float>& own : values) {
    std::vector<float> sorted = own;
    const auto middle = sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2);
    std::nth_element(sorted.begin(), middle, sorted.end());
    for (std::size_t i = 0; i < own.size(); ++i) {
      if (std::abs(own[i] - *middle) > kAlike) strays[i] = 1;
    }
  }
  const auto even = static_cast<double>(std::count(strays.begin(), strays.end(), 0));
  return even >= kEven * static_cast<double>(strays.size());
}

// How many lines from a side on are even; 0 where they have no end. Lines are shorter the further in they
// are, so that those of the other sides do not cross them.
int depthOf(const Image& image, int side, const std::function<Line(int)>& lineAt) {
  const int most = static_cast<int>(side * kMostPart);
  const double between = std::max(2.0, side * kBetween);
  int depth = 0;
  for (int n = 0; n <= depth + between; ++n) {
    if (n >= most) return 0;
    if (isEven(image, lineAt(n))) depth = n + 1;
  }
  return depth < std::max(2.0, side * kLeastPart) ? 0 : depth;
}

}  // namespace

Frame frameOf(const Image& reference) {
  const int w = reference.width;
  const int h = reference.height;
  const auto upright = [&](int x, int n) {
    const int cut = std::min(n, h / 3);
    return Line{x, cut, 0, 1, h - 2 * cut};
  };
  const auto lying = [&](int y, int n) {
    const int cut = std::min(n, w / 3);
    return Line{cut, y, 1, 0, w - 2 * cut};
  };
  const Frame frame{depthOf(reference, w, [&](int n) { return upright(n, n); }),
                    depthOf(reference, w, [&](int n) { return upright(w - 1 - n, n); }),
                    depthOf(reference, h, [&](int n) { return lying(n, n); }),
                    depthOf(reference, h, [&](int n) { return lying(h - 1 - n, n); })};
  const auto [least, most] = std::minmax({frame.left, frame.right, frame.top, frame.bottom});
  return least > 0 && most <= kMostUneven * least ? frame : Frame{};
}

Image trimmed(const Image& reference, double part) {
  if (part == 0) return reference;
  const int w = reference.width;
  const int h = reference.height;
  const Frame cut = part < 0
                        ? frameOf(reference)
                        : Frame{rounded(w * part), rounded(w * part), rounded(h * part), rounded(h * part)};
  const int width = std::max(1, w - cut.left - cut.right);
  const int height = std::max(1, h - cut.top - cut.bottom);
  return crop(reference, std::min(cut.left, w - 1), std::min(cut.top, h - 1), width, height);
}

}  // namespace jugendstil
