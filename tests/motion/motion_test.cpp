// SPDX-License-Identifier: Apache-2.0
#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "image/mask.h"
#include "image/resample.h"
#include "motion/cut.h"
#include "motion/flow.h"
#include "motion/steadiness.h"
#include "motion/trust.h"
#include "motion/warp.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

// A frame of a large scene seen from (x, y), with whole or part pixels.
Image view(const Image& scene, double x, double y, int width, int height, double zoom = 1) {
  Image out(width, height);
  for (int v = 0; v < height; ++v) {
    for (int u = 0; u < width; ++u) {
      const double cx = (u - width / 2.0) * zoom + width / 2.0 + x;
      const double cy = (v - height / 2.0) * zoom + height / 2.0 + y;
      const int x0 = static_cast<int>(std::floor(cx));
      const int y0 = static_cast<int>(std::floor(cy));
      const float fx = static_cast<float>(cx - x0);
      const float fy = static_cast<float>(cy - y0);
      for (int c = 0; c < 3; ++c) {
        const float top = scene.at(x0, y0, c) * (1 - fx) + scene.at(x0 + 1, y0, c) * fx;
        const float low = scene.at(x0, y0 + 1, c) * (1 - fx) + scene.at(x0 + 1, y0 + 1, c) * fx;
        out.at(u, v, c) = top * (1 - fy) + low * fy;
      }
    }
  }
  return out;
}

// Structure at several scales, so that flow has something to find everywhere.
Image scene(int width, int height, unsigned seed = 3) {
  const Image coarse = resample(sample(width / 6, height / 6, seed), width, height);
  const Image fine = resample(sample(width / 2, height / 2, seed + 1), width, height);
  Image out = coarse;
  for (std::size_t i = 0; i < out.pixels.size(); ++i)
    out.pixels[i] = 0.6F * coarse.pixels[i] + 0.4F * fine.pixels[i];
  return out;
}

double meanEndPointError(const Flow& flow, const Image& trust, double (*u)(double, double),
                         double (*v)(double, double)) {
  double sum = 0;
  double count = 0;
  for (int y = 0; y < flow.height; ++y) {
    for (int x = 0; x < flow.width; ++x) {
      if (trust.at(x, y, 0) < 1) continue;
      const std::size_t i = flow.index(x, y);
      sum += std::hypot(static_cast<double>(flow.u[i]) - u(x, y), static_cast<double>(flow.v[i]) - v(x, y));
      ++count;
    }
  }
  EXPECT_GT(count, 0.5 * static_cast<double>(trust.area()));
  return sum / count;
}

TEST(Flow, FindsATranslation) {
  const Image all = scene(260, 200);
  const GreyFrame a = greyOf(view(all, 20, 20, 200, 140));
  const GreyFrame b = greyOf(view(all, 23.5, 18, 200, 140));
  const FlowPair flows = flowBetween(a, b);
  // What was at x is at x - 3.5 in the second frame, which looks from further right.
  EXPECT_LT(meanEndPointError(
                flows.there, trustMask(flows.there, flows.back), [](double, double) { return -3.5; },
                [](double, double) { return 2.0; }),
            0.25);
}

TEST(Flow, FindsAZoom) {
  const Image all = scene(280, 220);
  const GreyFrame a = greyOf(view(all, 40, 40, 200, 140));
  const GreyFrame b = greyOf(view(all, 40, 40, 200, 140, 1 / 1.03));
  const FlowPair flows = flowBetween(a, b);
  EXPECT_LT(
      meanEndPointError(
          flows.there, trustMask(flows.there, flows.back), [](double x, double) { return 0.03 * (x - 100); },
          [](double, double y) { return 0.03 * (y - 70); }),
      0.3);
}

TEST(Flow, RefusesFramesOfDifferentSizesAndTakesTinyOnes) {
  EXPECT_THROW(denseFlow(greyOf(sample(40, 40)), greyOf(sample(42, 40))), Error);
  const Flow flow = denseFlow(greyOf(sample(8, 8)), greyOf(sample(8, 8)));
  EXPECT_EQ(flow.u.size(), 64U);
  EXPECT_EQ(flow.u[20], 0.0F);
}

