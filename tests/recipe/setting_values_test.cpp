// SPDX-License-Identifier: Apache-2.0
#include "recipe/setting_values.h"

#include <gtest/gtest.h>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::complaint;

struct Pot {
  double height = 1;
  int lids = 0;
};

const std::vector<SettingEntry<Pot>>& pots() {
  static const std::vector<SettingEntry<Pot>> table{
      {{"height", "CM", "how high", true},
       [](Pot& p, std::string_view text) { p.height = numberSetting("height", text, 0, 50); },
       [](const Pot& p) { return std::to_string(p.height); }},
      {{"lids", "N", "how many"},
       [](Pot& p, std::string_view text) { p.lids = wholeOrAutoSetting("lids", text, 1, 9); },
       [](const Pot& p) { return autoOr(p.lids); }},
  };
  return table;
}

TEST(SettingValues, ATableReadsAndWritesByName) {
  Pot pot;
  settingNamed(pots(), "height").set(pot, "12.5");
  settingNamed(pots(), "lids").set(pot, "3");
  EXPECT_EQ(pot.height, 12.5);
  EXPECT_EQ(settingNamed(pots(), "lids").text(pot), "3");
  settingNamed(pots(), "lids").set(pot, "auto");
  EXPECT_EQ(settingNamed(pots(), "lids").text(pot), "auto");
  ASSERT_EQ(settingInfos(pots()).size(), 2U);
  EXPECT_EQ(settingInfos(pots())[1].help, "how many");
  EXPECT_EQ(complaint([] { settingNamed(pots(), "hight"); }),
            "there is no setting \"hight\"; did you mean \"height\"?");
  EXPECT_EQ(complaint([] { settingNamed(pots(), "colour"); }), "there is no setting \"colour\"");
}

TEST(SettingValues, NumbersAreReadWhole) {
  EXPECT_EQ(numberSetting("x", "1e1", 0, 10), 10);
  for (const char* bad : {"", "ten", "11", "-1", "nan", "inf", "1,5", "1 ", "0x1"}) {
    EXPECT_EQ(complaint([&] { numberSetting("x", bad, 0, 10); }),
              std::string("x is a number from 0 to 10, not \"") + bad + "\"");
  }
  EXPECT_EQ(largeSetting("n", "18446744073709551615", ~0ULL), ~0ULL);
  for (const char* bad : {"", "1.0", "-1", "+1", "18446744073709551616"})
    EXPECT_NE(complaint([&] { largeSetting("n", bad, ~0ULL); }), "accepted") << bad;
  EXPECT_EQ(complaint([] { wholeOrAutoSetting("n", "0", 1, 9); }),
            "n is \"auto\" or a whole number from 1 to 9, not \"0\"");
}

TEST(SettingValues, WordsAreThoseOfTheirList) {
  const Choices<int> words{{"photo", 1}, {"reference", 2}, {"both", 3}};
  EXPECT_EQ(choiceSetting("palette", "reference", words), 2);
  EXPECT_EQ(wordOf(3, words), "both");
  EXPECT_EQ(complaint([&] { choiceSetting("palette", "Photo", words); }),
            "palette is photo, reference or both, not \"Photo\"");
}

TEST(SettingValues, YesAndNoHaveThreeSpellings) {
  for (const char* yes : {"yes", "on", "true"}) EXPECT_TRUE(yesNoSetting("proof", yes)) << yes;
  for (const char* no : {"no", "off", "false"}) EXPECT_FALSE(yesNoSetting("proof", no)) << no;
  EXPECT_EQ(complaint([] { yesNoSetting("proof", "1"); }), "proof is yes or no, not \"1\"");
  EXPECT_TRUE(yesNoSetting("proof", yesNo(true)));
  EXPECT_FALSE(yesNoSetting("proof", yesNo(false)));
}

}  // namespace
}  // namespace jugendstil
