// SPDX-License-Identifier: Apache-2.0
#include "style/softened.h"

#include <cstddef>

#include "base/parallel.h"

namespace jugendstil {

void halve(const std::vector<float>& plane, int width, int height, std::vector<float>& half) {
  const std::size_t w = width;
  half.resize(plane.size() / 4);
  parallelFor(height / 2, [&](int y) {
    const float* upper = plane.data() + 2 * w * y;
    const float* lower = upper + w;
    float* out = half.data() + y * (w / 2);
    for (std::size_t x = 0; x < w / 2; ++x)
      out[x] = 0.25F * (upper[2 * x] + upper[2 * x + 1] + lower[2 * x] + lower[2 * x + 1]);
  });
}

void addUnhalved(const std::vector<float>& half, int width, float scale, std::vector<float>& plane) {
  const std::size_t w = width;
  const float factor = 0.25F * scale;
  parallelFor(plane.size() / w, [&](std::size_t y) {
    const float* from = half.data() + y / 2 * (w / 2);
    float* to = plane.data() + y * w;
    for (std::size_t x = 0; x < w; ++x) to[x] += factor * from[x / 2];
  });
}

void soften(std::vector<float>& plane, int width, int height, std::vector<float>& scratch) {
  const std::size_t w = width;
  scratch.resize(plane.size());
  parallelFor(height, [&](int y) {
    const float* row = plane.data() + y * w;
    float* out = scratch.data() + y * w;
    for (std::size_t x = 0; x < w; ++x)
      out[x] = 0.5F * row[x] + 0.25F * ((x > 0 ? row[x - 1] : 0.0F) + (x + 1 < w ? row[x + 1] : 0.0F));
  });
  parallelFor(height, [&](int y) {
    const float* row = scratch.data() + y * w;
    float* out = plane.data() + y * w;
    for (std::size_t x = 0; x < w; ++x)
      out[x] =
          0.5F * row[x] + 0.25F * ((y > 0 ? *(row + x - w) : 0.0F) + (y + 1 < height ? row[x + w] : 0.0F));
  });
}

}  // namespace jugendstil
