// SPDX-License-Identifier: Apache-2.0
// Every kind of clip on a disk that is full at every place of the file.
#include "support/full_disk.h"

#include <gtest/gtest.h>

#include "clip/clip_writer.h"
#include "support/clips.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::expectFullDiskIsTold;
using testing_support::sample;

class FullDiskClip : public testing::TestWithParam<const char*> {};

TEST_P(FullDiskClip, IsTold) {
  ClipFormat format;
  format.codec = codecForName(GetParam());
  format.quality = 100;
  format.width = 96;
  format.height = 64;
  std::vector<Image> frames;
  for (unsigned i = 0; i < 6; ++i) frames.push_back(sample(96, 64, i));
  expectFullDiskIsTold(GetParam(), [&](const auto& file) {
    const auto clip = createClip(file.string(), format, std::nullopt);
    for (std::size_t i = 0; i < frames.size(); ++i) clip->write(frames[i], static_cast<std::int64_t>(i));
    clip->finish();
  });
}

INSTANTIATE_TEST_SUITE_P(Names, FullDiskClip, testing::Values("a.mkv", "a.webm", "a.mp4", "a.mov", "a.y4m"));

}  // namespace
}  // namespace jugendstil
