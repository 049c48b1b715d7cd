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
int columnsIn(const Image& page) {
  int lines = 0;
  for (int x = 92; x < 1238; ++x) lines += page.at(x, 130, 0) < 0.9F ? 1 : 0;
  return lines + 1;
}

// Between two frames there is none to be named: five frames have four columns, or one number stands twice.
TEST(SteadinessChart, HasNoMoreColumnsThanFramesToName) {
  EXPECT_EQ(columnsIn(steadinessChart(chartOf(2))), 1);
  EXPECT_EQ(columnsIn(steadinessChart(chartOf(5))), 4);
  EXPECT_EQ(columnsIn(steadinessChart(chartOf(96))), 5);
}

}  // namespace
}  // namespace jugendstil
