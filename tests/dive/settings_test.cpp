// SPDX-License-Identifier: Apache-2.0
#include "dive/settings.h"

#include <gtest/gtest.h>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::complaint;

TEST(DiveSettings, EachComesBackFromItsText) {
  const std::vector<std::pair<std::string, std::string>> texts{{"by", "paint"},
                                                               {"length", "2.5s"},
                                                               {"rate", "12.5"},
                                                               {"zoom", "1.01; 2s=2/s"},
                                                               {"turn", "-3/s; 48=0.5"},
                                                               {"shift", "2,-1.5; 1s=1%,0%/s"},
                                                               {"centre", "50%,40%"},
                                                               {"ease", "hold"},
                                                               {"strength", "20; 2s=80"},
                                                               {"source", "15"},
                                                               {"band", "fine; 5s=small,broad=2"},
                                                               {"pattern", "10%"},
                                                               {"channels", "woken=3"},
                                                               {"follow-sound", "zoom=bass,strength=treble"},
                                                               {"loop", "yes"},
                                                               {"frame-steps", "7"},
                                                               {"codec", "vp9"},
                                                               {"quality", "70"},
                                                               {"likeness", "30"},
                                                               {"palette", "photo"},
                                                               {"seed", "9"}};
  DiveSettings settings;
  for (const auto& [name, text] : texts) setDiveSetting(settings, name, text);
  for (const auto& [name, text] : texts) EXPECT_EQ(diveSettingText(settings, name), text) << name;
  EXPECT_EQ(settings.strength[1].value, 80);
  EXPECT_EQ(settings.bands[1].value.size(), 2U);
  EXPECT_TRUE(settings.zoom[1].value.aSecond);
}

TEST(DiveSettings, SayWhatIsWrong) {
  DiveSettings settings;
  const auto says = [&](const char* name, const char* text, const char* part) {
    const std::string what = complaint([&] { setDiveSetting(settings, name, text); });
    EXPECT_NE(what.find(part), std::string::npos) << what;
  };
  says("zoom", "0", "zoom is above 0 and at most 4 a frame");
  says("zoom", "-1", "zoom is above 0");
  says("zoom", "4.5", "at most 4 a frame");
  says("centre", "50%,120%", "lies outside the picture");
  says("shift", "80%,0", "leaves the picture");
  says("shift", "4", "shift is written X,Y");
  says("follow-sound", "strength", "SETTING=BAND");
  says("follow-sound", "strength=bas", "bass");
  says("follow-sound", "zoom=bass,zoom=all", "names zoom twice");
  says("stength", "3", "strength");
  says("start", "noise", "start");
}

TEST(DiveSettings, AllOfTheTableHaveAText) {
  const DiveSettings settings;
  for (const SettingInfo& info : diveSettingTable()) {
    DiveSettings again;
    setDiveSetting(again, info.name, diveSettingText(settings, info.name));
    EXPECT_EQ(diveSettingText(again, info.name), diveSettingText(settings, info.name)) << info.name;
  }
}

}  // namespace
}  // namespace jugendstil
