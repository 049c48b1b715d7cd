// SPDX-License-Identifier: Apache-2.0
#include "weave/even.h"

#include <Eigen/IterativeLinearSolvers>
#include <Eigen/SparseCore>
#include <algorithm>
#include <array>
#include <cmath>

#include "weave/shown.h"

namespace jugendstil {
namespace {

// Far finer than an 8-bit step.
constexpr double kTolerance = 1e-5;
// Progress is told after so many iterations, and after so many rounds it has to do.
constexpr int kIterations = 100;
constexpr int kRounds = 40;
// Keeps the system solvable where nothing is given.
constexpr double kAnchor = 1e-7;

struct Step {
  int x = 0;
  int y = 0;
};
constexpr std::array<Step, 4> kBeside{{{1, 0}, {-1, 0}, {0, 1}, {0, -1}}};

// How much more the swatches would have a step of than there is, from one pixel to the one beside it.
Rgb missing(const Shown& shown, Spot from, Spot to, Step step) {
  const Spot beyond = shown.beside(from, step.x, step.y);
  const Spot before = shown.beside(to, -step.x, -step.y);
  Rgb out{};
  if (beyond == to) return out;
  const bool goesOn = shown.isOpen(beyond);
  const bool comesFrom = shown.isOpen(before);
  const Rgb there = shown.of(to) - shown.of(from);
  const Rgb first = goesOn ? shown.of(beyond) - shown.of(from) : Rgb{};
  const Rgb second = comesFrom ? shown.of(to) - shown.of(before) : Rgb{};
  const float sides = static_cast<float>(std::max(1, (goesOn ? 1 : 0) + (comesFrom ? 1 : 0)));
  float size = 0;
  for (std::size_t c = 0; c < 3; ++c) {
    out[c] = (first[c] + second[c]) / sides - there[c];
    size += out[c] * out[c] / 3;
  }
  for (float& v : out) v *= std::exp(-size / (2 * kEvened * kEvened));
  return out;
}

}  // namespace

Image evened(const Image& picture, const Woven& piece, const Atlas& atlas, const std::vector<Image>& swatches,
             const std::function<void(double)>& progress) {
  const Shown shown(atlas, swatches);
  std::vector<int> number(piece.spots.size(), -1);
  std::vector<std::size_t> pixels;
  for (std::size_t i = 0; i < number.size(); ++i) {
    if (piece.stays(i)) continue;
    number[i] = countOf(pixels);
    pixels.push_back(i);
  }
  std::vector<Eigen::Triplet<double>> entries;
  Eigen::MatrixXd right = Eigen::MatrixXd::Zero(countOf(pixels), 3);
  for (int n = 0; n < countOf(pixels); ++n) {
    const int x = static_cast<int>(pixels[n] % piece.width);
    const int y = static_cast<int>(pixels[n] / piece.width);
    double beside = kAnchor;
    for (const Step step : kBeside) {
      if (x + step.x < 0 || y + step.y < 0 || x + step.x >= piece.width || y + step.y >= piece.height)
        continue;
      const std::size_t other = cellAt(x + step.x, y + step.y, piece.width);
      beside += 1;
      if (number[other] >= 0) entries.emplace_back(n, number[other], -1.0);
      const Rgb miss = missing(shown, piece.spots[pixels[n]], piece.spots[other], step);
      for (int c = 0; c < 3; ++c) right(n, c) -= miss[c];
    }
    entries.emplace_back(n, n, beside);
  }
  using Matrix = Eigen::SparseMatrix<double, Eigen::RowMajor>;
  Matrix matrix(countOf(pixels), countOf(pixels));
  matrix.setFromTriplets(entries.begin(), entries.end());
  Eigen::ConjugateGradient<Matrix, Eigen::Lower | Eigen::Upper> solver;
  solver.setTolerance(kTolerance);
  solver.setMaxIterations(kIterations);
  solver.compute(matrix);
  Image out = picture;
  for (int c = 0; c < 3; ++c) {
    Eigen::VectorXd change = Eigen::VectorXd::Zero(countOf(pixels));
    for (int round = 0; round < kRounds; ++round) {
      change = solver.solveWithGuess(right.col(c), change);
      // The error falls by about the same factor in each round.
      const double done = solver.info() == Eigen::Success
                              ? 1
                              : std::clamp(std::log(solver.error()) / std::log(kTolerance), 0.0, 1.0);
      progress((c + done) / 3);
      if (done >= 1) break;
    }
    for (int n = 0; n < countOf(pixels); ++n) {
      float& value = out.pixel(pixels[n])[c];
      value = std::max(0.0F, value + static_cast<float>(change[n]));
    }
  }
  return out;
}

}  // namespace jugendstil