TEST(Flow, IsTheSameOnOneThreadAndTwo) {
  const GreyFrame a = greyOf(scene(120, 90, 5));
  const GreyFrame b = greyOf(scene(120, 90, 6));
  const Flow once = denseFlow(a, b);
  EXPECT_EQ(once.u, flowBetween(a, b).there.u);
}

// A square moves over a still ground: what it covers in the next frame cannot be trusted.
TEST(Flow, MotionsOneAfterTheOtherAddUp) {
  const Image whole = scene(400, 300);
  const GreyFrame a = greyOf(view(whole, 20, 20, 240, 160));
  const GreyFrame b = greyOf(view(whole, 23, 21, 240, 160));
  const GreyFrame c = greyOf(view(whole, 27, 19, 240, 160));
  const Flow both = composed(denseFlow(a, b), denseFlow(b, c));
  EXPECT_NEAR(both.u[both.index(120, 80)], -7, 0.2);
  EXPECT_NEAR(both.v[both.index(120, 80)], 1, 0.2);
  EXPECT_THROW(composed(both, Flow(10, 10)), Error);
}

TEST(Trust, SomethingElseInThePlaceIsNotAlike) {
  const Image first = view(scene(300, 200), 10, 10, 240, 160);
  Image second = first;
  for (float& v : second.pixels) v = std::min(1.0F, v + 0.1F);  // the sun comes out
  for (int y = 40; y < 100; ++y) {
    for (int x = 60; x < 140; ++x) {
      for (int c = 0; c < 3; ++c) second.at(x, y, c) = first.at(x, y, c) > 0.5F ? 0.1F : 0.9F;
    }
  }
  const Image alike = alikeMask(greyOf(first), greyOf(second), Flow(240, 160));
  EXPECT_EQ(alike.at(100, 70, 0), 0.0F);
  EXPECT_GT(alike.at(200, 130, 0), 0.95F);
  EXPECT_GT(alike.at(20, 20, 0), 0.95F);
}

TEST(Trust, LeavesOutWhatIsHiddenAndWhatLeavesTheFrame) {
  const Image ground = scene(200, 140, 9);
  const Image square = scene(60, 60, 21);
  const auto frame = [&](int x) {
    Image out = ground;
    for (int v = 0; v < 50; ++v) {
      for (int u = 0; u < 50; ++u) {
        for (int c = 0; c < 3; ++c) out.at(x + u, 45 + v, c) = square.at(u, v, c);
      }
    }
    return greyOf(out);
  };
  const FlowPair flows = flowBetween(frame(60), frame(72));
  const Image trust = trustMask(flows.there, flows.back);
  // Ground right of the square, which the square covers next.
  int trusted = 0;
  for (int v = 50; v < 90; ++v) {
    for (int u = 111; u < 121; ++u) trusted += trust.at(u, v, 0) > 0 ? 1 : 0;
  }
  EXPECT_LT(trusted, 400 * 0.15);
  // The middle of the square and the far ground are.
  int inside = 0;
  for (int v = 55; v < 85; ++v) {
    for (int u = 70; u < 100; ++u)
      inside += trust.at(u, v, 0) > 0 && std::fabs(flows.there.u[flows.there.index(u, v)] - 12) < 1 ? 1 : 0;
  }
  EXPECT_GT(inside, 900 * 0.9);
  EXPECT_GT(trust.at(20, 20, 0), 0);
  // Motion out of the frame leads nowhere.
  Flow out(40, 30);
  std::fill(out.u.begin(), out.u.end(), 50.0F);
  Flow back(40, 30);
  std::fill(back.u.begin(), back.u.end(), -50.0F);
  EXPECT_EQ(coverage(seenMask(out, back)), 0);
}

