// SPDX-License-Identifier: Apache-2.0
#include "learn/clip_lessons.h"

#include <gtest/gtest.h>

#include "support/clips.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::ClipRecipe;
using testing_support::gliding;
using testing_support::refusal;
using testing_support::smallChain;
using testing_support::TemporaryFolder;
using testing_support::writeClip;

std::unique_ptr<FrameSource> clipIn(const TemporaryFolder& folder, int frames, int width = 96,
                                    int height = 80) {
  ClipRecipe recipe;
  recipe.frames = frames;
  recipe.width = width;
  recipe.height = height;
  writeClip(folder / "clip.mkv", recipe, gliding(width, height, 2, 0));
  return openClip((folder / "clip.mkv").string());
}

TEST(ClipLessons, PairsFollowEachOtherAllOverTheClip) {
  const TemporaryFolder folder;
  const auto clip = clipIn(folder, 9);
  const auto pairs = framePairs(*clip, 3, 96);
  ASSERT_EQ(pairs.size(), 3U);
  for (std::size_t i = 0; i < 3; ++i) {
    const auto at = std::int64_t{7} * static_cast<std::int64_t>(i) / 2;
    EXPECT_EQ(pairs[i].before.pixels, frameOf(*clip, at).pixels);
    EXPECT_EQ(pairs[i].frame.pixels, frameOf(*clip, at + 1).pixels);
  }
  EXPECT_EQ(framePairs(*clip, 100, 48).size(), 8U);
  EXPECT_EQ(framePairs(*clip, 100, 48).front().frame.width, 48);
  EXPECT_NE(refusal([&] { frameOf(*clip, 9); }).find("its frames are 0 to 8"), std::string::npos);
}

TEST(ClipLessons, OneFrameIsNoClipToLearnFrom) {
  const TemporaryFolder folder;
  const auto clip = clipIn(folder, 1);
  EXPECT_NE(refusal([&] { framePairs(*clip, 4, 96); }).find("two or more"), std::string::npos);
}

TEST(ClipLessons, PairsAreLearnedFromAndHeldToTheFrameBefore) {
  const TemporaryFolder folder;
  const auto clip = clipIn(folder, 4);
  LearnInputs inputs;
  inputs.references = {{testing_support::strokes(96, 96, true), 1}};
  inputs.pairs = framePairs(*clip, 3, 96);
  LearnSettings settings;
  settings.longEdge = 96;
  settings.side = 64;
  settings.steps = 30;
  const Chain chain = smallChain();
  Learner learner(chain, inputs, settings);
  double first = 0;
  double last = 0;
  double held = 0;
  for (int i = 0; i < settings.steps; ++i) {
    const LossTerms loss = learner.step();
    held += loss.held;
    if (i < 8) first += loss.style;
    if (i >= settings.steps - 8) last += loss.style;
  }
  EXPECT_LT(last, 0.8 * first);
  EXPECT_GT(held, 0);
}

}  // namespace
}  // namespace jugendstil
