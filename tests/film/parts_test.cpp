// SPDX-License-Identifier: Apache-2.0
// The parts of a film: choosing frames, settings, masks that follow, leads, filling.
#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "film/continuation.h"
#include "film/fades.h"
#include "film/fill.h"
#include "film/kept_colours.h"
#include "film/lead_maker.h"
#include "film/mask_follower.h"
#include "film/selection.h"
#include "film/settings.h"
#include "film/steady_painter.h"
#include "image/mask.h"
#include "motion/trust.h"
#include "motion/warp.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

ClipInfo clipOf(std::int64_t frames) {
  ClipInfo clip;
  clip.timeBase = {1, 24};
  for (std::int64_t i = 0; i < frames; ++i) clip.times.push_back(i);
  clip.seconds = static_cast<double>(frames) / 24;
  return clip;
}

std::vector<std::int64_t> chosen(const std::vector<std::pair<std::string, std::string>>& settings,
                                 std::int64_t frames = 96) {
  FilmSettings film;
  for (const auto& [name, value] : settings) setFilmSetting(film, name, value);
  return chosenFrames(clipOf(frames), film);
}

// A painting whose lights are orange and whose shadows are blue, its upper quarter not known.
TEST(Continuation, CarriesThePaintingsColoursIntoWhatIsNew) {
  const Image photo = sample(200, 120);
  Image truth(200, 120, 3);
  for (std::size_t i = 0; i < photo.area(); ++i) {
    const float light = (photo.pixels[i * 3] + photo.pixels[i * 3 + 1] + photo.pixels[i * 3 + 2]) / 3;
    truth.pixels[i * 3] = 0.2F + 0.7F * light;
    truth.pixels[i * 3 + 1] = 0.2F + 0.3F * light;
    truth.pixels[i * 3 + 2] = 0.6F - 0.4F * light;
  }
  Image known(200, 120, 1, 1.0F);
  Image painted = truth;
  for (int y = 0; y < 8; ++y) {
    for (int x = 0; x < 200; ++x) {
      known.at(x, y, 0) = 0;
      for (int c = 0; c < 3; ++c) painted.at(x, y, c) = 0;
    }
  }
  const Continued found = continued(photo, painted, known);
  double off = 0;
  for (int x = 0; x < 200; ++x) {
    for (int c = 0; c < 3; ++c)
      off = std::max(off, std::fabs(static_cast<double>(found.picture.at(x, 4, c) - truth.at(x, 4, c))));
    EXPECT_EQ(found.sure.at(x, 4, 0), 1.0F);
  }
  EXPECT_LT(off, 0.06);
}

TEST(Continuation, SaysWhereNothingKnownIsNear) {
  const Image photo = sample(200, 120);
  Image known(200, 120, 1);
  for (int y = 100; y < 120; ++y) {
    for (int x = 0; x < 200; ++x) known.at(x, y, 0) = 1;
  }
  const Continued found = continued(photo, photo, known);
  EXPECT_EQ(found.sure.at(100, 40, 0), 0.0F);
  EXPECT_EQ(found.sure.at(100, 110, 0), 1.0F);
  EXPECT_THROW(continued(photo, photo, Image(10, 10, 1)), Error);
}

TEST(ChosenFrames, ByNumberTimeStepAndCount) {
  EXPECT_EQ(chosen({}).size(), 96U);
  EXPECT_EQ(chosen({{"from", "10"}, {"to", "12"}}), (std::vector<std::int64_t>{10, 11, 12}));
  // A time is where showing stops: frame 24 is shown from the first second on.
  EXPECT_EQ(chosen({{"from", "0.5s"}, {"to", "1s"}}).front(), 12);
  EXPECT_EQ(chosen({{"from", "0.5s"}, {"to", "1s"}}).back(), 23);
  EXPECT_EQ(chosen({{"from", "0:02"}}).front(), 48);
  EXPECT_EQ(chosen({{"to", "00:00:01.5"}}).size(), 36U);
  EXPECT_EQ(chosen({{"every", "10"}, {"from", "5"}, {"frames", "3"}}),
            (std::vector<std::int64_t>{5, 15, 25}));
  EXPECT_EQ(chosen({{"to", "500"}}).size(), 96U);
}

