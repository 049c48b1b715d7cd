// SPDX-License-Identifier: Apache-2.0
#include "weave/hole.h"

#include <algorithm>

#include "image/mask.h"
#include "image/resample.h"
#include "weave/atlas.h"

namespace jugendstil {
namespace {

// The picture where it is known times how much that is, and how much.
struct Known {
  Image colours;
  Image share;
};

Image pulled(const Known& known) {
  const int width = known.share.width;
  const int height = known.share.height;
  const bool whole = *std::min_element(known.share.pixels.begin(), known.share.pixels.end()) > 0;
  Image coarse;
  if (!whole && std::max(width, height) > 1) {
    const int w = (width + 1) / 2;
    const int h = (height + 1) / 2;
    coarse = resample(pulled({resample(known.colours, w, h), resample(known.share, w, h)}), width, height);
  }
  Image out(width, height);
  for (std::size_t i = 0; i < out.area(); ++i) {
    const float share = known.share.pixels[i];
    for (int c = 0; c < 3; ++c) {
      const float under = coarse.empty() ? 0 : (1 - share) * coarse.pixel(i)[c];
      const float sum = known.colours.pixel(i)[c] + under;
      out.pixel(i)[c] = coarse.empty() && share > 0 ? sum / share : sum;
    }
  }
  return out;
}

}  // namespace

Image smoothedOver(const Image& picture, const Image& hole) {
  Known known{picture, Image(picture.width, picture.height, 1, 1.0F)};
  for (std::size_t i = 0; i < picture.area(); ++i) {
    if (hole.pixels[i] <= 0) continue;
    known.share.pixels[i] = 0;
    std::fill_n(known.colours.pixel(i), 3, 0.0F);
  }
  return clipped(pulled(known));
}

Image closedAround(const Image& hole) {
  Image mask = hole;
  for (float& v : mask.pixels) v = v > 0 ? 1.0F : 0.0F;
  return grown(mask, kWindow);
}

int depthOf(const Image& hole) {
  // Distances by steps along the axes and across corners, there and back (Rosenfeld & Pfaltz 1966).
  const int width = hole.width;
  std::vector<int> depth(hole.area());
  int most = 0;
  const auto pass = [&](int from, int to, int step) {
    for (int y = from; y != to; y += step) {
      for (int k = 0; k < width; ++k) {
        const int x = step > 0 ? k : width - 1 - k;
        const auto at = [&](int u, int v) {
          return u < 0 || u >= width || v < 0 || v >= hole.height ? 1 << 20 : depth[cellAt(u, v, width)];
        };
        int& own = depth[cellAt(x, y, width)];
        if (hole.pixels[cellAt(x, y, width)] <= 0) continue;
        const int near =
            1 + std::min({at(x - step, y), at(x, y - step), at(x - step, y - step), at(x + step, y - step)});
        own = step > 0 ? near : std::min(own, near);
        most = step < 0 ? std::max(most, own) : most;
      }
    }
  };
  pass(0, hole.height, 1);
  pass(hole.height - 1, -1, -1);
  return 2 * std::min(most, std::max(width, hole.height));
}

}  // namespace jugendstil
