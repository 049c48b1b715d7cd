// SPDX-License-Identifier: Apache-2.0
#include "grade/recolour.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/parallel.h"

namespace jugendstil {
namespace {

constexpr double kLeastVariance = 1e-5;

Eigen::Matrix3d matrixOf(const std::array<std::array<double, 3>, 3>& rows) {
  Eigen::Matrix3d m;
  for (int i = 0; i < 3; ++i) {
    for (int j = 0; j < 3; ++j) m(i, j) = rows[i][j];
  }
  return m;
}

Eigen::Matrix3d power(const Eigen::Matrix3d& symmetric, double exponent, double floor) {
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> solver(symmetric);
  const Eigen::Vector3d values = solver.eigenvalues().cwiseMax(floor).array().pow(exponent).matrix();
  return solver.eigenvectors() * values.asDiagonal() * solver.eigenvectors().transpose();
}

}  // namespace

ColourStatistics colourStatistics(const Image& image) {
  ColourStatistics s;
  s.weight = 1;
  const std::size_t step = image.channels;
  const auto n = static_cast<double>(image.area());
  for (std::size_t i = 0; i < image.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) s.mean[c] += image.pixels[i * step + c] / n;
  }
  for (std::size_t i = 0; i < image.area(); ++i) {
    std::array<double, 3> d{};
    for (std::size_t c = 0; c < 3; ++c) d[c] = image.pixels[i * step + c] - s.mean[c];
    for (std::size_t a = 0; a < 3; ++a) {
      for (std::size_t b = 0; b < 3; ++b) s.covariance[a][b] += d[a] * d[b] / n;
    }
  }
  return s;
}

ColourStatistics pooled(const ColourStatistics& a, const ColourStatistics& b) {
  ColourStatistics s;
  s.weight = a.weight + b.weight;
  const double u = a.weight / s.weight;
  const double v = b.weight / s.weight;
  for (std::size_t i = 0; i < 3; ++i) {
    s.mean[i] = u * a.mean[i] + v * b.mean[i];
    for (std::size_t j = 0; j < 3; ++j) {
      s.covariance[i][j] = u * a.covariance[i][j] + v * b.covariance[i][j] +
                           u * v * (a.mean[i] - b.mean[i]) * (a.mean[j] - b.mean[j]);
    }
  }
  return s;
}

AffineColourMap mongeKantorovich(const ColourStatistics& from, const ColourStatistics& to, double mostGain) {
  const Eigen::Matrix3d source = matrixOf(from.covariance);
  const Eigen::Matrix3d target = matrixOf(to.covariance);
  if (!source.allFinite() || !target.allFinite())
    throw Error("cannot match colours: a picture holds values that are not numbers");
  const Eigen::Matrix3d root = power(source, 0.5, kLeastVariance);
  const Eigen::Matrix3d inverse = power(source, -0.5, kLeastVariance);
  Eigen::Matrix3d map = inverse * power(root * target * root, 0.5, kLeastVariance * kLeastVariance) * inverse;
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> gains(map);
  map = gains.eigenvectors() * gains.eigenvalues().cwiseMin(mostGain).asDiagonal() *
        gains.eigenvectors().transpose();
  AffineColourMap result;
  for (int r = 0; r < 3; ++r) {
    result.offset[r] = to.mean[r];
    for (int c = 0; c < 3; ++c) {
      result.matrix[r][c] = map(r, c);
      result.offset[r] -= map(r, c) * from.mean[c];
    }
  }
  return result;
}

Image recoloured(const Image& image, const AffineColourMap& map) {
  Image out = image;
  const std::size_t step = image.channels;
  parallelFor(image.height, [&](int y) {
    for (std::size_t i = image.index(0, y, 0); i < image.index(0, y, 0) + image.width * step; i += step) {
      for (std::size_t r = 0; r < 3; ++r) {
        double v = map.offset[r];
        for (std::size_t c = 0; c < 3; ++c) v += map.matrix[r][c] * image.pixels[i + c];
        out.pixels[i + r] = static_cast<float>(v);
      }
    }
  });
  return out;
}

}  // namespace jugendstil
