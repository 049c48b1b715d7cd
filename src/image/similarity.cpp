// SPDX-License-Identifier: Apache-2.0
#include "image/similarity.h"

#include <opencv2/imgproc.hpp>

#include "base/error.h"
#include "base/one_thread.h"
#include "image/luma.h"

namespace jugendstil {
namespace {

// The paper's constants, for values from 0 to 1.
constexpr double kSigma = 1.5;
constexpr int kWindow = 11;
constexpr double kLuminanceFloor = 0.01 * 0.01;
constexpr double kContrastFloor = 0.03 * 0.03;

cv::Mat lumaOf(const Image& image) {
  cv::Mat luma(image.height, image.width, CV_64F);
  for (int y = 0; y < image.height; ++y) {
    for (int x = 0; x < image.width; ++x) {
      const float* p = &image.pixels[image.index(x, y, 0)];
      luma.at<double>(y, x) = lumaBt601Of(p);
    }
  }
  return luma;
}

cv::Mat blurred(const cv::Mat& values) {
  cv::Mat out;
  cv::GaussianBlur(values, out, {kWindow, kWindow}, kSigma, kSigma, cv::BORDER_REFLECT);
  return out;
}

}  // namespace

double structuralSimilarity(const Image& a, const Image& b) {
  if (a.width != b.width || a.height != b.height || a.channels < 3 || b.channels < 3)
    throw Error("similarity is of two colour pictures of one size");
  keepOpenCvOnOneThread();
  const cv::Mat x = lumaOf(a);
  const cv::Mat y = lumaOf(b);
  const cv::Mat mx = blurred(x);
  const cv::Mat my = blurred(y);
  const cv::Mat vx = blurred(x.mul(x)) - mx.mul(mx);
  const cv::Mat vy = blurred(y.mul(y)) - my.mul(my);
  const cv::Mat xy = blurred(x.mul(y)) - mx.mul(my);
  const cv::Mat over = (2 * mx.mul(my) + kLuminanceFloor).mul(2 * xy + kContrastFloor);
  const cv::Mat under = (mx.mul(mx) + my.mul(my) + kLuminanceFloor).mul(vx + vy + kContrastFloor);
  return cv::mean(over / under)[0];
}

}  // namespace jugendstil
