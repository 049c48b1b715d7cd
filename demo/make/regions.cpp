// SPDX-License-Identifier: Apache-2.0
#include "regions.h"

#include <algorithm>

namespace demo {

std::vector<float> distanceToContour(const std::vector<int>& region, int w, int h) {
  const auto at = [w, h](int x, int y) {
    return static_cast<std::size_t>(std::clamp(y, 0, h - 1)) * static_cast<std::size_t>(w) +
           static_cast<std::size_t>(std::clamp(x, 0, w - 1));
  };
  std::vector<float> depth(region.size(), 1e6F);
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      const int here = region[at(x, y)];
      if (here != region[at(x + 1, y)] || here != region[at(x, y + 1)] || here != region[at(x - 1, y)] ||
          here != region[at(x, y - 1)]) {
        depth[at(x, y)] = 0;
      }
    }
  }
  const auto relax = [&](int x, int y, int dx, int dy, float d) {
    if (x + dx < 0 || y + dy < 0 || x + dx >= w || y + dy >= h) return;
    depth[at(x, y)] = std::min(depth[at(x, y)], depth[at(x + dx, y + dy)] + d);
  };
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x) {
      relax(x, y, -1, 0, 1);
      relax(x, y, 0, -1, 1);
      relax(x, y, -1, -1, 1.414F);
      relax(x, y, 1, -1, 1.414F);
    }
  for (int y = h - 1; y >= 0; --y)
    for (int x = w - 1; x >= 0; --x) {
      relax(x, y, 1, 0, 1);
      relax(x, y, 0, 1, 1);
      relax(x, y, 1, 1, 1.414F);
      relax(x, y, -1, 1, 1.414F);
    }
  return depth;
}

}  // namespace demo
