// SPDX-License-Identifier: Apache-2.0
#include "report/steadiness_chart.h"

#include <gtest/gtest.h>

#include <cmath>

namespace jugendstil {
namespace {

SteadinessChart chartOf(int frames) {
  SteadinessChart chart;
  chart.series.push_back({"result", {std::nan("")}});
  for (int i = 0; i < frames; ++i) chart.frames.push_back(7 + i);
  chart.series[0].errors.resize(chart.frames.size(), 1e-4);
  return chart;
}

// Upright lines of the grid, counted along a row of the plot that no curve crosses.
int linesIn(const Image& page) {
  int lines = 0;
  for (int x = 89; x < 1242; ++x) lines += std::fabs(page.at(x, 130, 0) - 0.83F) < 0.02F ? 1 : 0;
  return lines;
}

// Between two frames there is none to be named, and numbers are round: of 7 to 102 those are 20, 40 ... 100.
TEST(SteadinessChart, NamesRoundFramesAndNoneTwice) {
  EXPECT_EQ(linesIn(steadinessChart(chartOf(2))), 2);
  EXPECT_EQ(linesIn(steadinessChart(chartOf(5))), 5);
  EXPECT_EQ(linesIn(steadinessChart(chartOf(96))), 5);
}

}  // namespace
}  // namespace jugendstil
