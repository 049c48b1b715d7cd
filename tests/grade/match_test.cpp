// SPDX-License-Identifier: Apache-2.0
#include "grade/match.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "base/parallel.h"
#include "grade/closeness.h"
#include "grade/grader.h"
#include "grade/look_file.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

// A picture with another tone and cast.
Image other(int width, int height, unsigned seed) {
  Image image = sample(width, height, seed);
  for (std::size_t i = 0; i < image.area(); ++i) {
    float* p = &image.pixels[i * 3];
    p[0] = 0.25F + 0.6F * p[0];
    p[1] = 0.15F + 0.6F * p[1];
    p[2] = 0.05F + 0.5F * p[2];
  }
  return image;
}

Image graded(const Image& photo, const Look& look) {
  const Grader grader(look, photo);
  Image out = photo;
  grader.apply(out, 0, out.height);
  return out;
}

double distance(const Image& a, const Image& b) {
  return slicedDistance(gradeStatistics(a).colours, gradeStatistics(b).colours);
}

class EveryMethod : public testing::TestWithParam<GradeMethod> {
 protected:
  MatchSettings settings() const {
    MatchSettings s;
    s.method = GetParam();
    return s;
  }
};

TEST_P(EveryMethod, TheSamePictureStaysAsItIs) {
  const Image photo = sample(90, 70);
  const auto s = gradeStatistics(photo);
  const Image out = graded(photo, matchLook(s, {{s, 1}}, settings()));
  for (std::size_t i = 0; i < out.pixels.size(); ++i) EXPECT_NEAR(out.pixels[i], photo.pixels[i], 0.02F);
  EXPECT_LT(distance(out, photo), 0.004);
}

TEST_P(EveryMethod, ComesMuchNearerToTheReference) {
  const Image photo = sample(120, 90, 1);
  const Image reference = other(100, 80, 9);
  const Look look = matchLook(gradeStatistics(photo), {{gradeStatistics(reference), 1}}, settings());
  const double part = distance(graded(photo, look), reference) / distance(photo, reference);
  EXPECT_LT(part, GetParam() == GradeMethod::distribution ? 0.15 : 0.3);
}

TEST_P(EveryMethod, ThreadsMakeNoDifference) {
  const auto photo = gradeStatistics(sample(120, 90, 1));
  const std::vector<SharedStatistics> references{{gradeStatistics(other(100, 80, 9)), 1}};
  setThreads(1);
  const std::string one = lookText(matchLook(photo, references, settings()));
  setThreads(3);
  const std::string three = lookText(matchLook(photo, references, settings()));
  setThreads(0);
  EXPECT_EQ(one, three);
}

TEST_P(EveryMethod, OneColourAndOnePixelAreNoFailure) {
  const auto photo = gradeStatistics(sample(40, 30));
  const auto grey = gradeStatistics(Image(20, 20, 3, 0.6F));
  const auto pixel = gradeStatistics(Image(1, 1, 3, 0.4F));
  for (const auto& [from, to] :
       {std::pair(photo, grey), std::pair(grey, photo), std::pair(pixel, photo), std::pair(photo, pixel)}) {
    const ColourTable table = lookTable(matchLook(from, {{to, 1}}, settings()));
    for (const float v : table.rgb) ASSERT_TRUE(v >= 0 && v <= 1);
  }
}

INSTANTIATE_TEST_SUITE_P(Methods, EveryMethod,
                         testing::Values(GradeMethod::meanStd, GradeMethod::covariance,
                                         GradeMethod::distribution));

TEST(MatchLook, StagesAloneLeaveTheOthersAlone) {
  const Image photo = sample(90, 70);
  const auto from = gradeStatistics(photo);
  const std::vector<SharedStatistics> to{{gradeStatistics(other(90, 70, 3)), 1}};
  MatchSettings settings;
  settings.colour = settings.detail = false;
  const Look tone = matchLook(from, to, settings);
  EXPECT_EQ(tone.saturation, 1);
  EXPECT_EQ(tone.residual.size, 0);
  EXPECT_FALSE(tone.changesDetail());
  settings = {};
  settings.tone = settings.detail = false;
  const Look colour = matchLook(from, to, settings);
  const ColourTable table = lookTable(colour);
  for (std::size_t i = 0; i < from.colours.size(); i += 37) {
    const Oklab& c = from.colours[i];
    ASSERT_NEAR(oklabOfDisplay(interpolated(table, displayOf(c))).lightness, c.lightness, 0.03F);
  }
  settings = {};
  settings.tone = settings.colour = false;
  const Look detail = matchLook(from, to, settings);
  EXPECT_TRUE(detail.changesDetail());
  EXPECT_EQ(detail.black, 0);
  settings.detail = false;
  EXPECT_THROW(matchLook(from, to, settings), UsageError);
  EXPECT_THROW(matchLook(from, {}, {}), UsageError);
}

TEST(MatchLook, SharesDoNotDependOnTheirOrder) {
  const auto photo = gradeStatistics(sample(80, 60));
  const SharedStatistics a{gradeStatistics(other(80, 60, 3)), 3};
  const SharedStatistics b{gradeStatistics(Image(30, 30, 3, 0.3F)), 1};
  const ColourTable there = lookTable(matchLook(photo, {a, b}, {}));
  const ColourTable back = lookTable(matchLook(photo, {b, a}, {}));
  for (std::size_t i = 0; i < there.rgb.size(); ++i) ASSERT_NEAR(there.rgb[i], back.rgb[i], 2e-4F);
}

TEST(MatchLook, ASkyGetsNoSteps) {
  // A sky of nearly one tone in the photo that the reference spreads widely.
  Image photo(200, 100, 3, 0.72F);
  for (std::size_t i = 0; i < photo.area() / 4; ++i) photo.pixels[i * 3] = photo.pixels[i * 3 + 1] = 0.3F;
  const auto to = gradeStatistics(sample(120, 80, 2));
  MatchSettings settings;
  for (const GradeMethod method : {GradeMethod::covariance, GradeMethod::distribution}) {
    settings.method = method;
    const ColourTable table = lookTable(matchLook(gradeStatistics(photo), {{to, 1}}, settings));
    std::array<float, 3> last{};
    for (int x = 0; x <= 2000; ++x) {
      const float t = static_cast<float>(x) / 2000;
      const auto now = interpolated(table, {0.9F - 0.6F * t, 0.9F - 0.45F * t, 0.9F - 0.2F * t});
      for (std::size_t c = 0; c < 3 && x > 0; ++c)
        ASSERT_LE(std::fabs(now[c] - last[c]), 2.1F * 0.6F / 2000) << t;
      last = now;
    }
  }
}

}  // namespace
}  // namespace jugendstil
