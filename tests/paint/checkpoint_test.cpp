// SPDX-License-Identifier: Apache-2.0
#include "paint/checkpoint.h"

#include <gtest/gtest.h>

namespace jugendstil {
namespace {

TEST(Checkpoint, GivesBackWhatWasKept) {
  std::vector<float> state(70000);
  for (std::size_t i = 0; i < state.size(); ++i) state[i] = static_cast<float>(i % 3001) / 1000 - 1.5F;
  Checkpoint checkpoint;
  checkpoint.keep(state);
  std::vector<float> back(state.size(), 9.0F);
  checkpoint.restore(back);
  for (std::size_t i = 0; i < state.size(); ++i) ASSERT_NEAR(back[i], state[i], 1.0F / 8192) << i;
}

TEST(Checkpoint, WhatLeavesItsRangeStaysAtTheEnd) {
  Checkpoint checkpoint;
  checkpoint.keep(std::vector<float>{100.0F, -100.0F});
  std::vector<float> back(2);
  checkpoint.restore(back);
  EXPECT_NEAR(back[0], 4, 0.01);
  EXPECT_NEAR(back[1], -4, 0.01);
}

}  // namespace
}  // namespace jugendstil
