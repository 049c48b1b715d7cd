// SPDX-License-Identifier: Apache-2.0
#include "amplify/drive.h"

#include <fmt/format.h>

#include <Eigen/Cholesky>
#include <algorithm>
#include <numeric>

#include "base/error.h"
#include "base/number.h"

namespace jugendstil {
namespace {

using Matrix = Eigen::MatrixXd;

// What a pattern counts as having at least, as a part of what they have on average: less, and patterns of
// which there is nothing but rounding grow too; more, and the strongest ones win.
constexpr double kLeastEnergy = 0.05;

Matrix keptPart(const std::vector<float>& values, const std::vector<std::size_t>& kept, std::size_t side) {
  Matrix part(kept.size(), kept.size());
  for (std::size_t i = 0; i < kept.size(); ++i) {
    for (std::size_t j = 0; j < kept.size(); ++j) part(i, j) = values[kept[i] * side + kept[j]];
  }
  return part;
}

}  // namespace

std::vector<std::size_t> keptChannels(const ChannelChoice& choice, const std::string& band,
                                      const std::vector<float>& photoMeans) {
  const int count = countOf(photoMeans);
  std::vector<std::size_t> kept;
  for (const int number : choice.numbers) {
    if (number >= count)
      throw UsageError(
          fmt::format("the band {} has no channel {}; its channels are 0 to {}", band, number, count - 1));
    kept.push_back(number);
  }
  if (kept.empty()) {
    kept.resize(count);
    std::iota(kept.begin(), kept.end(), std::size_t{0});
    if (choice.woken > 0 && choice.woken < count) {
      std::stable_sort(kept.begin(), kept.end(),
                       [&](std::size_t a, std::size_t b) { return photoMeans[a] > photoMeans[b]; });
      kept.resize(choice.woken);
    }
  }
  std::sort(kept.begin(), kept.end());
  kept.erase(std::unique(kept.begin(), kept.end()), kept.end());
  return kept;
}

void addCovariance(const BandMoments& moments, double share, std::vector<float>& covariance) {
  const std::size_t side = moments.mean.size();
  covariance.resize(side * side);
  for (std::size_t i = 0; i < side; ++i) {
    for (std::size_t j = 0; j < side; ++j)
      covariance[i * side + j] +=
          static_cast<float>(share * (moments.gram[i * side + j] - moments.mean[i] * moments.mean[j]));
  }
}

std::vector<float> wayUp(const BandDrive& drive, const std::vector<float>& gram) {
  std::size_t side = 0;
  while (side * side < gram.size()) ++side;
  const std::size_t count = drive.kept.size();
  Matrix energy = keptPart(gram, drive.kept, side);
  const double least = std::max(kLeastEnergy * energy.trace() / static_cast<double>(count), 1e-9);
  energy += least * Matrix::Identity(count, count);
  const Matrix wanted =
      drive.reference.empty() ? Matrix::Identity(count, count) : keptPart(drive.reference, drive.kept, side);
  const Matrix one = energy.llt().solve(wanted) / std::max(wanted.trace(), 1e-9);
  std::vector<float> out(gram.size());
  for (std::size_t i = 0; i < count; ++i) {
    for (std::size_t j = 0; j < count; ++j)
      out[drive.kept[i] * side + drive.kept[j]] = static_cast<float>(0.5 * (one(i, j) + one(j, i)));
  }
  return out;
}

}  // namespace jugendstil
