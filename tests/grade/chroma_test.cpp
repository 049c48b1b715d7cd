// SPDX-License-Identifier: Apache-2.0
#include "grade/chroma.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace jugendstil {
namespace {

struct Cloud {
  double a;
  double b;
  double deviationA;
  double deviationB;
  double correlation;
};

std::vector<Oklab> draw(const Cloud& cloud, unsigned seed, float tone = 0.5F) {
  std::mt19937 random(seed);
  std::normal_distribution<double> normal;
  std::vector<Oklab> out;
  for (int i = 0; i < 20000; ++i) {
    const double x = normal(random);
    const double y =
        cloud.correlation * x + std::sqrt(1 - cloud.correlation * cloud.correlation) * normal(random);
    out.push_back({lightnessOfTone(tone), static_cast<float>(cloud.a + cloud.deviationA * x),
                   static_cast<float>(cloud.b + cloud.deviationB * y)});
  }
  return out;
}

std::vector<SharedStatistics> reference(const std::vector<Oklab>& colours, double share = 1) {
  GradeStatistics s;
  s.colours = colours;
  return {{s, share}};
}

struct Measured {
  double a = 0;
  double b = 0;
  double aa = 0;
  double ab = 0;
  double bb = 0;
};

Measured measured(const std::vector<Oklab>& colours) {
  Measured m;
  const auto n = static_cast<double>(colours.size());
  for (const Oklab& c : colours) {
    m.a += static_cast<double>(c.a) / n;
    m.b += static_cast<double>(c.b) / n;
  }
  for (const Oklab& c : colours) {
    const double x = static_cast<double>(c.a) - m.a;
    const double y = static_cast<double>(c.b) - m.b;
    m.aa += x * x / n;
    m.ab += x * y / n;
    m.bb += y * y / n;
  }
  return m;
}

std::vector<Oklab> mapped(const ChromaMap& map, std::vector<Oklab> colours) {
  for (Oklab& c : colours) c = map(c);
  return colours;
}

TEST(RangeWeights, AddUpToOneAndFavourTheirOwn) {
  for (float t = 0; t <= 1; t += 0.05F) {
    const auto w = rangeWeights(t);
    EXPECT_NEAR(w[0] + w[1] + w[2], 1, 1e-6F);
    for (const float v : w) EXPECT_GE(v, 0);
  }
  EXPECT_EQ(rangeWeights(0)[0], 1);
  EXPECT_EQ(rangeWeights(0.5F)[1], 1);
  EXPECT_EQ(rangeWeights(1)[2], 1);
}

// The linear map is exact for Gaussians; clouds away from grey, where greys have no say.
TEST(ChromaMap, CovarianceCarriesAGaussianToAGaussian) {
  const auto photo = draw({0.10, 0.09, 0.02, 0.015, 0.3}, 1);
  const auto target = draw({-0.12, 0.08, 0.015, 0.025, -0.5}, 2);
  const Measured got = measured(mapped(ChromaMap(GradeMethod::covariance, photo, reference(target)), photo));
  const Measured wanted = measured(target);
  EXPECT_NEAR(got.a, wanted.a, 2e-3);
  EXPECT_NEAR(got.b, wanted.b, 2e-3);
  EXPECT_NEAR(got.aa / wanted.aa, 1, 0.06);
  EXPECT_NEAR(got.bb / wanted.bb, 1, 0.06);
  EXPECT_NEAR(got.ab / wanted.ab, 1, 0.12);
}

TEST(ChromaMap, MeanStdLeavesTheCorrelationAlone) {
  const auto photo = draw({0.10, 0.09, 0.02, 0.015, 0.6}, 1);
  const auto target = draw({-0.12, 0.08, 0.015, 0.025, -0.5}, 2);
  const Measured got = measured(mapped(ChromaMap(GradeMethod::meanStd, photo, reference(target)), photo));
  EXPECT_NEAR(std::sqrt(got.aa), 0.015, 1e-3);
  EXPECT_NEAR(std::sqrt(got.bb), 0.025, 1.5e-3);
  EXPECT_NEAR(got.ab / std::sqrt(got.aa * got.bb), 0.6, 0.03);
}

TEST(ChromaMap, TheSameColoursStay) {
  const auto photo = draw({0.03, 0.02, 0.03, 0.03, 0.2}, 3);
  const ChromaMap map(GradeMethod::covariance, photo, reference(photo));
  for (std::size_t i = 0; i < photo.size(); i += 97) {
    EXPECT_NEAR(map(photo[i]).a, photo[i].a, 4e-3F);
    EXPECT_NEAR(map(photo[i]).b, photo[i].b, 4e-3F);
  }
}

// A reference with many neutral greys and a blue sky must not make the photo's greys blue.
TEST(ChromaMap, GreysStayNeutralWhereTheReferencesAre) {
  auto target = draw({0, 0, 0.004, 0.004, 0}, 4);
  const auto sky = draw({-0.03, -0.10, 0.01, 0.02, 0}, 5);
  target.insert(target.end(), sky.begin(), sky.end());
  auto photo = draw({0.05, 0.09, 0.02, 0.02, 0}, 6);
  const auto stones = draw({0, 0, 0.006, 0.006, 0}, 16);
  photo.insert(photo.end(), stones.begin(), stones.end());
  const Oklab grey =
      ChromaMap(GradeMethod::covariance, photo, reference(target))({lightnessOfTone(0.5F), 0, 0});
  EXPECT_LT(chroma(grey), 0.008F);
  // Where the reference's greys have a cast of their own, the photo's take it.
  for (Oklab& c : target) c.b += 0.023F;
  const Oklab cast =
      ChromaMap(GradeMethod::covariance, photo, reference(target))({lightnessOfTone(0.5F), 0, 0});
  EXPECT_NEAR(cast.b, 0.023F, 0.008F);
}

TEST(ChromaMap, ShadowsAndLightsTakeDifferentCasts) {
  auto photo = draw({0.05, 0.05, 0.02, 0.02, 0}, 7, 0.05F);
  const auto lights = draw({0.05, 0.05, 0.02, 0.02, 0}, 8, 0.95F);
  photo.insert(photo.end(), lights.begin(), lights.end());
  auto target = draw({0, -0.09, 0.02, 0.02, 0}, 9, 0.05F);
  const auto warm = draw({0.03, 0.11, 0.02, 0.02, 0}, 10, 0.95F);
  target.insert(target.end(), warm.begin(), warm.end());
  const ChromaMap map(GradeMethod::covariance, photo, reference(target));
  EXPECT_LT(map({lightnessOfTone(0.05F), 0.05F, 0.05F}).b, -0.05F);
  EXPECT_GT(map({lightnessOfTone(0.95F), 0.05F, 0.05F}).b, 0.07F);
}

TEST(ChromaMap, ABlackAndWhiteReferenceTakesTheColourAway) {
  const auto photo = draw({0.05, 0.05, 0.04, 0.03, 0.2}, 11);
  const std::vector<Oklab> grey(500, Oklab{lightnessOfTone(0.5F), 0, 0});
  for (const Oklab& c : mapped(ChromaMap(GradeMethod::covariance, photo, reference(grey)), photo)) {
    ASSERT_LT(chroma(c), 0.012F);
  }
}

TEST(ChromaMap, SharesDoNotDependOnTheirOrder) {
  const auto photo = draw({0.05, 0.05, 0.04, 0.03, 0.2}, 12);
  const auto one = reference(draw({0.1, 0, 0.02, 0.02, 0}, 13), 3);
  const auto two = reference(draw({-0.1, 0, 0.02, 0.02, 0}, 14), 1);
  const ChromaMap there(GradeMethod::covariance, photo, {one[0], two[0]});
  const ChromaMap back(GradeMethod::covariance, photo, {two[0], one[0]});
  for (std::size_t i = 0; i < photo.size(); i += 501) {
    EXPECT_NEAR(there(photo[i]).a, back(photo[i]).a, 1e-6F);
    EXPECT_NEAR(there(photo[i]).b, back(photo[i]).b, 1e-6F);
  }
  EXPECT_NEAR(measured(mapped(there, photo)).a, 0.1 * 0.75 - 0.1 * 0.25, 3e-3);
}

}  // namespace
}  // namespace jugendstil
