// SPDX-License-Identifier: Apache-2.0
#include "film/continuation.h"

#include <Eigen/Cholesky>
#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "base/error.h"
#include "base/one_thread.h"
#include "base/parallel.h"
#include "image/planes.h"

namespace jugendstil {
namespace {

// Side of the neighbourhood, as a part of the longer edge.
constexpr double kReach = 0.12;
constexpr int kLeastReach = 7;
// Differences below the root of this are taken for grain.
constexpr float kGrain = 1e-3F;
// Known is enough where this part of the neighbourhood is.
constexpr float kEnough = 0.04F;
// Fully known pixels need nothing.
constexpr float kKnown = 0.999F;

// Means over squares of this side around each pixel, nothing outside.
class Around {
 public:
  Around(const Image& like, int side) : height_(like.height), width_(like.width), side_(side) {}

  template <typename F>
  cv::Mat operator()(const F& f) const {
    cv::Mat values(height_, width_, CV_32FC1);
    float* v = values.ptr<float>();
    for (int i = 0; i < height_ * width_; ++i) v[i] = f(i);
    cv::Mat out;
    cv::boxFilter(values, out, CV_32F, {side_, side_}, {-1, -1}, true,
                  cv::BORDER_ISOLATED | cv::BORDER_CONSTANT);
    return out;
  }

 private:
  int height_;
  int width_;
  int side_;
};

// What the linear fit of Levin et al. needs, around each pixel and weighted by what is known: sums of
// weights, of the photo's opponent values, of the painting's colours, and of their products.
struct Sums {
  cv::Mat weight;
  std::array<cv::Mat, 3> own;
  std::array<cv::Mat, 3> colour;
  std::array<std::array<cv::Mat, 3>, 3> ownOwn;
  std::array<std::array<cv::Mat, 3>, 3> ownColour;
};

Sums sumsAround(const Planes& own, const Image& painted, const Image& known, int side) {
  const auto& p = own.plane;
  const auto& w = known.pixels;
  const Around mean(known, side);
  Sums out;
  out.weight = mean([&](std::size_t i) { return w[i]; });
  for (std::size_t a = 0; a < 3; ++a) {
    out.own[a] = mean([&](std::size_t i) { return w[i] * p[a][i]; });
    for (std::size_t b = 0; b <= a; ++b)
      out.ownOwn[a][b] = out.ownOwn[b][a] = mean([&](std::size_t i) { return w[i] * p[a][i] * p[b][i]; });
  }
  for (std::size_t c = 0; c < 3; ++c) {
    const auto colour = [&](std::size_t i) { return painted.pixels[i * 3 + c]; };
    out.colour[c] = mean([&](std::size_t i) { return w[i] * colour(i); });
    for (std::size_t a = 0; a < 3; ++a)
      out.ownColour[a][c] = mean([&](std::size_t i) { return w[i] * p[a][i] * colour(i); });
  }
  return out;
}

// The colour that the fit around pixel i gives to the photo's opponent values there. May not be finite.
Eigen::Vector3f fitted(const Sums& sums, const Planes& own, std::size_t i) {
  const float sum = sums.weight.ptr<float>()[i];
  const auto at = [&](const cv::Mat& m) { return m.ptr<float>()[i] / sum; };
  Eigen::Vector3f centre;
  Eigen::Vector3f colour;
  Eigen::Matrix3f spread;
  Eigen::Matrix3f cross;
  for (std::size_t a = 0; a < 3; ++a) {
    centre(a) = at(sums.own[a]);
    colour(a) = at(sums.colour[a]);
  }
  for (std::size_t a = 0; a < 3; ++a) {
    for (std::size_t b = 0; b < 3; ++b) {
      spread(a, b) = at(sums.ownOwn[a][b]) - centre(a) * centre(b);
      cross(a, b) = at(sums.ownColour[a][b]) - centre(a) * colour(b);
    }
  }
  spread.diagonal().array() += kGrain;
  const Eigen::Vector3f here(own.plane[0][i], own.plane[1][i], own.plane[2][i]);
  return colour + spread.ldlt().solve(cross).transpose() * (here - centre);
}

}  // namespace

Continued continued(const Image& photo, const Image& painted, const Image& known) {
  if (painted.area() != photo.area() || known.area() != photo.area())
    throw Error("a painting can only be carried on over a photo of its own size");
  keepOpenCvOnOneThread();
  const int side =
      2 * std::max(kLeastReach, static_cast<int>(kReach / 2 * std::max(photo.width, photo.height))) + 1;
  const Planes own = opponentOf(photo);
  const Sums sums = sumsAround(own, painted, known, side);
  const float* weight = sums.weight.ptr<float>();
  Continued out{painted, Image(photo.width, photo.height, 1)};
  for (std::size_t i = 0; i < photo.area(); ++i) out.sure.pixels[i] = std::min(1.0F, weight[i] / kEnough);
  parallelFor(photo.height, [&](int y) {
    for (int x = 0; x < photo.width; ++x) {
      const std::size_t i = known.index(x, y, 0);
      if (known.pixels[i] > kKnown || weight[i] <= 1e-5F) continue;
      const Eigen::Vector3f carried = fitted(sums, own, i);
      if (!carried.allFinite()) continue;
      for (std::size_t c = 0; c < 3; ++c) out.picture.pixels[i * 3 + c] = std::clamp(carried(c), 0.0F, 1.0F);
    }
  });
  return out;
}

}  // namespace jugendstil
