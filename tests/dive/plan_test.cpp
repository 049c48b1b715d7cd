// SPDX-License-Identifier: Apache-2.0
#include "dive/plan.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::complaint;
using testing_support::sample;
using testing_support::smallChain;

class DivePlans : public testing::Test {
 protected:
  DivePlans() {
    inputs.chain = &chain;
    inputs.start = sample(120, 80);
    inputs.output = "out.mkv";
    inputs.settings.bands = {{"", {{"two", 1}}}};
    set("length", "48");
    set("precision", "full");
  }
  void set(const char* name, const char* text) { setDiveSetting(inputs.settings, name, text); }
  DivePlan plan() const { return planDive(inputs); }

  Chain chain = smallChain();
  DiveInputs inputs;
};

TEST_F(DivePlans, ZoomAndTurnASecondAddUpToIt) {
  set("zoom", "3/s");
  set("turn", "90/s");
  const DivePlan p = plan();
  double zoom = 1;
  double turn = 0;
  for (int f = 0; f < 24; ++f) {
    zoom *= p.frames[f].move.zoom;
    turn += p.frames[f].move.turn;
  }
  EXPECT_NEAR(zoom, 3, 1e-9);
  EXPECT_NEAR(turn, 90, 1e-9);
}

TEST_F(DivePlans, ValuesGoFromKeyToKey) {
  set("strength", "0; 1s=80");
  set("centre", "0,0; 1s=120,80");
  set("ease", "linear");
  const DivePlan p = plan();
  EXPECT_EQ(p.frames[0].strength, 0);
  EXPECT_NEAR(p.frames[12].strength, 40, 1e-9);
  EXPECT_EQ(p.frames[40].strength, 80);
  EXPECT_NEAR(p.frames[12].move.centreX, 0.5, 1e-9);
  EXPECT_EQ(p.strongest, 80);
}

TEST_F(DivePlans, BandsAreKeysOfWhatIsMade) {
  set("band", "one; 1s=two; 2s=three");
  const DivePlan p = plan();
  EXPECT_EQ(p.keys, 3U);
  EXPECT_EQ(p.frames[30].made.from, 1U);
  EXPECT_EQ(p.frames[30].made.to, 2U);
}

TEST_F(DivePlans, ALoopHasMoreFramesThatMoveAsItsFirst) {
  set("zoom", "1.01; 1s=1.05");
  set("loop", "yes");
  const DivePlan p = plan();
  EXPECT_EQ(p.film, 48);
  EXPECT_EQ(p.overlap(), 12);
  EXPECT_EQ(p.frames[48].move.zoom, p.frames[0].move.zoom);
}

TEST_F(DivePlans, FollowTheSound) {
  // A tone of 100 Hz in the second second.
  Sound sound{22050, std::vector<float>(44100)};
  for (int i = 22050; i < 44100; ++i)
    sound.samples[i] = static_cast<float>(0.5 * std::sin(2 * std::numbers::pi * 100 * i / 22050));
  inputs.sound = sound;
  set("follow-sound", "strength=bass,zoom=treble");
  set("zoom", "1.1");
  const DivePlan p = plan();
  EXPECT_LT(p.frames[12].strength, 1);
  EXPECT_NEAR(p.frames[36].strength, 50, 5);
  EXPECT_NEAR(p.frames[36].move.zoom, 1, 0.1);
  EXPECT_EQ(p.frames[12].move.zoom, 1);
  set("length", "auto");
  EXPECT_EQ(plan().film, 48);
}

TEST_F(DivePlans, SayWhatCannotBe) {
  const auto says = [&](const char* part) {
    const std::string what = complaint([&] { plan(); });
    EXPECT_NE(what.find(part), std::string::npos) << what;
  };
  set("centre", "10,10; 1s=200,10");
  says("the centre leaves the picture at frame");
  set("centre", "50%,50%");
  set("shift", "70,0");
  says("the shift leaves the picture at frame 0");
  set("shift", "0,0");
  set("rate", "1");
  set("zoom", "8/s");
  says("zoom is 8 at frame 0");
  set("rate", "auto");
  set("zoom", "1");
  set("band", "twoo");
  says("did you mean \"two\"");
  set("band", "two");
  set("length", "0");
  says("a dive has 1 to");
  set("length", "24");
  set("by", "paint");
  says("needs a reference");
}

TEST_F(DivePlans, SizesAreEvenWhereTheCodecWantsThem) {
  set("long-edge", "99");
  EXPECT_EQ(plan().size.width, 99);
  inputs.output = "out.mp4";
  EXPECT_EQ(plan().size.width, 98);
  inputs.start = {};
  set("long-edge", "auto");
  EXPECT_EQ(plan().size.width, 640);
  EXPECT_EQ(plan().size.height, 360);
}

}  // namespace
}  // namespace jugendstil
