// SPDX-License-Identifier: Apache-2.0
#include "report/lettering.h"

#include <gtest/gtest.h>

namespace jugendstil {
namespace {

TEST(Lettering, LinesHoldAllWordsInOrderAndFit) {
  const std::string words = "palm house after the evening, measure neighbours";
  const auto lines = brokenText(words, 17, 160);
  EXPECT_GT(lines.size(), 1U);
  std::string again;
  for (const std::string& line : lines) {
    EXPECT_LE(textWidth(line, 17), 160) << line;
    again += (again.empty() ? "" : " ") + line;
  }
  EXPECT_EQ(again, words);
  EXPECT_EQ(brokenText(words, 17, 4000).size(), 1U);
  EXPECT_TRUE(brokenText("", 17, 100).empty());
  EXPECT_EQ(brokenText("unbreakable", 17, 10), std::vector<std::string>{"unbreakable"});
}

TEST(Lettering, WhatIsTooLongKeepsItsEnd) {
  const std::string name = "potting_bench-after-sun_lily_mosaic-measure-critic.recipe.toml";
  const std::string shown = fittedText(name, 14, 200);
  EXPECT_LE(textWidth(shown, 14), 200);
  EXPECT_GT(textWidth(shown, 14), 170);
  EXPECT_EQ(shown.substr(0, 3), "...");
  EXPECT_TRUE(name.ends_with(shown.substr(3)));
  EXPECT_EQ(fittedText("a.png", 14, 200), "a.png");
}

}  // namespace
}  // namespace jugendstil
