// SPDX-License-Identifier: Apache-2.0
#include "grade/detail.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

// Waves of 6 pixels on a ramp, grey.
Image waves(int width, int height, float strength) {
  Image image(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      const float v = 0.3F + 0.4F * static_cast<float>(x) / static_cast<float>(width) +
                      strength * std::sin(static_cast<float>(x));
      for (int c = 0; c < 3; ++c) image.at(x, y, c) = v;
    }
  }
  return image;
}

Image changed(const Image& image, const DetailChange& change) {
  const DetailMap map(image, change);
  Image out = image;
  for (int y = 0; y < image.height; ++y)
    map.apply(&out.pixels[out.index(0, y, 0)], y, image.width, image.height, 3);
  return out;
}

double swing(const Image& image) {
  double sum = 0;
  for (int x = 100; x < 200; ++x)
    sum += static_cast<double>(std::fabs(image.at(x + 3, 60, 0) - image.at(x, 60, 0)));
  return sum;
}

TEST(Detail, ThePartsAddUpToTheLuma) {
  const Image image = sample(80, 60);
  const auto parts = detailOf(image);
  for (std::size_t i = 0; i < parts.size(); ++i) {
    const float* p = &image.pixels[i * 3];
    const float luma = 0.2126F * p[0] + 0.7152F * p[1] + 0.0722F * p[2];
    EXPECT_NEAR(parts[i].base + parts[i].band[0] + parts[i].band[1] + parts[i].band[2], luma, 1e-5F);
  }
}

TEST(Detail, NoChangeIsNone) {
  const Image image = sample(70, 50);
  const Image out = changed(image, {});
  for (std::size_t i = 0; i < out.pixels.size(); ++i) EXPECT_NEAR(out.pixels[i], image.pixels[i], 1e-5F);
}

TEST(Detail, GainsScaleTheDetailAndLeaveTheRamp) {
  const Image image = waves(300, 120, 0.04F);
  DetailChange change;
  change.gain = {1.5, 1.5, 1.5};
  const Image more = changed(image, change);
  // A little less than asked: what looks like edges or noise is spared.
  EXPECT_GT(swing(more) / swing(image), 1.25);
  EXPECT_LT(swing(more) / swing(image), 1.5);
  change.gain = {0.5, 0.5, 0.5};
  EXPECT_NEAR(swing(changed(image, change)) / swing(image), 0.55, 0.07);
  EXPECT_NEAR(more.at(160, 60, 0) + more.at(163, 60, 0), image.at(160, 60, 0) + image.at(163, 60, 0), 0.02F);
}

TEST(Detail, WhatTheToneCurveWillAddIsTakenOff) {
  const Image image = waves(300, 120, 0.02F);
  DetailChange change;
  change.toneSlope = [](float) { return 2.0F; };
  EXPECT_NEAR(swing(changed(image, change)) / swing(image), 0.5, 0.08);
}

TEST(Detail, EdgesGetNoHalo) {
  Image step(200, 60);
  for (int y = 0; y < 60; ++y) {
    for (int x = 0; x < 200; ++x) {
      for (int c = 0; c < 3; ++c) step.at(x, y, c) = x < 100 ? 0.2F : 0.8F;
    }
  }
  DetailChange change;
  change.gain = {1.8, 1.8, 1.8};
  const Image out = changed(step, change);
  for (int x = 0; x < 200; ++x) EXPECT_NEAR(out.at(x, 30, 1), step.at(x, 30, 1), 0.035F) << x;
}

TEST(Detail, NothingIsPushedOverWhite) {
  Image image = sample(80, 60);
  for (float& v : image.pixels) v = 0.9F + 0.1F * v;
  DetailChange change;
  change.gain = {4, 4, 4};
  for (const float v : changed(image, change).pixels) EXPECT_LE(v, 1.0F + 1e-5F);
}

TEST(Detail, ALargePictureChangesAsItsReducedOneSays) {
  const Image small = sample(90, 60);
  DetailChange change;
  change.gain = {1.6, 1.2, 0.8};
  const DetailMap map(small, change);
  const auto parts = detailOf(small);
  Image out = small;
  for (int y = 0; y < 60; ++y) map.apply(&out.pixels[out.index(0, y, 0)], y, 90, 60, 3);
  for (std::size_t i = 0; i < small.area(); ++i) {
    const float* p = &small.pixels[i * 3];
    const auto wanted = detailChanged({p[0], p[1], p[2]}, parts[i], change);
    for (std::size_t c = 0; c < 3; ++c) EXPECT_NEAR(out.pixels[i * 3 + c], wanted[c], 2e-5F);
  }
}

}  // namespace
}  // namespace jugendstil
