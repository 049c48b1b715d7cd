// SPDX-License-Identifier: Apache-2.0
#include "film/kept_colours.h"

#include <algorithm>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "base/one_thread.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

// Colours are compared on a copy of this long edge, softened by this deviation: 8 pixels of a frame of 640,
// the breadth of two or three strokes. What is finer is brush-work and free.
constexpr int kCoarseEdge = 160;
constexpr double kDeviation = 2;
// Settled surroundings that weigh less than this say nothing.
constexpr float kLittle = 0.02F;

void soften(Image& image) {
  const int type = CV_MAKETYPE(CV_32F, image.channels);
  cv::Mat view(image.height, image.width, type, image.pixels.data());
  cv::GaussianBlur(view, view, {0, 0}, kDeviation, kDeviation, cv::BORDER_REFLECT);
}

// What is to be added to the picture, coarse, where all around it is settled.
Image missing(const Image& picture, const Lead& lead, const Image& drawing, const Image& drawingBefore) {
  Image weighted(picture.width, picture.height, 3);
  for (std::size_t i = 0; i < picture.area(); ++i) {
    for (std::size_t k = i * 3; k < i * 3 + 3; ++k) {
      const float wanted = lead.picture.pixels[k] + drawing.pixels[k] - drawingBefore.pixels[k];
      weighted.pixels[k] = lead.settled.pixels[i] * (wanted - picture.pixels[k]);
    }
  }
  const Size coarse = sizeForLongEdge(picture.width, picture.height,
                                      std::min(kCoarseEdge, std::max(picture.width, picture.height)));
  Image sum = resample(weighted, coarse.width, coarse.height);
  Image weight = resample(lead.settled, coarse.width, coarse.height);
  soften(sum);
  soften(weight);
  for (std::size_t i = 0; i < sum.pixels.size(); ++i) sum.pixels[i] /= weight.pixels[i / 3] + kLittle;
  return resample(sum, picture.width, picture.height);
}

}  // namespace

PaintedFrame withKeptColours(PaintedFrame painted, const Lead& lead, const Image& drawing,
                             const Image& drawingBefore, double strength) {
  if (lead.settled.empty()) return painted;
  const auto part = static_cast<float>(strength);
  keepOpenCvOnOneThread();
  Image& picture = painted.picture;
  const Image more = missing(picture, lead, drawing, drawingBefore);
  for (std::size_t i = 0; i < picture.pixels.size(); ++i)
    picture.pixels[i] += part * lead.settled.pixels[i / 3] * more.pixels[i];
  picture = clipped(std::move(picture));
  // The margin goes with the picture's edge.
  Image& canvas = painted.canvas;
  const int left = (canvas.width - picture.width) / 2;
  const int top = (canvas.height - picture.height) / 2;
  for (int y = 0; y < canvas.height; ++y) {
    for (int x = 0; x < canvas.width; ++x) {
      const int px = std::clamp(x - left, 0, picture.width - 1);
      const int py = std::clamp(y - top, 0, picture.height - 1);
      const float settled = part * lead.settled.at(px, py, 0);
      for (int c = 0; c < 3; ++c)
        canvas.at(x, y, c) = std::clamp(canvas.at(x, y, c) + settled * more.at(px, py, c), 0.0F, 1.0F);
    }
  }
  return painted;
}

}  // namespace jugendstil
