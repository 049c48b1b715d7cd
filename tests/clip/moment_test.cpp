// SPDX-License-Identifier: Apache-2.0
#include "clip/moment.h"

#include <gtest/gtest.h>

#include "base/error.h"

namespace jugendstil {
namespace {

TEST(Moment, IsAFrameOrATime) {
  EXPECT_FALSE(momentOf("from", "48").isTime);
  EXPECT_EQ(momentOf("from", "48").frame, 48);
  for (const auto& [text, seconds] :
       {std::pair{"2s", 2.0}, {"2.5s", 2.5}, {"0:02.5", 2.5}, {"1:04", 64.0}, {"1:02:03", 3723.0}}) {
    EXPECT_TRUE(momentOf("from", text).isTime) << text;
    EXPECT_EQ(momentOf("from", text).seconds, seconds) << text;
  }
}

TEST(Moment, SaysWhatIsNone) {
  for (const char* bad : {"", "s", "-3", "2.5", "1,5s", "1:2:3:4", ":", "1:", "nans", "infs", "abc"}) {
    try {
      momentOf("from", bad);
      ADD_FAILURE() << bad;
    } catch (const UsageError& e) {
      EXPECT_EQ(
          std::string(e.what()),
          std::string("from is a frame number like 48, or a time like 2.5s or 1:04.2, not \"") + bad + "\"");
    }
  }
}

// Frames are shown from their time until the next one's, at whatever rate.
TEST(Moment, FallsOnFramesByTheirTimes) {
  ClipInfo clip;
  clip.timeBase = {1, 10};
  clip.times = {0, 1, 5, 6};  // seconds 0, 0.1, 0.5, 0.6
  EXPECT_EQ(firstFrameFrom(clip, momentOf("from", "0.1s")), 1);
  EXPECT_EQ(firstFrameFrom(clip, momentOf("from", "0.2s")), 2);
  EXPECT_EQ(firstFrameFrom(clip, momentOf("from", "0.61s")), 4);
  EXPECT_EQ(firstFrameFrom(clip, momentOf("from", "3")), 3);
  EXPECT_EQ(lastFrameTo(clip, momentOf("to", "0.5s")), 1);
  EXPECT_EQ(lastFrameTo(clip, momentOf("to", "0.55s")), 2);
  EXPECT_EQ(lastFrameTo(clip, momentOf("to", "0s")), -1);
  EXPECT_EQ(lastFrameTo(clip, momentOf("to", "9s")), 3);
}

}  // namespace
}  // namespace jugendstil
