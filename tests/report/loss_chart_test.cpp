// SPDX-License-Identifier: Apache-2.0
#include "report/loss_chart.h"

#include <gtest/gtest.h>

#include <cmath>

namespace jugendstil {
namespace {

int differing(const Image& a, const Image& b) {
  int count = 0;
  for (std::size_t i = 0; i < a.pixels.size(); i += 3) count += a.pixels[i] != b.pixels[i] ? 1 : 0;
  return count;
}

LossChart falling() {
  LossChart chart;
  chart.title = "pond.jpg after evening.jpg";
  chart.series = {{"all", {}}, {"style", {}}};
  for (int i = 0; i < 100; ++i) {
    chart.series[0].values.push_back(std::exp(-0.03 * i));
    chart.series[1].values.push_back(0.5 * std::exp(-0.03 * i));
  }
  return chart;
}

TEST(LossChart, DrawsEachTermAndTheLevels) {
  const Image page = lossChart(falling());
  EXPECT_EQ(page.width, 1280);
  LossChart changed = falling();
  for (double& v : changed.series[1].values) v *= 0.1;
  EXPECT_GT(differing(page, lossChart(changed)), 1000);
  changed = falling();
  changed.levels = {0, 50};
  EXPECT_NEAR(differing(page, lossChart(changed)), 1000, 100);
}

TEST(LossChart, NothingAndBadNumbersAreNoFailure) {
  EXPECT_EQ(lossChart({}).height, 720);
  LossChart chart = falling();
  chart.series[0].values[50] = std::nan("");
  chart.series[1].values[10] = 0;
  EXPECT_NO_THROW(lossChart(chart));
}

}  // namespace
}  // namespace jugendstil
