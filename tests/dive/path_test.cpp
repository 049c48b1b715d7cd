// SPDX-License-Identifier: Apache-2.0
#include "dive/path.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::complaint;

std::string wrong(const std::string& text) {
  return complaint([&] {
    DiveSettings settings;
    takePath(settings, text, "ways.toml");
  });
}

TEST(DivePath, SaysOnlyWhatChanges) {
  DiveSettings settings;
  const auto taken = takePath(settings,
                              "ease = \"linear\"\n[[key]]\nat = 0\nzoom = 1.0\ncentre = \"60%,40%\"\n"
                              "[[key]]\nat = \"2s\"\nzoom = \"2/s\"\n[[key]]\nat = \"3s\"\nband = \"fine\"\n",
                              "ways.toml");
  EXPECT_EQ(diveSettingText(settings, "zoom"), "0=1; 2s=2/s");
  EXPECT_EQ(diveSettingText(settings, "centre"), "0=60%,40%");
  EXPECT_EQ(diveSettingText(settings, "band"), "3s=fine");
  EXPECT_EQ(settings.ease, Ease::linear);
  EXPECT_NE(std::find(taken.begin(), taken.end(), "zoom"), taken.end());
  EXPECT_EQ(std::find(taken.begin(), taken.end(), "turn"), taken.end());
}

TEST(DivePath, SaysWhereItIsWrong) {
  EXPECT_NE(wrong("[[key]]\nat = \"2s\"\nzoom = 1.0\n[[key]]\nat = \"1s\"\nzoom = 1.1\n")
                .find("ways.toml, line 5, column 6: the key at 1s stands behind a later one"),
            std::string::npos);
  EXPECT_NE(wrong("[[key]]\nat = 0\nzoom = 9\n").find("line 3, column 8: zoom is above 0"),
            std::string::npos);
  EXPECT_NE(wrong("[[key]]\nat = 0\nzom = 1\n").find("zoom"), std::string::npos);
  EXPECT_NE(wrong("[[key]]\nzoom = 1\n").find("a key needs at"), std::string::npos);
  EXPECT_NE(wrong("[[key]]\nat = \"soon\"\nzoom = 1\n").find("at is a frame number"), std::string::npos);
  EXPECT_NE(wrong("[[key]]\nat = 3\n").find("says what changes there"), std::string::npos);
  EXPECT_NE(wrong("ease = \"smooth\"\n").find("a path has keys"), std::string::npos);
}

}  // namespace
}  // namespace jugendstil
