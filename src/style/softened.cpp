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
    for (std::size_t x = 0; x < w / 2; ++x) {
      to[2 * x] += factor * from[x];
      to[2 * x + 1] += factor * from[x];
    }
  });
}

void soften(std::vector<float>& plane, int width, int height, std::vector<float>& scratch) {
  const std::size_t w = width;
  scratch.resize(plane.size());
  parallelFor(height, [&](int y) {
    const float* row = plane.data() + y * w;
    float* out = scratch.data() + y * w;
    for (std::size_t x = 1; x + 1 < w; ++x) out[x] = 0.5F * row[x] + 0.25F * (row[x - 1] + row[x + 1]);
    out[0] = 0.5F * row[0] + 0.25F * (w > 1 ? row[1] : 0.0F);
    if (w > 1) out[w - 1] = 0.5F * row[w - 1] + 0.25F * row[w - 2];
  });
  const std::vector<float> nothing(w, 0.0F);
  parallelFor(height, [&](int y) {
    const float* row = scratch.data() + y * w;
    const float* above = y > 0 ? row - w : nothing.data();
    const float* below = y + 1 < height ? row + w : nothing.data();
    float* out = plane.data() + y * w;
    for (std::size_t x = 0; x < w; ++x) out[x] = 0.5F * row[x] + 0.25F * (above[x] + below[x]);
  });
}

}  // namespace jugendstil
