// SPDX-License-Identifier: Apache-2.0
#include "amplify/amplify.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "amplify/ascent.h"
#include "base/error.h"
#include "base/parallel.h"
#include "base/stop.h"
#include "image/mask.h"
#include "image/resample.h"
#include "paint/canvas.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::filigree;
using testing_support::sample;

AmplifySettings settingsOf(const std::vector<std::pair<std::string, std::string>>& given) {
  AmplifySettings settings;
  setAmplifySetting(settings, "precision", "full");
  for (const auto& [name, value] : given) setAmplifySetting(settings, name, value);
  return settings;
}

Image amplifiedBy(const Image& photo, const AmplifySettings& settings) {
  return amplified(filigree(), {photo, {}, {}}, settings, {[](double) {}});
}

// Mean log energy of a band.
double energyOf(const Image& picture, const std::string& band) {
  const Chain chain = filigree();
  const std::size_t b = chain.bandIndex(band);
  Evaluator evaluator(chain, picture.width, picture.height, Precision::full, {b});
  const Planes shown = forwardPicture(evaluator, picture);
  const std::vector<float>& gram = evaluator.gram(b);
  const auto side = static_cast<std::size_t>(chain.bands[b].channels);
  double sum = 0;
  for (std::size_t i = 0; i < side; ++i) sum += std::log(gram[i * (side + 1)] + 1e-3);
  return sum / static_cast<double>(side);
}

double chromaMovedBy(const Image& a, const Image& b) {
  const Planes p = opponentOf(a);
  const Planes q = opponentOf(b);
  double sum = 0;
  for (std::size_t c = 1; c < 3; ++c) {
    for (std::size_t i = 0; i < p.area(); ++i) sum += std::abs(p.plane[c][i] - q.plane[c][i]);
  }
  return sum / static_cast<double>(p.area());
}

TEST(Amplify, WakesItsBandAndIsTheSameAgain) {
  setThreads(2);
  const Image photo = sample(96, 72);
  for (const char* band : {"small", "medium"}) {
    const AmplifySettings settings = settingsOf({{"band", band}, {"likeness", "0"}, {"pattern", "20"}});
    const Image out = amplifiedBy(photo, settings);
    EXPECT_GT(energyOf(out, band), energyOf(photo, band) + 0.2) << band;
    EXPECT_EQ(amplifiedBy(photo, settings).pixels, out.pixels);
  }
}

TEST(Amplify, GoesAsFarAsItsStrengthInEveryBand) {
  const Image photo = sample(96, 72);
  const struct {
    const char* band;
    const char* pattern;
    double strength;
  } all[] = {{"fine", "6", 20}, {"small", "14", 60}, {"medium", "24", 40}};
  for (const auto& one : all) {
    const Image out = amplifiedBy(photo, settingsOf({{"band", one.band},
                                                     {"strength", fmt::format("{}", one.strength)},
                                                     {"pattern", one.pattern}}));
    // What would leave the range of colours comes near its end.
    const double reach = 0.24 * one.strength / 100;
    EXPECT_NEAR(distanceOf(out, photo) / reach, 0.93, 0.13) << one.band << " at " << one.strength;
  }
  EXPECT_EQ(amplifiedBy(photo, settingsOf({{"strength", "0"}, {"band", "small"}})).pixels, photo.pixels);
}

TEST(Amplify, CutsNothingOff) {
  Image photo = sample(96, 72);
  for (float& v : photo.pixels) v = 0.02F + 0.96F * v;
  const Image out =
      amplifiedBy(photo, settingsOf({{"band", "small"}, {"strength", "80"}, {"pattern", "14"}}));
  for (std::size_t i = 0; i < out.pixels.size(); ++i) {
    ASSERT_GT(out.pixels[i], 0);
    ASSERT_LT(out.pixels[i], 1);
  }
}

