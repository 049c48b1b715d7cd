// SPDX-License-Identifier: Apache-2.0
#include "report/views.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/error.h"
#include "base/number.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

constexpr float kLine = 0.97F;
// Places are at least this part of the picture apart, so that they do not all lie in one tree.
constexpr int kSpread = 3;

void requireOneSize(const Image& a, const Image& b) {
  if (a.width != b.width || a.height != b.height || a.channels != b.channels)
    throw Error(fmt::format("pictures of {}x{} and {}x{} cannot lie over each other", a.width, a.height,
                            b.width, b.height));
}

double smoothStep(double t) { return t * t * (3 - 2 * t); }

}  // namespace

Image dividedView(const Image& first, const Image& second, const Divider& divider) {
  requireOneSize(first, second);
  const int length = divider.level ? first.height : first.width;
  const double line = divider.at * length;
  Image out = first;
  for (int y = 0; y < out.height; ++y) {
    for (int x = 0; x < out.width; ++x) {
      const double beyond = (divider.level ? y : x) + 0.5 - line;
      const double half = std::max(divider.soft, 1.0) / 2;
      const auto part = static_cast<float>(smoothStep(std::clamp((beyond + half) / (2 * half), 0.0, 1.0)));
      const bool drawn = divider.soft < 1 && std::fabs(beyond) <= 1 && divider.at > 0 && divider.at < 1;
      for (int c = 0; c < out.channels; ++c) {
        float& value = out.at(x, y, c);
        value = drawn ? kLine : value + part * (second.at(x, y, c) - value);
      }
    }
  }
  return out;
}

double slidingPlace(double time) { return 0.5 + 0.5 * std::sin(2 * std::numbers::pi * time); }

Image differenceView(const Image& first, const Image& second, double gain) {
  requireOneSize(first, second);
  Image out = first;
  for (std::size_t i = 0; i < out.pixels.size(); ++i) {
    out.pixels[i] = std::min(1.0F, static_cast<float>(gain) * std::fabs(first.pixels[i] - second.pixels[i]));
  }
  return out;
}

Image magnified(const Image& picture, const MaskBox& box, int times) {
  const Image part = crop(picture, static_cast<int>(box.x), static_cast<int>(box.y),
                          static_cast<int>(box.width), static_cast<int>(box.height));
  Image out(part.width * times, part.height * times, part.channels);
  for (int y = 0; y < out.height; ++y) {
    for (int x = 0; x < out.width; ++x) {
      for (int c = 0; c < out.channels; ++c) out.at(x, y, c) = part.at(x / times, y / times, c);
    }
  }
  return out;
}

std::vector<MaskBox> busyPlaces(const Image& picture, int width, int height, int count) {
  width = std::min(width, picture.width);
  height = std::min(height, picture.height);
  struct Candidate {
    MaskBox box;
    double drawing;
  };
  std::vector<Candidate> candidates;
  const int stepX = std::max(1, width / 4);
  const int stepY = std::max(1, height / 4);
  for (int y = 0; y + height <= picture.height; y += stepY) {
    for (int x = 0; x + width <= picture.width; x += stepX) {
      double sum = 0;
      double squares = 0;
      for (int j = y; j < y + height; ++j) {
        for (int i = x; i < x + width; ++i) {
          const double v = picture.at(i, j, 1);
          sum += v;
          squares += v * v;
        }
      }
      const double n = 1.0 * width * height;
      candidates.push_back({{static_cast<double>(x), static_cast<double>(y), static_cast<double>(width),
                             static_cast<double>(height)},
                            squares / n - sum / n * (sum / n)});
    }
  }
  std::stable_sort(candidates.begin(), candidates.end(),
                   [](const Candidate& a, const Candidate& b) { return a.drawing > b.drawing; });
  const int apartX = std::max(width, picture.width / kSpread);
  const int apartY = std::max(height, picture.height / kSpread);
  std::vector<MaskBox> chosen;
  for (const Candidate& c : candidates) {
    const bool apart = std::all_of(chosen.begin(), chosen.end(), [&](const MaskBox& o) {
      return std::fabs(o.x - c.box.x) >= apartX || std::fabs(o.y - c.box.y) >= apartY;
    });
    if (apart) chosen.push_back(c.box);
    if (countOf(chosen) == count) break;
  }
  return chosen;
}

}  // namespace jugendstil
