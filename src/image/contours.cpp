// SPDX-License-Identifier: Apache-2.0
#include "image/contours.h"

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "base/number.h"
#include "base/parallel.h"
#include "image/luma.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

// Larger photos are reduced: smoothing grows with the fourth power of the edge (91 s at 6,000 pixels), and
// lines are as wide beside the picture in every size.
constexpr int kSearchedEdge = 1280;
// The inner Gaussian beside the long edge, and at least; the outer one is so much wider.
constexpr double kFine = 1.0 / 1000;
constexpr double kFinest = 0.7;
constexpr double kWider = 1.6;
// How much of the outer one is taken off, and what is left where there is no line: less lets grain through.
constexpr float kTaken = 0.985F;
constexpr float kQuiet = -0.002F;
// How fast a line becomes full.
constexpr float kSteep = 90;
// Of the smoothing: how far apart tones are that stay apart.
constexpr double kTones = 0.06;
// Gathered along a line over so many inner Gaussians each way.
constexpr double kAlong = 4;
// Directions are those of their surroundings, in inner Gaussians.
constexpr double kAround = 2.5;

cv::Mat lightnessOf(const Image& photo) {
  cv::Mat out(photo.height, photo.width, CV_32F);
  parallelFor(photo.height, [&](int y) {
    for (int x = 0; x < photo.width; ++x)
      out.at<float>(y, x) = lumaOf(photo.row(y) + cellCount(x, photo.channels));
  });
  return out;
}

// The angle of lines at each pixel: across the largest change around it.
cv::Mat directionsOf(const cv::Mat& lightness, double fine) {
  cv::Mat dx;
  cv::Mat dy;
  cv::Sobel(lightness, dx, CV_32F, 1, 0);
  cv::Sobel(lightness, dy, CV_32F, 0, 1);
  cv::Mat xx = dx.mul(dx);
  cv::Mat xy = dx.mul(dy);
  cv::Mat yy = dy.mul(dy);
  for (cv::Mat* m : {&xx, &xy, &yy}) cv::GaussianBlur(*m, *m, {}, kAround * fine);
  cv::Mat angle(lightness.size(), CV_32F);
  parallelFor(angle.rows, [&](int y) {
    for (int x = 0; x < angle.cols; ++x)
      angle.at<float>(y, x) =
          0.5F * std::atan2(2 * xy.at<float>(y, x), xx.at<float>(y, x) - yy.at<float>(y, x)) +
          static_cast<float>(CV_PI / 2);
  });
  return angle;
}

// The mean along the line through a pixel, both ways.
float gathered(const cv::Mat& values, const cv::Mat& angles, int column, int row, double reach) {
  float sum = values.at<float>(row, column);
  float weights = 1;
  for (const float way : {1.0F, -1.0F}) {
    auto x = static_cast<float>(column);
    auto y = static_cast<float>(row);
    float heading = angles.at<float>(row, column);
    if (way < 0) heading += static_cast<float>(CV_PI);
    for (int step = 1; step <= reach; ++step) {
      x += std::cos(heading);
      y += std::sin(heading);
      const auto i = static_cast<int>(std::lround(x));
      const auto j = static_cast<int>(std::lround(y));
      if (i < 0 || j < 0 || i >= values.cols || j >= values.rows) break;
      const auto away = static_cast<float>(step / reach);
      const float weight = std::exp(-2 * away * away);
      sum += weight * values.at<float>(j, i);
      weights += weight;
      const float next = angles.at<float>(j, i);
      heading = std::cos(next - heading) < 0 ? next + static_cast<float>(CV_PI) : next;
    }
  }
  return sum / weights;
}

}  // namespace

Image contoursOf(const Image& photo) {
  const int edge = std::max(photo.width, photo.height);
  if (edge > kSearchedEdge) {
    const double scale = 1.0 * kSearchedEdge / edge;
    return clipped(resample(contoursOf(resizePhoto(photo, std::max(1, rounded(scale * photo.width)),
                                                   std::max(1, rounded(scale * photo.height)))),
                            photo.width, photo.height));
  }
  const double fine = std::max(kFinest, kFine * std::max(photo.width, photo.height));
  cv::Mat smooth;
  cv::bilateralFilter(lightnessOf(photo), smooth, 0, kTones, 1.5 * fine);
  cv::Mat inner;
  cv::Mat outer;
  cv::GaussianBlur(smooth, inner, {}, fine);
  cv::GaussianBlur(smooth, outer, {}, kWider * fine);
  const cv::Mat difference = inner - kTaken * outer - (1 - kTaken) * inner;
  const cv::Mat angles = directionsOf(smooth, fine);
  Image lines(photo.width, photo.height, 1);
  parallelFor(lines.height, [&](int y) {
    for (int x = 0; x < lines.width; ++x) {
      const float d = gathered(difference, angles, x, y, kAlong * fine);
      lines.at(x, y, 0) = d >= kQuiet ? 0.0F : std::tanh(kSteep * (kQuiet - d));
    }
  });
  return lines;
}

Image inkOfDrawing(const Image& drawing) {
  Image ink(drawing.width, drawing.height, 1);
  parallelFor(ink.height, [&](int y) {
    for (int x = 0; x < ink.width; ++x) {
      const float* p = drawing.row(y) + cellCount(x, drawing.channels);
      const float there = drawing.channels == 4 ? p[3] : 1.0F;
      ink.at(x, y, 0) = std::clamp(there * (1 - lumaOf(p)), 0.0F, 1.0F);
    }
  });
  return ink;
}

}  // namespace jugendstil