TEST(Amplify, LikenessHoldsTheDrawing) {
  const Image photo = sample(96, 72);
  const Chain chain = filigree();
  const std::size_t subject = chain.bandIndex("subject");
  Evaluator evaluator(chain, 96, 72, Precision::full, {subject});
  const auto distance = [&](const char* likeness) {
    const Image out =
        amplifiedBy(photo, settingsOf({{"band", "medium"}, {"pattern", "24"}, {"likeness", likeness}}));
    const Planes first = forwardPicture(evaluator, photo);
    const KeptActivation kept = evaluator.keep(subject);
    const Planes second = forwardPicture(evaluator, out);
    return evaluator.squaredDistance(subject, kept);
  };
  EXPECT_LT(distance("100"), 0.7 * distance("0"));
}

TEST(Amplify, ThePhotosPaletteLeavesColoursAlone) {
  const Image photo = sample(96, 72);
  const Image freely = amplifiedBy(photo, settingsOf({{"band", "medium"}, {"pattern", "24"}}));
  const Image held =
      amplifiedBy(photo, settingsOf({{"band", "medium"}, {"pattern", "24"}, {"palette", "photo"}}));
  EXPECT_LT(chromaMovedBy(held, photo), 0.4 * chromaMovedBy(freely, photo));
}

TEST(Amplify, OnlyWhereItIsShown) {
  const Image photo = sample(96, 72);
  Image left(96, 72, 1);
  for (int y = 0; y < 72; ++y) {
    for (int x = 0; x < 40; ++x) left.at(x, y, 0) = 1;
  }
  const Image out = amplified(filigree(), {photo, {}, left},
                              settingsOf({{"band", "small"}, {"strength", "80"}}), {[](double) {}});
  double inside = 0;
  for (int y = 0; y < 72; ++y) {
    for (int c = 0; c < 3; ++c) {
      EXPECT_NEAR(out.at(80, y, c), photo.at(80, y, c), 1e-5);
      inside += std::abs(out.at(20, y, c) - photo.at(20, y, c));
    }
  }
  EXPECT_GT(inside / (72 * 3), 0.03);
}

TEST(Amplify, AReferenceGuidesIt) {
  Image photo = sample(96, 72);
  for (float& v : photo.pixels) v = 0.4F + 0.2F * v;
  // Stripes across, or down.
  const auto stripes = [](bool across) {
    Image out(96, 96, 3);
    for (int y = 0; y < 96; ++y) {
      for (int x = 0; x < 96; ++x) {
        for (int c = 0; c < 3; ++c) out.at(x, y, c) = ((across ? y : x) / 4) % 2 == 0 ? 0.25F : 0.75F;
      }
    }
    return out;
  };
  const auto slopes = [&](bool across) {
    const Image out = amplified(filigree(), {photo, {{stripes(across), 1}}, {}},
                                settingsOf({{"band", "small"}, {"likeness", "0"}}), {[](double) {}});
    double along = 0;
    double down = 0;
    for (int y = 1; y < 72; ++y) {
      for (int x = 1; x < 96; ++x) {
        along += std::abs(out.at(x, y, 1) - out.at(x - 1, y, 1));
        down += std::abs(out.at(x, y, 1) - out.at(x, y - 1, 1));
      }
    }
    return down / along;
  };
  EXPECT_GT(slopes(true), 1.5 * slopes(false));
}

TEST(Amplify, TilesGiveTheSamePicture) {
  const Image photo = sample(160, 96);
  const Chain chain = filigree();
  const LevelPlan whole = [] {
    LevelPlan level = canvasFor({160, 96});
    level.steps = 2;
    return level;
  }();
  LevelPlan tiled = whole;
  tiled.budget = Evaluator::memoryFor(chain, 160, 96, Precision::full);
  BandDrive drive{chain.bandIndex("small"), 1, {}, {}};
  drive.kept = keptChannels({}, "small", std::vector<float>(64));
  const auto made = [&](const LevelPlan& level) {
    return strengthened(chain, {drive}, level, photo, photo, {0.1, 7, 50, true, Precision::full},
                        [](int, const std::function<Image()>&) {});
  };
  EXPECT_LT(distanceOf(made(whole), made(tiled)), 2e-3);
}

