// SPDX-License-Identifier: Apache-2.0
#include "motion/flow.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/video/tracking.hpp>

#include "base/error.h"
#include "base/number.h"
#include "base/one_thread.h"
#include "base/parallel.h"
#include "image/luma.h"

namespace jugendstil {
namespace {

// Below this the search has no room for its patches at any scale.
constexpr int kLeastSide = 16;

cv::Mat wrapped(const GreyFrame& frame) {
  // OpenCV has no read-only matrix; DIS does not write to its input.
  return {frame.height, frame.width, CV_8UC1, const_cast<std::uint8_t*>(frame.pixels.data())};
}

}  // namespace

GreyFrame greyOf(const Image& frame) {
  GreyFrame grey{frame.width, frame.height, std::vector<std::uint8_t>(frame.area())};
  const std::size_t step = frame.channels;
  parallelFor(frame.height, [&](int y) {
    const float* p = frame.row(y);
    std::uint8_t* out = &grey.pixels[cellAt(0, y, frame.width)];
    for (int x = 0; x < frame.width; ++x, p += step) {
      const float v = step < 3 ? p[0] : lumaBt601Of(p);
      out[x] = static_cast<std::uint8_t>(std::lround(std::clamp(v, 0.0F, 1.0F) * 255));
    }
  });
  return grey;
}

Flow denseFlow(const GreyFrame& from, const GreyFrame& to) {
  if (from.width != to.width || from.height != to.height) {
    throw Error(fmt::format("motion between frames of {}x{} and {}x{} pixels; they must have one size",
                            from.width, from.height, to.width, to.height));
  }
  Flow flow(from.width, from.height);
  if (std::min(from.width, from.height) < kLeastSide) return flow;
  keepOpenCvOnOneThread();
  const auto search = cv::DISOpticalFlow::create(cv::DISOpticalFlow::PRESET_MEDIUM);
  search->setFinestScale(std::min(from.width, from.height) < 128 ? 0 : 1);
  cv::Mat field;
  search->calc(wrapped(from), wrapped(to), field);
  for (int y = 0; y < flow.height; ++y) {
    const auto* row = field.ptr<cv::Vec2f>(y);
    for (int x = 0; x < flow.width; ++x) {
      const std::size_t i = flow.index(x, y);
      flow.u[i] = row[x][0];
      flow.v[i] = row[x][1];
    }
  }
  return flow;
}

FlowPair flowBetween(const GreyFrame& first, const GreyFrame& second) {
  FlowPair pair;
  parallelFor(2, [&](int way) {
    (way == 0 ? pair.there : pair.back) = way == 0 ? denseFlow(first, second) : denseFlow(second, first);
  });
  return pair;
}

Flow composed(const Flow& first, const Flow& then) {
  if (first.width != then.width || first.height != then.height)
    throw Error("motions that follow one another must have one size");
  Flow out(first.width, first.height);
  parallelFor(first.height, [&](int y) {
    for (int x = 0; x < first.width; ++x) {
      const std::size_t i = first.index(x, y);
      flowAt(then, static_cast<float>(x) + first.u[i], static_cast<float>(y) + first.v[i], out.u[i],
             out.v[i]);
      out.u[i] += first.u[i];
      out.v[i] += first.v[i];
    }
  });
  return out;
}

void flowAt(const Flow& flow, float x, float y, float& u, float& v) {
  x = std::clamp(x, 0.0F, static_cast<float>(flow.width - 1));
  y = std::clamp(y, 0.0F, static_cast<float>(flow.height - 1));
  const int x0 = std::min(static_cast<int>(x), std::max(0, flow.width - 2));
  const int y0 = std::min(static_cast<int>(y), std::max(0, flow.height - 2));
  const int x1 = std::min(x0 + 1, flow.width - 1);
  const int y1 = std::min(y0 + 1, flow.height - 1);
  const float fx = x - static_cast<float>(x0);
  const float fy = y - static_cast<float>(y0);
  const auto mix = [&](const std::vector<float>& plane) {
    const float top = plane[flow.index(x0, y0)] * (1 - fx) + plane[flow.index(x1, y0)] * fx;
    const float bottom = plane[flow.index(x0, y1)] * (1 - fx) + plane[flow.index(x1, y1)] * fx;
    return top * (1 - fy) + bottom * fy;
  };
  u = mix(flow.u);
  v = mix(flow.v);
}

}  // namespace jugendstil