TEST(Trust, MotionBoundariesAreSeenButNotTrusted) {
  Flow flow(40, 30);
  Flow back(40, 30);
  for (int y = 0; y < 30; ++y) {
    for (int x = 0; x < 40; ++x) {
      flow.u[flow.index(x, y)] = x < 20 ? 0.0F : 0.6F;
      back.u[flow.index(x, y)] = x < 20 ? 0.0F : -0.6F;
    }
  }
  const Image seen = seenMask(flow, back);
  const Image trust = trustMask(flow, back);
  EXPECT_EQ(seen.at(19, 10, 0), 1);
  EXPECT_EQ(trust.at(19, 10, 0), 0);
  EXPECT_EQ(trust.at(10, 10, 0), 1);
}

TEST(Trust, SofteningTakesAwayAndLeavesNoSeam) {
  Image mask(40, 40, 1);
  for (int y = 10; y < 30; ++y) {
    for (int x = 10; x < 30; ++x) mask.at(x, y, 0) = 1;
  }
  const Image soft = softened(mask, 3);
  EXPECT_LT(soft.at(10, 20, 0), 0.2F);
  EXPECT_FLOAT_EQ(soft.at(20, 20, 0), 1);
  for (int x = 1; x < 40; ++x) EXPECT_LT(std::fabs(soft.at(x, 20, 0) - soft.at(x - 1, 20, 0)), 0.4F);
  EXPECT_EQ(softened(mask, 0).pixels, mask.pixels);
}

TEST(Warp, WholePixelsAreExactAndEdgesRepeat) {
  const Image picture = sample(30, 20);
  Flow flow(30, 20);
  std::fill(flow.u.begin(), flow.u.end(), 4.0F);
  std::fill(flow.v.begin(), flow.v.end(), -3.0F);
  const Image moved = warped(picture, flow);
  for (int c = 0; c < 3; ++c) {
    EXPECT_FLOAT_EQ(moved.at(10, 10, c), picture.at(14, 7, c));
    EXPECT_FLOAT_EQ(moved.at(29, 10, c), picture.at(29, 7, c));
    EXPECT_FLOAT_EQ(moved.at(10, 0, c), picture.at(14, 0, c));
  }
  EXPECT_THROW(warped(sample(31, 20), flow), Error);
}

TEST(Warp, AStraightRampIsKeptBetweenPixels) {
  Image ramp(32, 8, 1);
  for (int y = 0; y < 8; ++y) {
    for (int x = 0; x < 32; ++x)
      ramp.at(x, y, 0) = 0.02F * static_cast<float>(x) + 0.05F * static_cast<float>(y);
  }
  Flow flow(32, 8);
  std::fill(flow.u.begin(), flow.u.end(), 2.37F);
  std::fill(flow.v.begin(), flow.v.end(), 0.61F);
  EXPECT_NEAR(warped(ramp, flow).at(10, 3, 0), 0.02 * 12.37 + 0.05 * 3.61, 1e-3);
}

TEST(Warp, EachChannelIsCarriedAsIfItWereAlone) {
  for (const int channels : {2, 3, 4}) {
    Image picture(24, 18, channels);
    for (std::size_t i = 0; i < picture.pixels.size(); ++i)
      picture.pixels[i] = static_cast<float>((i * 7919) % 101) / 101;
    Flow flow(24, 18);
    for (std::size_t i = 0; i < flow.u.size(); ++i) {
      flow.u[i] = static_cast<float>(i % 37) * 0.31F - 5;
      flow.v[i] = static_cast<float>(i % 29) * 0.27F - 4;
    }
    const Image together = warped(picture, flow);
    for (int c = 0; c < channels; ++c) {
      Image one(24, 18, 1);
      for (std::size_t i = 0; i < one.pixels.size(); ++i) one.pixels[i] = picture.pixels[i * channels + c];
      const Image alone = warped(one, flow);
      for (std::size_t i = 0; i < one.pixels.size(); ++i)
        ASSERT_NEAR(together.pixels[i * channels + c], alone.pixels[i], 1e-5)
            << channels << " " << c << " " << i;
    }
  }
}