TEST(ChosenFrames, SaysWhatCannotBe) {
  EXPECT_THROW(chosen({{"from", "96"}}), UsageError);
  EXPECT_THROW(chosen({{"from", "9s"}}), UsageError);
  EXPECT_THROW(chosen({{"from", "20"}, {"to", "10"}}), UsageError);
  for (const char* bad : {"abc", "-3", "1:2:3:4", "s", "1,5s", ""})
    EXPECT_THROW(chosen({{"from", bad}}), UsageError) << bad;
}

TEST(FilmSettings, TextGoesThereAndBack) {
  FilmSettings film;
  for (const auto& [name, value] :
       std::vector<std::pair<std::string, std::string>>{{"from", "2.5s"},
                                                        {"to", "80"},
                                                        {"every", "2"},
                                                        {"gaps", "hold"},
                                                        {"frames", "8"},
                                                        {"steady", "75"},
                                                        {"frame-steps", "20"},
                                                        {"passes", "2"},
                                                        {"codec", "vp9"},
                                                        {"quality", "60"},
                                                        {"sound", "none"},
                                                        {"match", "tone,detail"},
                                                        {"method", "mean-std"},
                                                        {"amount", "tone=80,colour=20,detail=100"}}) {
    setFilmSetting(film, name, value);
    EXPECT_EQ(filmSettingText(film, name), value) << name;
  }
  EXPECT_EQ(filmSettingTable().size(), 14U);
  FilmSettings plain;
  for (const SettingInfo& info : filmSettingTable()) {
    FilmSettings copy;
    setFilmSetting(copy, info.name, filmSettingText(plain, info.name));
    EXPECT_EQ(filmSettingText(copy, info.name), filmSettingText(plain, info.name));
  }
  EXPECT_THROW(setFilmSetting(film, "every", "0"), UsageError);
  EXPECT_THROW(setFilmSetting(film, "passes", "3"), UsageError);
  EXPECT_THROW(setFilmSetting(film, "stedy", "3"), UsageError);
}

Image disc(int width, int height, double x, double y, double radius, double soft) {
  Image mask(width, height, 1);
  for (int v = 0; v < height; ++v) {
    for (int u = 0; u < width; ++u)
      mask.at(u, v, 0) =
          static_cast<float>(std::clamp(0.5 + (radius - std::hypot(u - x, v - y)) / (2 * soft), 0.0, 1.0));
  }
  return mask;
}

double meanDifference(const Image& a, const Image& b) {
  double sum = 0;
  for (std::size_t i = 0; i < a.pixels.size(); ++i)
    sum += static_cast<double>(std::fabs(a.pixels[i] - b.pixels[i]));
  return sum / static_cast<double>(a.pixels.size());
}

Motion uniform(int width, int height, float u, float v) {
  Motion motion{0, Flow(width, height), Image(width, height, 1, 1.0F), Image(width, height, 1, 1.0F)};
  std::fill(motion.back.u.begin(), motion.back.u.end(), u);
  std::fill(motion.back.v.begin(), motion.back.v.end(), v);
  return motion;
}

TEST(MaskFollower, CarriesAMaskManyFramesAndKeepsItsEdge) {
  for (const double soft : {0.8, 4.0}) {
    MaskFollower follower(Image(160, 80), disc(160, 80, 30, 40, 18, soft));
    // Sixty frames of 1.3 pixels to the right.
    for (int i = 0; i < 60; ++i) follower.follow(Image(160, 80), uniform(160, 80, -1.3F, 0));
    EXPECT_LT(meanDifference(follower.mask(), disc(160, 80, 108, 40, 18, soft)), soft < 1 ? 0.008 : 0.012)
        << soft;
    EXPECT_NEAR(follower.confidence(), 1, 1e-6);
  }
}

