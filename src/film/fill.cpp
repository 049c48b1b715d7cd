// SPDX-License-Identifier: Apache-2.0
#include "film/fill.h"

#include "motion/trust.h"
#include "motion/warp.h"

namespace jugendstil {
namespace {

Flow scaled(const Flow& flow, float by) {
  Flow out = flow;
  for (float& v : out.u) v *= by;
  for (float& v : out.v) v *= by;
  return out;
}

}  // namespace

Image between(const Image& before, const Image& after, const FlowPair& flows, double part) {
  const auto p = static_cast<float>(part);
  // At the place in between, the motion is taken to be that of the same pixel of the nearer frame: small
  // motions and a single frame allow that.
  const Flow toBefore = scaled(flows.back, p);
  const Flow toAfter = scaled(flows.there, 1 - p);
  const Image a = warped(before, toBefore);
  const Image b = warped(after, toAfter);
  const Image trustA = softened(trustMask(flows.back, flows.there), 1);
  const Image trustB = softened(trustMask(flows.there, flows.back), 1);
  Image out = a;
  for (std::size_t i = 0; i < out.area(); ++i) {
    const float wa = (1 - p) * (trustA.pixels[i] + 0.05F);
    const float wb = p * (trustB.pixels[i] + 0.05F);
    for (std::size_t c = 0; c < 3; ++c) {
      const std::size_t k = i * 3 + c;
      out.pixels[k] = (a.pixels[k] * wa + b.pixels[k] * wb) / (wa + wb);
    }
  }
  return clipped(out);
}

}  // namespace jugendstil