TEST(Amplify, StopsWhereItIsToldTo) {
  int told = 0;
  EXPECT_THROW(
      amplified(filigree(), {sample(96, 72), {}, {}}, settingsOf({{"band", "small"}}), {[&](double done) {
                  EXPECT_GE(done, 0);
                  EXPECT_LT(done, 1);
                  if (++told == 3) throw Stopped();
                }}),
      Stopped);
  EXPECT_EQ(told, 3);
}

TEST(Amplify, ShowsItselfOnTheWay) {
  const Image photo = sample(96, 72);
  const AmplifySettings settings = settingsOf({{"band", "small"}, {"pattern", "14"}, {"snapshots", "10"}});
  std::vector<int> steps;
  std::vector<double> away;
  AmplifyCallbacks callbacks{
      [](double) {},
      [&](const Image& picture, int step) {
        steps.push_back(step);
        away.push_back(distanceOf(picture, resizePhoto(photo, picture.width, picture.height)));
      }};
  amplified(filigree(), {photo, {}, {}}, settings, callbacks);
  EXPECT_EQ(steps, (std::vector<int>{10, 20}));
  EXPECT_GT(away[0], 0.02);
  EXPECT_GT(away[1], away[0]);
}

TEST(AmplifyPlan, SizesFollowFromThePattern) {
  const Chain chain = filigree();
  const auto plan = [&](const std::vector<std::pair<std::string, std::string>>& given) {
    return planAmplifying({1280, 853}, settingsOf(given), chain);
  };
  // The band's own smallest patterns take one size, larger ones an octave each.
  EXPECT_EQ(plan({{"band", "broad"}, {"pattern", "46"}}).sizes.size(), 1U);
  EXPECT_EQ(plan({{"band", "broad"}, {"pattern", "92"}}).sizes.size(), 2U);
  const AmplifyPlan large = plan({{"band", "broad"}, {"pattern", "25%"}});
  EXPECT_NEAR(large.pattern, 256, 1);
  EXPECT_EQ(large.size().width, 1024);
  EXPECT_NEAR(large.sizes.front().picture.width, 1024 * 46.0 / 256, 1);
  // A draft has the same ones beside its size, down to the smallest there are.
  const double whole = plan({{"long-edge", "1024"}}).pattern;
  EXPECT_NEAR(plan({{"long-edge", "512"}}).pattern, whole / 2, 0.5);
  const AmplifyPlan proof = plan({{"long-edge", "1024"}, {"proof", "yes"}});
  EXPECT_EQ(proof.sizes.size() + 1, plan({{"long-edge", "1024"}}).sizes.size());
  EXPECT_NEAR(proof.pattern / proof.size().width, whole / 1024, 1e-3);
  EXPECT_LT(proof.work(), 0.55 * plan({{"long-edge", "1024"}}).work());
  EXPECT_TRUE(plan({{"long-edge", "1280"}, {"memory", "800M"}}).tiled);
}

TEST(AmplifyPlan, RefusesWhatCannotBe) {
  const Chain chain = filigree();
  const auto expect = [&](Size photo, const std::vector<std::pair<std::string, std::string>>& given,
                          const std::string& part) {
    try {
      planAmplifying(photo, settingsOf(given), chain);
      ADD_FAILURE() << part;
    } catch (const Error& e) {
      EXPECT_NE(std::string(e.what()).find(part), std::string::npos) << e.what();
    }
  };
  expect({640, 480}, {{"band", "brod"}}, "did you mean \"broad\"?");
  expect({640, 480}, {{"band", "broad"}, {"pattern", "10"}}, "band broad has none below 46");
  expect({640, 480}, {{"band", "broad"}, {"pattern", "90%"}}, "larger than the picture of 640x480");
  expect({640, 20}, {}, "too small to amplify");
  expect({4096, 4096}, {{"long-edge", "4096"}, {"memory", "500M"}}, "too little");
}

}  // namespace
}  // namespace jugendstil
