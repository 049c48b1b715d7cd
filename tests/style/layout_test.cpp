// SPDX-License-Identifier: Apache-2.0
#include "style/layout.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/gradient.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

double apart(const LayoutTerm& layout, const Planes& picture) {
  Planes unused(picture.width, picture.height);
  return layout.evaluate(picture, 1, unused);
}

// Bright inside a circle.
Planes disc(int size, float inside, float outside, int dx = 0) {
  Planes p(size, size);
  for (int y = 0; y < size; ++y) {
    for (int x = 0; x < size; ++x)
      p.plane[0][p.index(x, y)] = std::hypot(x - size / 2 - dx, y - size / 2) < size / 4.0 ? inside : outside;
  }
  return p;
}

TEST(Layout, GradientMatchesFiniteDifferencesAtEverySize) {
  // Softened once, and twice.
  for (const int width : {64, 416}) {
    const Planes drawing = opponentOf(sample(width, 48, 2));
    Image more(width, 48, 1, 1.0F);
    for (int y = 0; y < 48; ++y) {
      for (int x = 0; x < width / 2; ++x) more.at(x, y, 0) = 4;
    }
    const LayoutTerm layout(drawing, more);
    const Planes p = opponentOf(sample(width, 48, 7));
    Planes gradient(width, 48);
    layout.evaluate(p, 3, gradient);
    const auto value = [&](const Planes& at) { return 3 * apart(layout, at); };
    testing_support::expectGradient(value, p, gradient, 2e-3F, 0.02);
  }
}

TEST(Layout, ContrastAndColoursAreFree) {
  const Planes drawing = disc(96, 0.9F, 0.3F);
  const LayoutTerm layout(drawing);
  Planes darker = disc(96, 0.55F, 0.05F);
  for (float& v : darker.plane[1]) v = 0.2F;
  EXPECT_LT(apart(layout, darker), apart(layout, drawing) + 0.06);
}

TEST(Layout, TheOrderOfTonesAndWhereTheyEndAreNot) {
  const LayoutTerm layout(disc(96, 0.9F, 0.3F));
  const double own = apart(layout, disc(96, 0.9F, 0.3F));
  EXPECT_LT(own, 0.25);
  EXPECT_GT(apart(layout, disc(96, 0.9F, 0.3F, 10)), own + 0.3);
  EXPECT_NEAR(apart(layout, disc(96, 0.5F, 0.5F)), 1, 0.06);
  EXPECT_GT(apart(layout, disc(96, 0.3F, 0.9F)), 1.6);
}

TEST(Layout, CalmPlacesAreFree) {
  // Bars far away from the disc's edge cost less than a tenth of what they do across it.
  const Planes drawing = disc(192, 0.9F, 0.3F);
  const LayoutTerm layout(drawing);
  const auto barred = [&](int left) {
    Planes p = drawing;
    for (int y = 40; y < 152; ++y) {
      for (int x = left; x < left + 24; ++x) p.plane[0][p.index(x, y)] += (x / 6) % 2 == 0 ? 0.4F : -0.4F;
    }
    return apart(layout, p) - apart(layout, drawing);
  };
  EXPECT_LT(barred(4), 0.1 * barred(40));
}

TEST(Layout, WhatCountsMoreWeighsMore) {
  const Planes drawing = disc(96, 0.9F, 0.3F);
  Image more(96, 96, 1, 1.0F);
  for (int y = 0; y < 96; ++y) {
    for (int x = 0; x < 48; ++x) more.at(x, y, 0) = 8;
  }
  // The right half flattened, then the left one.
  const auto flattened = [&](int from) {
    Planes p = drawing;
    for (int y = 0; y < 96; ++y) {
      for (int x = from; x < from + 48; ++x) p.plane[0][p.index(x, y)] = 0.5F;
    }
    return p;
  };
  const LayoutTerm weighted(drawing, more);
  const LayoutTerm plain(drawing);
  const auto lost = [&](const LayoutTerm& layout, int from) {
    return apart(layout, flattened(from)) - apart(layout, drawing);
  };
  EXPECT_NEAR(lost(plain, 0), lost(plain, 48), 0.05);
  EXPECT_GT(lost(weighted, 0), 4 * lost(weighted, 48));
}

}  // namespace
}  // namespace jugendstil
