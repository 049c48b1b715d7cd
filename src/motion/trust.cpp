#include "motion/trust.h"

#include <algorithm>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "image/error.h"
#include "image/parallel.h"
#include "motion/one_thread.h"

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

double meanOf(const Image& mask) {
  double sum = 0;
  for (const float v : mask.pixels) sum += static_cast<double>(v);
  return mask.pixels.empty() ? 0 : sum / static_cast<double>(mask.pixels.size());
}

}  // namespace jugendstil
