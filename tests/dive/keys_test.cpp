// SPDX-License-Identifier: Apache-2.0
#include "dive/keys.h"

#include <gtest/gtest.h>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::complaint;

TEST(DiveKeys, AreReadWithTheirMoments) {
  const Keys<std::string> keys = keysIn("band", "small; 2s=small=1,broad=2; 96=fine");
  ASSERT_EQ(keys.size(), 3U);
  EXPECT_EQ(keys[0].at, "");
  EXPECT_EQ(keys[0].value, "small");
  EXPECT_EQ(keys[1].at, "2s");
  EXPECT_EQ(keys[1].value, "small=1,broad=2");
  EXPECT_EQ(keys[2].at, "96");
  EXPECT_EQ(keyIn("small=2,broad=1").value, "small=2,broad=1");
  EXPECT_NE(complaint([] { keysIn("zoom", "1.02;"); }).find("zoom is a value, or several"),
            std::string::npos);
}

TEST(DiveKeys, StandAtFramesThatRise) {
  EXPECT_EQ(framesOf("zoom", Keys<double>{{"", 1}, {"12", 2}, {"2s", 3}}, 24),
            (std::vector<double>{0, 12, 48}));
  EXPECT_NE(complaint([] {
              framesOf("zoom", Keys<double>{{"", 1}, {"1s", 2}, {"12", 3}}, 24);
            }).find("zoom: the key at 12 stands behind the one at 1s"),
            std::string::npos);
}

TEST(DiveKeys, GoFromOneToTheNext) {
  const std::vector<double> frames{0, 10, 20};
  const auto at = [&](double frame, Ease ease) { return placeAmong(frames, frame, ease); };
  EXPECT_EQ(at(5, Ease::linear).from, 0U);
  EXPECT_EQ(at(5, Ease::linear).to, 1U);
  EXPECT_DOUBLE_EQ(at(2.5, Ease::linear).part, 0.25);
  EXPECT_DOUBLE_EQ(at(5, Ease::smooth).part, 0.5);
  EXPECT_LT(at(2.5, Ease::smooth).part, 0.2);
  EXPECT_DOUBLE_EQ(at(19, Ease::hold).part, 0);
  EXPECT_EQ(at(10, Ease::smooth).from, 1U);
  EXPECT_EQ(at(25, Ease::linear).from, 2U);
  EXPECT_EQ(at(25, Ease::linear).to, 2U);
  EXPECT_EQ(placeAmong({5}, 0, Ease::linear).to, 0U);
}

}  // namespace
}  // namespace jugendstil
