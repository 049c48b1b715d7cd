// SPDX-License-Identifier: Apache-2.0
#include "surface_grain.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "image/luma.h"

namespace bench {
namespace {

using namespace jugendstil;

constexpr int kWindow = 64;

cv::Mat lightnessOf(const Image& picture) {
  cv::Mat out(picture.height, picture.width, CV_32F);
  for (int y = 0; y < picture.height; ++y) {
    for (int x = 0; x < picture.width; ++x) out.at<float>(y, x) = lumaOf(picture.row(y) + 3 * x);
  }
  return out;
}

}  // namespace

double axesOverDiagonals(const Image& picture) {
  const cv::Mat lightness = lightnessOf(picture);
  cv::Mat hann;
  cv::createHanningWindow(hann, {kWindow, kWindow}, CV_32F);
  double axes = 0;
  double diagonals = 0;
  for (int y = 0; y + kWindow <= lightness.rows; y += kWindow / 2) {
    for (int x = 0; x + kWindow <= lightness.cols; x += kWindow / 2) {
      cv::Mat window = lightness({x, y, kWindow, kWindow}).clone();
      window -= cv::mean(window);
      cv::Mat spectrum;
      cv::dft(window.mul(hann), spectrum, cv::DFT_COMPLEX_OUTPUT);
      for (int v = 0; v < kWindow; ++v) {
        for (int u = 0; u < kWindow; ++u) {
          const double fx = (u < kWindow / 2 ? u : u - kWindow) / (1.0 * kWindow);
          const double fy = (v < kWindow / 2 ? v : v - kWindow) / (1.0 * kWindow);
          const double frequency = std::hypot(fx, fy);
          if (frequency < 1.0 / 8 || frequency > 1.0 / 2) continue;
          const double energy = cv::norm(spectrum.at<cv::Vec2f>(v, u), cv::NORM_L2SQR);
          const double turned = std::abs(std::remainder(std::atan2(fy, fx), std::numbers::pi / 2));
          (turned < std::numbers::pi / 8 ? axes : diagonals) += energy;
        }
      }
    }
  }
  return axes / diagonals;
}

Strokes strokesOf(const Image& picture, double scale) {
  cv::Mat soft;
  cv::GaussianBlur(lightnessOf(picture), soft, {}, 0.5 * scale);
  cv::Mat dx;
  cv::Mat dy;
  cv::Sobel(soft, dx, CV_32F, 1, 0, 3, 1.0 / 8);
  cv::Sobel(soft, dy, CV_32F, 0, 1, 3, 1.0 / 8);
  cv::Mat xx = dx.mul(dx);
  cv::Mat xy = dx.mul(dy);
  cv::Mat yy = dy.mul(dy);
  for (cv::Mat* m : {&xx, &xy, &yy}) cv::GaussianBlur(*m, *m, {}, 2 * scale);
  Strokes strokes;
  double weights = 0;
  for (int y = 0; y < soft.rows; ++y) {
    for (int x = 0; x < soft.cols; ++x) {
      const double trace = xx.at<float>(y, x) + yy.at<float>(y, x);
      strokes.anisotropy += std::hypot(xx.at<float>(y, x) - yy.at<float>(y, x), 2 * xy.at<float>(y, x));
      weights += trace;
    }
  }
  strokes.anisotropy /= weights;
  // Lightness beside its surroundings, so that shading is no stroke's end.
  cv::Mat around;
  cv::GaussianBlur(soft, around, {}, 6 * scale);
  const cv::Mat detail = soft - around;
  cv::Scalar mean;
  cv::Scalar deviation;
  cv::meanStdDev(detail, mean, deviation);
  const auto run = [&](double x, double y, double sign) {
    const double begin = detail.at<float>(static_cast<int>(y), static_cast<int>(x));
    double heading = -10;
    for (int steps = 0;; ++steps) {
      const int i = static_cast<int>(std::lround(x));
      const int j = static_cast<int>(std::lround(y));
      if (i < 0 || j < 0 || i >= soft.cols || j >= soft.rows) return 1.0 * steps;
      if (std::abs(detail.at<float>(j, i) - begin) > 0.5 * deviation[0]) return 1.0 * steps;
      // Along the stroke: across the direction of the largest change.
      double angle = 0.5 * std::atan2(2 * xy.at<float>(j, i), xx.at<float>(j, i) - yy.at<float>(j, i)) +
                     std::numbers::pi / 2;
      if (heading < -5)
        angle += sign > 0 ? 0 : std::numbers::pi;
      else if (std::cos(angle - heading) < 0)
        angle += std::numbers::pi;
      heading = angle;
      x += std::cos(angle);
      y += std::sin(angle);
      if (steps > 400) return 400.0;
    }
  };
  int count = 0;
  for (int y = 8; y + 8 < soft.rows; y += 4) {
    for (int x = 8; x + 8 < soft.cols; x += 4, ++count) strokes.length += run(x, y, 1) + run(x, y, -1);
  }
  strokes.length /= std::max(1, count);
  return strokes;
}

}  // namespace bench
