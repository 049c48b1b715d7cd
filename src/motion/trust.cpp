// SPDX-License-Identifier: Apache-2.0
#include "motion/trust.h"

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "base/error.h"
#include "base/one_thread.h"
#include "base/parallel.h"
#include "motion/warp.h"

namespace jugendstil {

Image seenMask(const Flow& flow, const Flow& back) {
  if (flow.width != back.width || flow.height != back.height)
    throw Error("flow there and back differ in size; take both from the same two frames");
  Image mask(flow.width, flow.height, 1);
  parallelFor(flow.height, [&](int y) {
    for (int x = 0; x < flow.width; ++x) {
      const std::size_t i = flow.index(x, y);
      const float u = flow.u[i];
      const float v = flow.v[i];
      const float tx = static_cast<float>(x) + u;
      const float ty = static_cast<float>(y) + v;
      if (tx < 0 || ty < 0 || tx > static_cast<float>(flow.width - 1) ||
          ty > static_cast<float>(flow.height - 1)) {
        continue;
      }
      float bu = 0;
      float bv = 0;
      flowAt(back, tx, ty, bu, bv);
      const float open = (u + bu) * (u + bu) + (v + bv) * (v + bv);
      if (open <= 0.01F * (u * u + v * v + bu * bu + bv * bv) + 0.5F) mask.pixels[i] = 1;
    }
  });
  return mask;
}

Image trustMask(const Flow& flow, const Flow& back) {
  Image mask = seenMask(flow, back);
  parallelFor(flow.height, [&](int y) {
    for (int x = 0; x < flow.width; ++x) {
      const std::size_t i = flow.index(x, y);
      const std::size_t right = flow.index(std::min(x + 1, flow.width - 1), y);
      const std::size_t below = flow.index(x, std::min(y + 1, flow.height - 1));
      const auto slope = [&](const std::vector<float>& plane) {
        const float dx = plane[right] - plane[i];
        const float dy = plane[below] - plane[i];
        return dx * dx + dy * dy;
      };
      const float length = flow.u[i] * flow.u[i] + flow.v[i] * flow.v[i];
      if (slope(flow.u) + slope(flow.v) > 0.01F * length + 0.002F) mask.pixels[i] = 0;
    }
  });
  return mask;
}

namespace {

// Mean differences around a pixel, in parts of white, up to which two frames look alike and from which on
// they do not; grain stays below, another thing in the place does not.
constexpr float kAlike = 0.03F;
constexpr float kOther = 0.08F;
constexpr int kAround = 7;

Image imageOf(const GreyFrame& grey) {
  Image image(grey.width, grey.height, 1);
  std::transform(grey.pixels.begin(), grey.pixels.end(), image.pixels.begin(),
                 [](std::uint8_t v) { return static_cast<float>(v) / 255.0F; });
  return image;
}

float middle(std::vector<float> values) {
  const auto half = values.begin() + values.size() / 2;
  std::nth_element(values.begin(), half, values.end());
  return *half;
}

}  // namespace

Image alikeMask(const GreyFrame& frame, const GreyFrame& other, const Flow& flow) {
  keepOpenCvOnOneThread();
  Image difference = warped(imageOf(other), flow);
  const Image own = imageOf(frame);
  for (std::size_t i = 0; i < own.pixels.size(); ++i) difference.pixels[i] -= own.pixels[i];
  const float shift = middle(difference.pixels);
  for (float& d : difference.pixels) d = std::fabs(d - shift);
  cv::Mat values(frame.height, frame.width, CV_32FC1, difference.pixels.data());
  cv::blur(values, values, {kAround, kAround});
  for (float& d : difference.pixels) d = 1 - std::clamp((d - kAlike) / (kOther - kAlike), 0.0F, 1.0F);
  return difference;
}

Image softened(const Image& mask, int radius) {
  if (radius <= 0) return mask;
  keepOpenCvOnOneThread();
  const cv::Mat in(mask.height, mask.width, CV_32FC1, const_cast<float*>(mask.pixels.data()));
  cv::Mat smaller;
  const int side = 2 * radius + 1;
  cv::erode(in, smaller, cv::getStructuringElement(cv::MORPH_ELLIPSE, {side, side}));
  Image out(mask.width, mask.height, 1);
  cv::Mat soft(mask.height, mask.width, CV_32FC1, out.pixels.data());
  cv::GaussianBlur(smaller, soft, {side, side}, 0);
  return out;
}

}  // namespace jugendstil