// A disc goes over textured ground; what it bares must not stay with it.
TEST(MaskFollower, LeavesNoTrailBehindAMover) {
  const Image ground = resample(sample(40, 24, 8), 200, 120);
  const auto frame = [&](int x) {
    Image out = ground;
    const Image shape = disc(200, 120, x, 60, 20, 0.5);
    for (std::size_t i = 0; i < out.area(); ++i) {
      const float s = shape.pixels[i];
      const float stripes = 0.06F * static_cast<float>((static_cast<int>(i) + 200 - x) / 3 % 2);
      out.pixels[i * 3] += s * (0.95F - stripes - out.pixels[i * 3]);
      out.pixels[i * 3 + 1] += s * (0.15F + stripes - out.pixels[i * 3 + 1]);
      out.pixels[i * 3 + 2] += s * (0.1F - out.pixels[i * 3 + 2]);
    }
    return out;
  };
  MaskFollower follower(frame(40), disc(200, 120, 40, 60, 20, 0.5));
  GreyFrame before = greyOf(frame(40));
  for (int x = 44; x <= 160; x += 4) {
    const Image now = frame(x);
    const GreyFrame grey = greyOf(now);
    follower.follow(now, motionBetween(grey, before, 0));
    before = grey;
  }
  const Image truth = disc(200, 120, 160, 60, 20, 0.5);
  double both = 0;
  double either = 0;
  for (std::size_t i = 0; i < truth.pixels.size(); ++i) {
    both += static_cast<double>(std::min(truth.pixels[i], follower.mask().pixels[i]));
    either += static_cast<double>(std::max(truth.pixels[i], follower.mask().pixels[i]));
  }
  EXPECT_GT(both / either, 0.85);
}

TEST(MaskFollower, LosesConfidenceWhereMotionCannotBeTrusted) {
  MaskFollower follower(Image(100, 80), disc(100, 80, 40, 40, 18, 1));
  Motion motion = uniform(100, 80, -1, 0);
  std::fill(motion.seen.pixels.begin(), motion.seen.pixels.end(), 0.0F);
  std::fill(motion.trust.pixels.begin(), motion.trust.pixels.end(), 0.0F);
  for (int i = 0; i < 12; ++i) follower.follow(Image(100, 80), motion);
  EXPECT_LT(follower.confidence(), 0.75);
}

TEST(MaskFollower, TakesAMaskThatIsAllOneThing) {
  MaskFollower all(Image(40, 30), Image(40, 30, 1, 1.0F));
  all.follow(Image(40, 30), uniform(40, 30, 1, 0));
  EXPECT_EQ(all.mask().pixels, Image(40, 30, 1, 1.0F).pixels);
  MaskFollower none(Image(40, 30), Image(40, 30, 1, 0.0F));
  none.follow(Image(40, 30), uniform(40, 30, 1, 0));
  EXPECT_EQ(none.mask().pixels, Image(40, 30, 1, 0.0F).pixels);
}

TEST(LeadMaker, LooksFurtherBackWhereTheLatestFrameKnowsNothing) {
  // A dark square stood before the ground in one frame only.
  const Image ground = resample(sample(30, 24, 4), 120, 96);
  Image hidden = ground;
  for (int y = 20; y < 70; ++y) {
    for (int x = 30; x < 80; ++x) {
      for (int c = 0; c < 3; ++c) hidden.at(x, y, c) = 0.05F + 0.1F * static_cast<float>((x / 5 + y / 7) % 2);
    }
  }
  LeadMaker maker;
  maker.beginShot();
  for (std::int64_t place = 0; place < 6; ++place) maker.add(place, greyOf(place == 5 ? hidden : ground));
  const auto painted = [&](std::int64_t place) { return Image(120, 96, 3, place == 5 ? 0.2F : 0.8F); };
  const GreyFrame now = greyOf(ground);
  const Lead lead = maker.lead(now, ground, maker.toLatest(now), painted);
  // What was hidden takes its painting from before.
  EXPECT_NEAR(lead.picture.at(55, 45, 0), 0.8, 0.1);
  EXPECT_GT(lead.known.at(55, 45, 0), 0.5F);
  EXPECT_NEAR(lead.picture.at(110, 90, 0), 0.2, 0.05);
}

TEST(LeadMaker, RipenessGrowsFrameByFrameWhereItIsNew) {
  Lead lead{Image(4, 4), Image(4, 4, 1, 1.0F), Image(4, 4, 1, 0.0F)};
  lead.strength.at(1, 1, 0) = 0.9F;
  const Image out = withRipeness(Image(4, 4), &lead);
  EXPECT_LT(out.at(0, 0, 3), 0.3F);
  EXPECT_GT(out.at(0, 0, 3), 0.0F);
  EXPECT_EQ(out.at(1, 1, 3), 1.0F);
  EXPECT_EQ(withRipeness(Image(4, 4), nullptr).at(0, 0, 3), 1.0F);
}

