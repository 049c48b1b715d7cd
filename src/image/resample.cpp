// SPDX-License-Identifier: Apache-2.0
#include "image/resample.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"
#include "image/colour.h"

namespace jugendstil {
namespace {

// The weighted source samples that make one new sample; indices run on from first.
struct Tap {
  int first = 0;
  std::vector<float> weights;
};

Tap areaTap(int i, int from, int to) {
  const double scale = 1.0 * from / to;
  const double begin = i * scale;
  const double end = std::min<double>(from, (i + 1) * scale);
  Tap tap;
  tap.first = static_cast<int>(begin);
  for (int s = tap.first; s < std::min<int>(from, static_cast<int>(std::ceil(end - 1e-9))); ++s) {
    tap.weights.push_back(
        static_cast<float>((std::min<double>(end, s + 1) - std::max<double>(begin, s)) / (end - begin)));
  }
  return tap;
}

double catmullRom(double t) {
  t = std::fabs(t);
  if (t < 1) return (1.5 * t - 2.5) * t * t + 1;
  return t < 2 ? ((-0.5 * t + 2.5) * t - 4) * t + 2 : 0;
}

Tap cubicTap(int i, int from, int to) {
  const double centre = (i + 0.5) * from / to - 0.5;
  const int base = static_cast<int>(std::floor(centre)) - 1;
  Tap tap;
  tap.first = std::clamp(base, 0, from - 1);
  tap.weights.assign(std::clamp(base + 3, 0, from - 1) - tap.first + 1, 0.0F);
  for (int k = 0; k < 4; ++k) {
    const int s = std::clamp(base + k, 0, from - 1);
    tap.weights[s - tap.first] += static_cast<float>(catmullRom(centre - (base + k)));
  }
  return tap;
}

std::vector<Tap> taps(int from, int to) {
  std::vector<Tap> result;
  result.reserve(to);
  for (int i = 0; i < to; ++i) result.push_back(to < from ? areaTap(i, from, to) : cubicTap(i, from, to));
  return result;
}

Image resampleRows(const Image& image, int width) {
  if (width == image.width) return image;
  const auto table = taps(image.width, width);
  Image out(width, image.height, image.channels);
  parallelFor(image.height, [&](int y) {
    for (int x = 0; x < width; ++x) {
      const Tap& tap = table[x];
      for (int c = 0; c < image.channels; ++c) {
        float sum = 0;
        for (std::size_t k = 0; k < tap.weights.size(); ++k) {
          sum += tap.weights[k] * image.at(tap.first + static_cast<int>(k), y, c);
        }
        out.at(x, y, c) = sum;
      }
    }
  });
  return out;
}

Image resampleColumns(const Image& image, int height) {
  if (height == image.height) return image;
  const auto table = taps(image.height, height);
  Image out(image.width, height, image.channels);
  const std::size_t row = image.rowLength();
  parallelFor(height, [&](int y) {
    const Tap& tap = table[y];
    float* to = out.row(y);
    for (std::size_t k = 0; k < tap.weights.size(); ++k) {
      const float* from = image.row(tap.first + static_cast<int>(k));
      const float w = tap.weights[k];
      for (std::size_t i = 0; i < row; ++i) to[i] += w * from[i];
    }
  });
  return out;
}

void multiplyByAlpha(Image& image, bool divide) {
  for (std::size_t i = 0; i < image.area(); ++i) {
    float* p = &image.pixels[i * 4];
    const float a = divide ? (p[3] > 1e-6F ? 1.0F / p[3] : 0.0F) : p[3];
    for (int c = 0; c < 3; ++c) p[c] *= a;
  }
}

}  // namespace

Image resample(const Image& image, int width, int height) {
  if (width < 1 || height < 1 || image.empty()) {
    throw Error(
        fmt::format("cannot resize a {}x{} picture to {}x{}", image.width, image.height, width, height));
  }
  return resampleColumns(resampleRows(image, width), height);
}

Image resizePhoto(const Image& encoded, int width, int height) {
  if (width == encoded.width && height == encoded.height) return encoded;
  Image linear = toLinear(encoded);
  if (linear.channels == 4) multiplyByAlpha(linear, false);
  const auto [low, high] = std::minmax_element(linear.pixels.begin(), linear.pixels.end());
  const float floor = std::min(0.0F, *low);
  const float ceiling = std::max(1.0F, *high);
  Image out = resample(linear, width, height);
  if (out.channels == 4) multiplyByAlpha(out, true);
  for (float& v : out.pixels) v = std::clamp(v, floor, ceiling);
  return toDisplay(out);
}

Image boxReduced(const Image& image, int factor) {
  Image out(image.width / factor, image.height / factor, image.channels);
  const std::size_t channels = image.channels;
  const auto part = 1 / static_cast<float>(factor * factor);
  for (int y = 0; y < out.height; ++y) {
    float* to = out.row(y);
    for (int k = 0; k < factor; ++k) {
      const float* from = image.row(y * factor + k);
      for (int x = 0; x < out.width; ++x) {
        for (int i = 0; i < factor; ++i) {
          for (std::size_t c = 0; c < channels; ++c)
            to[x * channels + c] += part * from[(x * factor + i) * channels + c];
        }
      }
    }
  }
  return out;
}

Size sizeForLongEdge(int width, int height, int longEdge) {
  const double scale = 1.0 * longEdge / std::max(width, height);
  return {std::max(1, rounded(width * scale)), std::max(1, rounded(height * scale))};
}

}  // namespace jugendstil
