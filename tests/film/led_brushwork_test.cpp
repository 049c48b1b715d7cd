// SPDX-License-Identifier: Apache-2.0
// Brush-work that stays with what moves.
#include "film/led_brushwork.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

constexpr Size kSize{80, 60};

PaintPlan planFor(Size size) {
  PaintPlan plan;
  plan.softened = {size.width / 2, size.height / 2};
  plan.enlarging = {size};
  return plan;
}

PaintBasis basisWith(const Image& reference) {
  PaintBasis basis;
  basis.references = {{reference, 1}};
  basis.likeness = 50;
  return basis;
}

// With a stroke at which a reference of 100 x 75 keeps its size beside pictures of 80 x 60.
LedBrushwork brushworkFor(const PaintPlan& plan) {
  LedBrushwork brushwork(plan, std::sqrt(100.0 * 75.0 / (80.0 * 60.0)), 1);
  brushwork.beginShot(basisWith(sample(100, 75, 3)));
  return brushwork;
}

// All of it came from `dx` further right, and is trusted.
Motion motionBy(float dx, Size size = kSize) {
  Motion motion{0, Flow(size.width, size.height), Image(size.width, size.height, 1, 1.0F),
                Image(size.width, size.height, 1, 1.0F)};
  for (float& u : motion.back.u) u = dx;
  return motion;
}

// Smooth waves under a soft noise that is another one each time; 0 is none.
Image frame(float shift, int noise) {
  const Image grain = resample(sample(20, 15, static_cast<unsigned>(noise)), kSize.width, kSize.height);
  Image image(kSize.width, kSize.height, 3);
  for (int y = 0; y < image.height; ++y) {
    for (int x = 0; x < image.width; ++x) {
      const float wave = std::sin((static_cast<float>(x) + shift) * 0.2F + static_cast<float>(y) * 0.13F);
      for (int c = 0; c < 3; ++c)
        image.at(x, y, c) = 0.5F + 0.2F * wave + (noise == 0 ? 0.0F : 0.04F * grain.at(x, y, c));
    }
  }
  return image;
}

const Image kPlain(kSize.width, kSize.height, 3, 0.5F);

// Mean square of what two pictures' finest detail has different, b's read `dx` further right, away from the
// edges.
double fineDifference(const Image& a, const Image& b, int dx) {
  const auto fine = [](const Image& image) {
    Image out = resample(resample(image, kSize.width / 2, kSize.height / 2), kSize.width, kSize.height);
    for (std::size_t i = 0; i < out.pixels.size(); ++i) out.pixels[i] = image.pixels[i] - out.pixels[i];
    return out;
  };
  const Image fa = fine(a);
  const Image fb = fine(b);
  double sum = 0;
  int count = 0;
  for (int y = 8; y < kSize.height - 8; ++y) {
    for (int x = 8; x < kSize.width - 8 - dx; ++x, ++count)
      sum += std::pow(static_cast<double>(fa.at(x, y, 0) - fb.at(x + dx, y, 0)), 2);
  }
  return sum / count;
}

TEST(LedBrushwork, StaysWithWhatMovesOrStands) {
  for (const int dx : {0, 3}) {
    LedBrushwork led = brushworkFor(planFor(kSize));
    LedBrushwork free = brushworkFor(planFor(kSize));
    const Image first = led.laidIn(frame(0, 1), kPlain, {});
    const Image second = frame(static_cast<float>(dx), 2);
    const Image next = led.laidIn(second, kPlain, motionBy(static_cast<float>(dx)));
    const Image alone = free.laidIn(second, kPlain, {});
    EXPECT_LT(fineDifference(next, first, dx), 0.3 * fineDifference(alone, first, dx)) << dx;
  }
}

// Quiet places, too, which come from a painting reduced further.
TEST(LedBrushwork, StaysInQuietPlaces) {
  PaintPlan plan = planFor(kSize);
  plan.working = kSize;
  plan.quiet = {{20, 15}, {40, 30}};
  LedBrushwork led = brushworkFor(plan);
  LedBrushwork free = brushworkFor(plan);
  const Image first = led.laidIn(frame(0, 1), kPlain, {});
  EXPECT_NE(first.pixels, brushworkFor(planFor(kSize)).laidIn(frame(0, 1), kPlain, {}).pixels);
  const Image second = frame(3, 2);
  const Image next = led.laidIn(second, kPlain, motionBy(3));
  const Image alone = free.laidIn(second, kPlain, {});
  EXPECT_LT(fineDifference(next, first, 3), 0.3 * fineDifference(alone, first, 3));
}

