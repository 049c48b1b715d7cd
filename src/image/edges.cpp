// SPDX-License-Identifier: Apache-2.0
#include "image/edges.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <vector>

#include "base/number.h"
#include "base/parallel.h"
#include "image/luma.h"

namespace jugendstil {
namespace {

constexpr float kLeastSlope = 0.04F;
constexpr float kStrong = 0.25F;
constexpr int kReach = 5;
constexpr std::size_t kFewest = 50;
// Slopes of so much per pixel are drawn together half as fast as steep ones; grain is left alone.
constexpr float kFaint = 0.05F;
// What would move by less than a step of 8 bits is not looked at further.
constexpr float kUnseen = 0.01F;
constexpr float kSoftness = 0.8F;
// A second derivative below this has no clear sign.
constexpr float kFlat = 0.01F;

// One plane of a picture; outside of it, its edge.
struct Plane {
  std::vector<float> values;
  int width = 0;
  int height = 0;

  float at(int x, int y) const {
    return values[cellAt(std::clamp(x, 0, width - 1), std::clamp(y, 0, height - 1), width)];
  }
  float between(float x, float y) const {
    const float left = std::floor(x);
    const float top = std::floor(y);
    const int i = static_cast<int>(left);
    const int j = static_cast<int>(top);
    const float above = at(i, j) + (x - left) * (at(i + 1, j) - at(i, j));
    const float below = at(i, j + 1) + (x - left) * (at(i + 1, j + 1) - at(i, j + 1));
    return above + (y - top) * (below - above);
  }
};

Plane lightnessOf(const Image& picture) {
  Plane out{std::vector<float>(picture.area()), picture.width, picture.height};
  parallelFor(picture.height, [&](int y) {
    for (int x = 0; x < picture.width; ++x)
      out.values[cellAt(x, y, picture.width)] = lumaOf(&picture.pixels[picture.index(x, y, 0)]);
  });
  return out;
}

struct Slope {
  float x = 0;  // the direction, of length 1
  float y = 0;
  float steepness = 0;
};

Slope slopeAt(const Plane& plane, int x, int y) {
  const float dx = (plane.at(x + 1, y) - plane.at(x - 1, y)) / 2;
  const float dy = (plane.at(x, y + 1) - plane.at(x, y - 1)) / 2;
  const float steepness = std::hypot(dx, dy);
  return {dx / (steepness + 1e-6F), dy / (steepness + 1e-6F), steepness};
}

// The value where the slope from (x, y) ends in a direction.
float endOf(const Plane& plane, int x, int y, float dx, float dy, float rises) {
  float end = plane.at(x, y);
  for (int t = 1; t <= kReach; ++t) {
    const float next = plane.between(static_cast<float>(x) + dx * static_cast<float>(t),
                                     static_cast<float>(y) + dy * static_cast<float>(t));
    if ((next - end) * rises <= 0) break;
    end = next;
  }
  return end;
}

// Of the edge at a pixel; 0 where there is none.
float widthAt(const Plane& plane, int x, int y) {
  const Slope s = slopeAt(plane, x, y);
  if (s.steepness < kLeastSlope) return 0;
  const auto along = [&](float t) {
    return plane.between(static_cast<float>(x) + s.x * t, static_cast<float>(y) + s.y * t);
  };
  const float here = (along(1) - along(-1)) / 2;
  const float value = plane.at(x, y);
  if ((value - along(-2)) / 2 > here || (along(2) - value) / 2 > here) return 0;
  const float change = endOf(plane, x, y, s.x, s.y, 1) - endOf(plane, x, y, -s.x, -s.y, -1);
  return change < kStrong ? 0 : change / here;
}

// How far, and which way, a pixel is drawn along the slope: towards the lighter side above 0.
float drawnTo(const Plane& soft, int x, int y, const Slope& s) {
  const float xx = soft.at(x + 1, y) - 2 * soft.at(x, y) + soft.at(x - 1, y);
  const float yy = soft.at(x, y + 1) - 2 * soft.at(x, y) + soft.at(x, y - 1);
  const float xy =
      (soft.at(x + 1, y + 1) - soft.at(x - 1, y + 1) - soft.at(x + 1, y - 1) + soft.at(x - 1, y - 1)) / 4;
  const float bend = s.x * s.x * xx + 2 * s.x * s.y * xy + s.y * s.y * yy;
  const float steep = s.steepness * s.steepness;
  return -bend / (std::abs(bend) + kFlat) * steep / (steep + kFaint * kFaint);
}

}  // namespace

double edgeWidth(const Image& picture) {
  const Plane lightness = lightnessOf(picture);
  std::vector<std::vector<float>> rows(picture.height);
  parallelFor(picture.height, [&](int y) {
    for (int x = 0; x < picture.width; ++x) {
      const float width = widthAt(lightness, x, y);
      if (width > 0) rows[y].push_back(width);
    }
  });
  std::vector<float> widths;
  for (const auto& row : rows) widths.insert(widths.end(), row.begin(), row.end());
  if (widths.size() < kFewest) return 0;
  const auto middle = widths.begin() + static_cast<std::ptrdiff_t>(widths.size() / 2);
  std::nth_element(widths.begin(), middle, widths.end());
  return *middle;
}

void steepenEdges(Image& picture, float pace) {
  Plane soft = lightnessOf(picture);
  cv::Mat view(soft.height, soft.width, CV_32F, soft.values.data());
  cv::GaussianBlur(view, view, {}, kSoftness, kSoftness, cv::BORDER_REPLICATE);
  const Image before = picture;
  parallelFor(picture.height, [&](int y) {
    for (int x = 0; x < picture.width; ++x) {
      const Slope s = slopeAt(soft, x, y);
      if (s.steepness < kUnseen) continue;
      const float drawn = drawnTo(soft, x, y, s);
      const float dx = drawn > 0 ? s.x : -s.x;
      const float dy = drawn > 0 ? s.y : -s.y;
      const int beside = std::clamp(x + (dx > 0 ? 1 : -1), 0, picture.width - 1);
      const int below = std::clamp(y + (dy > 0 ? 1 : -1), 0, picture.height - 1);
      // Shares of the two neighbours that sum to at most 1, so that nothing overshoots.
      const float part = pace * std::abs(drawn) / std::max(1.0F, std::abs(dx) + std::abs(dy));
      for (int c = 0; c < 3; ++c) {
        const float value = before.at(x, y, c);
        picture.at(x, y, c) = value + part * (std::abs(dx) * (before.at(beside, y, c) - value) +
                                              std::abs(dy) * (before.at(x, below, c) - value));
      }
    }
  });
}

}  // namespace jugendstil