TEST(LeadMaker, SaysWhatIsFresh) {
  // The camera moves by a tenth of the picture: a tenth comes into view.
  const Image scene = resample(sample(60, 40, 4), 240, 160);
  LeadMaker maker;
  maker.beginShot();
  maker.add(0, greyOf(crop(scene, 10, 20, 160, 120)));
  const GreyFrame now = greyOf(crop(scene, 26, 20, 160, 120));
  const auto painted = [&](std::int64_t) { return withRipeness(Image(160, 120, 3, 0.5F), nullptr); };
  const Lead lead = maker.lead(now, Image(160, 120), maker.toLatest(now), painted);
  EXPECT_EQ(lead.fresh.at(155, 60, 0), 1.0F);
  EXPECT_LT(lead.fresh.at(60, 60, 0), 0.05F);
  EXPECT_NEAR(coverage(lead.fresh), 0.1, 0.04);
}

// A frame that was painted darker than its lead, with strokes of its own.
struct Darkened {
  Lead lead{sample(160, 120, 3), Image(160, 120, 1, 1.0F), Image(160, 120, 1, 1.0F)};
  PaintedFrame painted;
  Image drawing{160, 120, 3, 0.5F};

  Darkened() {
    lead.settled = lead.strength;
    painted.picture = lead.picture;
    for (int y = 0; y < 120; ++y) {
      for (int x = 0; x < 160; ++x) {
        for (int c = 0; c < 3; ++c) painted.picture.at(x, y, c) += (x + y) % 2 == 0 ? -0.02F : -0.08F;
      }
    }
    painted.canvas = mirrorPad(painted.picture, 16, 12, 16, 12);
  }

  double mean(const Image& image, int left) const {
    double sum = 0;
    for (int y = 30; y < 90; ++y) {
      for (int x = left; x < left + 40; ++x) sum += static_cast<double>(image.at(x, y, 1));
    }
    return sum / (60 * 40);
  }
};

TEST(KeptColours, CoarseColoursStayAndStrokesAreFree) {
  const Darkened d;
  const PaintedFrame kept = withKeptColours(d.painted, d.lead, d.drawing, d.drawing, 1);
  EXPECT_NEAR(d.mean(kept.picture, 60), d.mean(d.lead.picture, 60), 0.004);
  const float stroke = d.painted.picture.at(80, 60, 1) - d.painted.picture.at(81, 60, 1);
  EXPECT_NEAR(kept.picture.at(80, 60, 1) - kept.picture.at(81, 60, 1), stroke, 0.003);
  const PaintedFrame half = withKeptColours(d.painted, d.lead, d.drawing, d.drawing, 0.5);
  EXPECT_NEAR(d.mean(half.picture, 60), (d.mean(kept.picture, 60) + d.mean(d.painted.picture, 60)) / 2, 1e-4);
  // The margin goes along.
  EXPECT_NEAR(kept.canvas.at(8, 70, 1) - d.painted.canvas.at(8, 70, 1),
              kept.picture.at(0, 58, 1) - d.painted.picture.at(0, 58, 1), 1e-5);
}

TEST(KeptColours, WhatIsNewIsFreeAndItsNeighbourStays) {
  Darkened d;
  for (int y = 0; y < 120; ++y) {
    for (int x = 0; x < 80; ++x) d.lead.settled.at(x, y, 0) = 0;
  }
  const PaintedFrame kept = withKeptColours(d.painted, d.lead, d.drawing, d.drawing, 1);
  EXPECT_EQ(d.mean(kept.picture, 20), d.mean(d.painted.picture, 20));
  EXPECT_NEAR(d.mean(kept.picture, 100), d.mean(d.lead.picture, 100), 0.005);
  d.lead.settled = {};
  EXPECT_EQ(withKeptColours(d.painted, d.lead, d.drawing, d.drawing, 1).picture.pixels,
            d.painted.picture.pixels);
}

TEST(KeptColours, FollowTheLightOfTheClip) {
  const Darkened d;
  const PaintedFrame kept = withKeptColours(d.painted, d.lead, d.drawing, Image(160, 120, 3, 0.4F), 1);
  EXPECT_NEAR(d.mean(kept.picture, 60), d.mean(d.lead.picture, 60) + 0.1, 0.006);
}

TEST(CarriedCanvas, TheMarginMovesWithThePicture) {
  const Image canvas = resample(sample(30, 24, 4), 120, 96);
  Flow still(88, 64);
  EXPECT_EQ(carriedCanvas(canvas, still).pixels, canvas.pixels);
  Flow left(88, 64);
  std::fill(left.u.begin(), left.u.end(), 6.0F);
  const Image moved = carriedCanvas(canvas, left);
  EXPECT_EQ(moved.at(4, 50, 1), canvas.at(10, 50, 1));
  // From beyond the canvas comes nothing: the picture's edge is mirrored.
  EXPECT_EQ(moved.at(118, 50, 1), moved.at(2 * 104 - 1 - 118, 50, 1));
}