TEST(Warp, ManySmallMotionsKeepThePictureSharp) {
  const Image picture = scene(80, 60);
  Image carried = picture;
  Flow flow(80, 60);
  // Twenty times a part of a pixel there, and as much back; linear interpolation leaves a third of it.
  for (int i = 0; i < 20; ++i) {
    std::fill(flow.u.begin(), flow.u.end(), i % 2 == 0 ? 0.4F : -0.4F);
    carried = warped(carried, flow);
  }
  const auto contrast = [](const Image& p) {
    double sum = 0;
    for (int y = 10; y < 50; ++y) {
      for (int x = 10; x < 70; ++x) sum += static_cast<double>(std::fabs(p.at(x + 1, y, 0) - p.at(x, y, 0)));
    }
    return sum;
  };
  EXPECT_GT(contrast(carried), 0.65 * contrast(picture));
}

TEST(Cut, IsSeenBetweenScenesAndNotInMotionFadesOrGrain) {
  const Image all = scene(260, 200, 4);
  const Image a = view(all, 20, 20, 180, 120);
  const Image b = view(all, 26, 24, 180, 120);
  Image other(180, 120);
  for (std::size_t i = 0; i < other.area(); ++i) {
    other.pixels[i * 3] = 0.2F;
    other.pixels[i * 3 + 1] = 0.15F + 0.1F * static_cast<float>(i % 7) / 7;
    other.pixels[i * 3 + 2] = 0.6F;
  }
  const auto cut = [](const Image& from, const Image& to) {
    const FlowPair flows = flowBetween(greyOf(to), greyOf(from));
    return isCut(histogramDistance(from, to), coverage(trustMask(flows.there, flows.back)));
  };
  EXPECT_TRUE(cut(a, other));
  EXPECT_FALSE(cut(a, b));
  EXPECT_FALSE(cut(a, a));
  Image darker = a;
  for (float& v : darker.pixels) v *= 0.92F;
  EXPECT_FALSE(cut(a, darker));
  EXPECT_NEAR(histogramDistance(a, a), 0, 1e-12);
  EXPECT_LE(histogramDistance(a, other), 1.0 + 1e-9);
}

TEST(Cut, ColoursThatChangeSomewhatAreACutOnlyWhereNothingCanBeFollowed) {
  EXPECT_TRUE(isCut(0.3, 0.1));
  EXPECT_FALSE(isCut(0.3, 0.8));
  EXPECT_FALSE(isCut(0.1, 0.0));
  EXPECT_TRUE(isCut(0.6, 1.0));
}

TEST(Steadiness, IsZeroForAPictureThatMovesWithItsFlowAndTheNoisesSquareElse) {
  const Image all = scene(120, 90);
  const Image before = crop(all, 10, 10, 80, 60);
  const Image now = crop(all, 13, 12, 80, 60);
  Flow back(80, 60);
  std::fill(back.u.begin(), back.u.end(), 3.0F);
  std::fill(back.v.begin(), back.v.end(), 2.0F);
  Image trust(80, 60, 1, 1.0F);
  for (int y = 0; y < 60; ++y) {
    for (int x = 0; x < 80; ++x) {
      if (x + 3 > 79 || y + 2 > 59) trust.at(x, y, 0) = 0;
    }
  }
  EXPECT_NEAR(warpingError(now, before, back, trust), 0, 1e-10);
  Image noisy = now;
  for (std::size_t i = 0; i < noisy.pixels.size(); ++i) noisy.pixels[i] += i % 2 == 0 ? 0.1F : -0.1F;
  EXPECT_NEAR(warpingError(noisy, before, back, trust), 0.01, 1e-5);
  EXPECT_EQ(warpingError(noisy, before, back, Image(80, 60, 1)), 0);
  EXPECT_THROW(warpingError(noisy, crop(before, 0, 0, 70, 60), back, trust), Error);
}

}  // namespace
}  // namespace jugendstil
