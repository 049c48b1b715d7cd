// SPDX-License-Identifier: Apache-2.0
#include "amplify/drive.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numeric>

#include "base/error.h"

namespace jugendstil {
namespace {

constexpr int kChannels = 3;
constexpr int kPositions = 5;

using Activations = std::vector<float>;  // positions x channels

Activations some() {
  return {1.0F, 0.2F, 0.5F, 0.3F, 1.4F, 0.0F, 0.7F, 0.6F, 2.0F, 0.1F, 0.9F, 0.4F, 1.2F, 0.3F, 0.8F};
}

std::vector<float> gramOf(const Activations& a) {
  std::vector<float> gram(kChannels * kChannels);
  for (int p = 0; p < kPositions; ++p) {
    for (int i = 0; i < kChannels; ++i) {
      for (int j = 0; j < kChannels; ++j)
        gram[i * kChannels + j] += a[p * kChannels + i] * a[p * kChannels + j] / kPositions;
    }
  }
  return gram;
}

// Half the mean log energy of the kept channels, over a floor that stays as it is.
double energyOf(const Activations& a, const std::vector<std::size_t>& kept, double floor) {
  const std::vector<float> gram = gramOf(a);
  // The determinant is the product of the squared pivots of Cholesky's decomposition.
  const std::size_t n = kept.size();
  std::vector<double> lower(n * n);
  double sum = 0;
  for (std::size_t j = 0; j < n; ++j) {
    for (std::size_t i = j; i < n; ++i) {
      double v = gram[kept[i] * kChannels + kept[j]] + (i == j ? floor : 0);
      for (std::size_t k = 0; k < j; ++k) v -= lower[i * n + k] * lower[j * n + k];
      lower[i * n + j] = i == j ? std::sqrt(v) : v / lower[j * n + j];
    }
    sum += std::log(lower[j * n + j]);
  }
  return sum / static_cast<double>(n);
}

void expectGradient(const std::vector<std::size_t>& kept) {
  const Activations a = some();
  const std::vector<float> gram = gramOf(a);
  double trace = 0;
  for (const std::size_t c : kept) trace += gram[c * kChannels + c];
  const double floor = 0.05 * trace / static_cast<double>(kept.size());
  const std::vector<float> up = wayUp({0, 1, kept, {}}, gram);
  for (int p = 0; p < kPositions; ++p) {
    for (int c = 0; c < kChannels; ++c) {
      double told = 0;
      for (int j = 0; j < kChannels; ++j) told += up[c * kChannels + j] * a[p * kChannels + j] / kPositions;
      constexpr float kStep = 1e-2F;
      Activations more = a;
      Activations less = a;
      more[p * kChannels + c] += kStep;
      less[p * kChannels + c] -= kStep;
      const double found = (energyOf(more, kept, floor) - energyOf(less, kept, floor)) / (2 * kStep);
      EXPECT_NEAR(told, found, 1e-3 + 1e-2 * std::abs(found)) << "position " << p << ", channel " << c;
    }
  }
}

TEST(Drive, GoesUpTheMeanLogEnergy) { expectGradient({0, 1, 2}); }

TEST(Drive, OfSomeChannelsOnlyTheirs) { expectGradient({0, 2}); }

TEST(Drive, TheStrongestPatternDoesNotTakeAll) {
  // One channel has a hundred times the energy of the other.
  const std::vector<float> gram{100, 0, 0, 1};
  const std::vector<float> up = wayUp({0, 1, {0, 1}, {}}, gram);
  // A step along R a adds to each channel's log energy R: that of the weak one must not be less.
  EXPECT_GT(up[3], up[0]);
  EXPECT_NEAR(up[1], 0, 1e-6);
}

TEST(Drive, AReferenceSaysWhatCounts) {
  const std::vector<float> gram{1, 0, 0, 1};
  BandMoments reference;
  reference.gram = {1.25F, 0.5F, 0.5F, 1.0F};
  reference.mean = {0.5F, 1.0F};  // the second channel is awake everywhere: there is no pattern in it
  BandDrive drive{0, 1, {0, 1}, {}};
  addCovariance(reference, 2, drive.reference);
  EXPECT_FLOAT_EQ(drive.reference[0], 2.0F);
  EXPECT_FLOAT_EQ(drive.reference[1], 0.0F);
  EXPECT_FLOAT_EQ(drive.reference[3], 0.0F);
  const std::vector<float> up = wayUp(drive, gram);
  EXPECT_GT(up[0], 0.5F);
  EXPECT_NEAR(up[3], 0, 1e-6);
}

TEST(Drive, NothingAtAllHasAWayUpThatIsANumber) {
  for (const float v : wayUp({0, 1, {0, 1}, {}}, {0, 0, 0, 0})) EXPECT_TRUE(std::isfinite(v));
}

TEST(Channels, AreNumbersOrThoseThatThePhotoWakes) {
  const std::vector<float> means{0.1F, 0.9F, 0.4F, 0.8F};
  using Kept = std::vector<std::size_t>;
  EXPECT_EQ(keptChannels({}, "broad", means), (Kept{0, 1, 2, 3}));
  EXPECT_EQ(keptChannels({{3, 1, 3}, 0}, "broad", means), (Kept{1, 3}));
  EXPECT_EQ(keptChannels({{}, 2}, "broad", means), (Kept{1, 3}));
  EXPECT_EQ(keptChannels({{}, 9}, "broad", means), (Kept{0, 1, 2, 3}));
  try {
    keptChannels({{4}, 0}, "broad", means);
    FAIL();
  } catch (const UsageError& e) {
    EXPECT_STREQ(e.what(), "the band broad has no channel 4; its channels are 0 to 3");
  }
}

}  // namespace
}  // namespace jugendstil