TEST(LedBrushwork, SlowMotionAddsUp) {
  LedBrushwork led = brushworkFor(planFor(kSize));
  const Image first = led.laidIn(frame(0, 0), kPlain, {});
  Image last;
  for (int i = 1; i <= 12; ++i)
    last = led.laidIn(frame(0.25F * static_cast<float>(i), 0), kPlain, motionBy(0.25F));
  EXPECT_LT(fineDifference(last, first, 3), 0.6 * fineDifference(last, first, 0));
}

TEST(LedBrushwork, DoesNotBecomeSoftInALongShot) {
  LedBrushwork led = brushworkFor(planFor(kSize));
  const Image nothing(kSize.width, kSize.height, 3);
  const auto strength = [&](const Image& image) { return fineDifference(image, nothing, 0); };
  const double first = strength(led.laidIn(frame(0, 1), kPlain, {}));
  double last = 0;
  for (int i = 1; i <= 30; ++i)
    last = strength(led.laidIn(frame(0.3F * static_cast<float>(i), i + 1), kPlain, motionBy(0.3F)));
  EXPECT_GT(last, 0.6 * first);
}

TEST(LedBrushwork, WhatCannotBeTrustedIsLaidInAnew) {
  LedBrushwork led = brushworkFor(planFor(kSize));
  led.laidIn(sample(kSize.width, kSize.height, 8), kPlain, {});
  Motion motion = motionBy(0);
  motion.trust = Image(kSize.width, kSize.height, 1);
  const Image other = frame(0, 1);
  const Image next = led.laidIn(other, kPlain, motion);
  LedBrushwork free = brushworkFor(planFor(kSize));
  const Image alone = free.laidIn(other, kPlain, {});
  EXPECT_EQ(next.pixels, alone.pixels);
}

TEST(LedBrushwork, ADamagedFrameLeadsNothing) {
  LedBrushwork one = brushworkFor(planFor(kSize));
  LedBrushwork other = brushworkFor(planFor(kSize));
  for (LedBrushwork* both : {&one, &other}) both->laidIn(frame(0, 1), kPlain, {});
  const Image filled = one.laidIn(sample(kSize.width, kSize.height, 5), {}, {});
  EXPECT_EQ(filled.width, kSize.width);
  EXPECT_EQ(one.laidIn(frame(2, 2), kPlain, motionBy(2)).pixels,
            other.laidIn(frame(2, 2), kPlain, motionBy(2)).pixels);
}

TEST(LedBrushwork, AGivenFrameLeads) {
  LedBrushwork led = brushworkFor(planFor(kSize));
  Image given = frame(0, 1);
  for (int y = 0; y < kSize.height; ++y) {
    for (int x = 0; x < kSize.width; ++x) given.at(x, y, 0) += (x + y) % 2 == 0 ? 0.1F : -0.1F;
  }
  led.take(given);
  const Image next = led.laidIn(frame(0, 1), kPlain, motionBy(0));
  LedBrushwork free = brushworkFor(planFor(kSize));
  const Image alone = free.laidIn(frame(0, 1), kPlain, {});
  EXPECT_LT(fineDifference(next, given, 0), 0.6 * fineDifference(alone, given, 0));
}

TEST(LedBrushwork, EnlargesInStages) {
  PaintPlan plan = planFor(kSize);
  plan.enlarging.push_back({130, 98});
  LedBrushwork led = brushworkFor(plan);
  const Image drawing(130, 98, 3, 0.5F);
  const Image first = led.laidIn(frame(0, 1), drawing, {});
  EXPECT_EQ(first.width, 130);
  EXPECT_EQ(first.height, 98);
  const Image same = led.laidIn(frame(0, 1), drawing, motionBy(0, {130, 98}));
  double most = 0;
  for (std::size_t i = 0; i < same.pixels.size(); ++i)
    most = std::max(most, static_cast<double>(std::fabs(same.pixels[i] - first.pixels[i])));
  EXPECT_LT(most, 1e-3);
}

}  // namespace
}  // namespace jugendstil
