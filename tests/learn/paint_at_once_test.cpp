// SPDX-License-Identifier: Apache-2.0
#include "learn/paint_at_once.h"

#include <gtest/gtest.h>

#include "base/stop.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::distance;
using testing_support::sample;

QuickPainter painter(std::uint64_t seed) {
  QuickPainter p;
  p.net = painterNet(seed);
  p.settings.longEdge = 128;
  p.settings.painting.likeness = 30;
  p.references = {{sample(90, 80, static_cast<unsigned>(10 + seed)), 1}};
  return p;
}

PaintResult painted(const PainterChoice& painters, PaintInputs inputs, const PaintSettings& asked = {}) {
  const PaintSettings settings = settingsWith(painters, asked);
  return paintAtOnce(painters, inputsWith(painters, std::move(inputs)), settings, {});
}

TEST(PaintAtOnce, HasThePaintersSettingsAndThePhotosSize) {
  const QuickPainter oil = painter(1);
  PaintSettings asked;
  asked.likeness = 90;
  asked.opacity = 0.5;
  const PaintSettings settings = settingsWith({&oil}, asked);
  EXPECT_EQ(settings.likeness, 30);
  EXPECT_EQ(settings.opacity, 0.5);
  const PaintPlan plan = planWith({&oil}, {300, 200}, settings);
  EXPECT_EQ(plan.working.width, 128);
  EXPECT_EQ(plan.size().width, 300);
  EXPECT_EQ(plan.levels.at(0).steps, 0);
  const PaintResult result = painted({&oil}, {sample(300, 200), {}});
  EXPECT_TRUE(result.finished);
  EXPECT_EQ(result.picture.width, 300);
  EXPECT_EQ(result.picture.height, 200);
  EXPECT_EQ(painted({&oil}, {sample(300, 200), {}}).picture.pixels, result.picture.pixels);
}

TEST(PaintAtOnce, WithoutBrushWorkItIsTheNetsOwn) {
  const QuickPainter oil = painter(1);
  PaintSettings asked;
  asked.brushwork = false;
  const Image photo = sample(200, 140);
  EXPECT_TRUE(planWith({&oil}, {200, 140}, settingsWith({&oil}, asked)).enlarging.empty());
  const Image plain = painted({&oil}, {photo, {}}, asked).picture;
  EXPECT_GT(distance(plain, painted({&oil}, {photo, {}}).picture), 1e-4);
  // Half of it over the photo.
  asked.opacity = 0.5;
  Image half = photo;
  for (std::size_t i = 0; i < half.pixels.size(); ++i)
    half.pixels[i] = (half.pixels[i] + plain.pixels[i]) / 2;
  EXPECT_LT(distance(painted({&oil}, {photo, {}}, asked).picture, half), 2e-5);
}

TEST(PaintAtOnce, PartsHavePaintersOfTheirOwn) {
  const QuickPainter oil = painter(1);
  const QuickPainter wash = painter(2);
  const Image photo = sample(160, 120);
  Image left(160, 120, 1);
  for (int y = 0; y < 120; ++y) {
    for (int x = 0; x < 80; ++x) left.at(x, y, 0) = 1;
  }
  PaintSettings asked;
  asked.brushwork = false;
  PaintInputs inputs{photo, {}};
  inputs.parts = {{left, {}}};
  // The rest stays the photo, or is another painter's.
  const Image alone = painted({nullptr, {&wash}}, inputs, asked).picture;
  EXPECT_EQ(crop(alone, 81, 0, 79, 120).pixels, crop(photo, 81, 0, 79, 120).pixels);
  EXPECT_GT(distance(crop(alone, 0, 0, 80, 120), crop(photo, 0, 0, 80, 120)), 1e-4);
  const Image both = painted({&oil, {&wash}}, inputs, asked).picture;
  EXPECT_EQ(crop(both, 0, 0, 79, 120).pixels, crop(alone, 0, 0, 79, 120).pixels);
  EXPECT_GT(distance(crop(both, 81, 0, 79, 120), crop(photo, 81, 0, 79, 120)), 1e-4);
  // Only inside a mask.
  PaintInputs masked{photo, {}};
  masked.inside = left;
  const Image inside = painted({&oil}, masked, asked).picture;
  EXPECT_EQ(crop(inside, 81, 0, 79, 120).pixels, crop(photo, 81, 0, 79, 120).pixels);
}

TEST(PaintAtOnce, APainterOfAnotherProgramPaintsThePhotoAsItIs) {
  QuickPainter other;
  other.net = painterNet(4);
  const Image photo = sample(120, 90);
  const PaintResult result = painted({&other}, {photo, {}});
  EXPECT_EQ(result.picture.width, 120);
  EXPECT_LT(distance(result.picture, photo), 0.02);  // a net that has learned nothing softens it
}

TEST(PaintAtOnce, CanBeStopped) {
  const QuickPainter oil = painter(1);
  const PaintInputs inputs = inputsWith({&oil}, {sample(200, 140), {}});
  EXPECT_THROW(
      paintAtOnce({&oil}, inputs, settingsWith({&oil}, {}), [](const PaintProgress&) { throw Stopped{}; }),
      Stopped);
}

}  // namespace
}  // namespace jugendstil