TEST(CrossFaded, GoesFromOneLeadToTheOther) {
  const Lead a{Image(2, 2, 3, 0.2F), Image(2, 2, 1, 1.0F), Image(2, 2, 1, 1.0F)};
  const Lead b{Image(2, 2, 3, 0.8F), Image(2, 2, 1, 1.0F), Image(2, 2, 1, 1.0F)};
  EXPECT_NEAR(crossFaded(a, b, 0).picture.at(0, 0, 0), 0.2, 1e-6);
  EXPECT_NEAR(crossFaded(a, b, 0.5).picture.at(0, 0, 0), 0.5, 1e-6);
  EXPECT_NEAR(crossFaded(a, b, 1).picture.at(0, 0, 0), 0.8, 1e-6);
  Lead nothing = b;
  std::fill(nothing.known.pixels.begin(), nothing.known.pixels.end(), 0.0F);
  EXPECT_NEAR(crossFaded(a, nothing, 0.5).picture.at(0, 0, 0), 0.2, 1e-6);
}

TEST(Between, AMovingThingIsFoundHalfWay) {
  const Image scene = resample(sample(40, 30, 3), 200, 150);
  const Image before = crop(scene, 20, 20, 120, 90);
  const Image after = crop(scene, 28, 20, 120, 90);
  const Image middle = between(before, after, flowBetween(greyOf(before), greyOf(after)), 0.5);
  const Image truth = crop(scene, 24, 20, 120, 90);
  EXPECT_LT(meanDifference(crop(middle, 15, 10, 90, 70), crop(truth, 15, 10, 90, 70)),
            0.3 * meanDifference(crop(before, 15, 10, 90, 70), crop(truth, 15, 10, 90, 70)));
}

TEST(Fades, AreFoundAtTheEndsOfShotsOnly) {
  std::vector<double> brightness;
  for (int i = 0; i <= 10; ++i) brightness.push_back(0.05 * i);  // in from black
  for (int i = 0; i < 20; ++i) brightness.push_back(0.5);
  brightness[18] = 0.45;                                        // a cloud
  for (int i = 9; i >= 0; --i) brightness.push_back(0.05 * i);  // out to it
  for (int i = 0; i < 10; ++i) brightness.push_back(0.1);       // a dark shot
  std::vector<bool> begins(brightness.size(), false);
  begins[41] = true;
  const std::vector<float> fades = fadesOf(brightness, begins);
  EXPECT_EQ(fades[0], 0);
  EXPECT_NEAR(fades[5], 0.5, 1e-6);
  EXPECT_EQ(fades[15], 1);
  EXPECT_EQ(fades[18], 1);
  EXPECT_NEAR(fades[36], 0.4, 1e-6);
  EXPECT_EQ(fades[40], 0);
  for (std::size_t i = 41; i < fades.size(); ++i) EXPECT_EQ(fades[i], 1) << i;
  // A walk into a shadow that stays is none.
  EXPECT_EQ(fadesOf({0.5, 0.5, 0.5, 0.5, 0.4, 0.3, 0.2, 0.2}, std::vector<bool>(8, false)),
            std::vector<float>(8, 1.0F));
}

TEST(Fades, AFrameIsBrightenedToBePaintedAndDarkenedAfter) {
  const Image frame = sample(8, 8);
  const Image dark = faded(frame, 0.5F);
  const Image back = unfaded(dark, 0.5F);
  for (std::size_t i = 0; i < frame.pixels.size(); ++i) EXPECT_NEAR(back.pixels[i], frame.pixels[i], 1e-6);
  EXPECT_EQ(faded(frame, 0).pixels, Image(8, 8).pixels);
  EXPECT_LT(unfaded(Image(8, 8, 3, 0.001F), 0.0F).at(0, 0, 0), 0.02F);
}

TEST(HeldWeight, GrowsWithSteadiness) {
  EXPECT_EQ(heldWeight(0), 0);
  EXPECT_LT(heldWeight(20), heldWeight(50));
  EXPECT_LT(heldWeight(50), heldWeight(100));
}

}  // namespace
}  // namespace jugendstil
