// SPDX-License-Identifier: Apache-2.0
#include "film/lay_clip.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "base/stop.h"
#include "clip/clip.h"
#include "image/picture_file.h"
#include "support/clips.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::distance;
using testing_support::gliding;
using testing_support::messageOf;
using testing_support::writeContent;

constexpr int kWidth = 96;
constexpr int kHeight = 64;
constexpr int kFrames = 5;

class LayingClips : public testing::Test {
 protected:
  LayingClips() {
    testing_support::ClipRecipe recipe;
    recipe.width = kWidth;
    recipe.height = kHeight;
    recipe.frames = kFrames;
    recipe.format = "yuv444p";
    recipe.sound = true;
    writeClip(folder / "clip.mkv", recipe, scene);
    recipe.sound = false;
    writeClip(folder / "red.mkv", recipe, [](int) { return red(); });
  }
  static Image red() {
    Image image(kWidth, kHeight, 3);
    for (std::size_t i = 0; i < image.area(); ++i) image.pixel(i)[0] = 1;
    return image;
  }
  std::vector<Image> framesOf(const char* name) const {
    const auto source = openClip((folder / name).string());
    std::vector<Image> frames;
    Image frame;
    while (source->read(frame) == FrameState::read) frames.push_back(frame);
    return frames;
  }
  LaidClip lay(const LaidPainting& film, const char* name = "out.mkv") const {
    return layOverClip((folder / "clip.mkv").string(), {film}, (folder / name).string(), 85);
  }

  std::function<Image(int)> scene = gliding(kWidth, kHeight, 3, 0);
  testing_support::TemporaryFolder folder;
};

TEST_F(LayingClips, FramesAreThoseOfTheFilmAsFarAsItIsOpaque) {
  const LaidClip whole = lay({folder / "red.mkv", 1, BlendMode::normal, {}});
  EXPECT_EQ(whole.frames, kFrames);
  EXPECT_TRUE(whole.missing.empty());
  const auto frames = framesOf("out.mkv");
  ASSERT_EQ(frames.size(), static_cast<std::size_t>(kFrames));
  EXPECT_LT(distance(frames[4], red()), 1e-3);
  lay({folder / "red.mkv", 0, BlendMode::normal, {}});
  const auto clip = framesOf("clip.mkv");
  const auto none = framesOf("out.mkv");
  for (std::size_t f = 0; f < clip.size(); ++f) EXPECT_LT(distance(none[f], clip[f]), 1e-3) << f;
  // With the clip's sound.
  const auto streams = testing_support::streamsOf(folder / "out.mkv");
  EXPECT_EQ(streams.size(), 2U);
}

TEST_F(LayingClips, AMaskFollowsWhatItCovers) {
  // A disc; the scene moves by three pixels a frame, the mask with it.
  writeContent(folder / "disc.svg",
               "<svg xmlns='http://www.w3.org/2000/svg' width='96' height='64' viewBox='0 0 96 64'>"
               "<circle cx='48' cy='32' r='14' fill='#fff'/></svg>");
  lay({folder / "red.mkv", 1, BlendMode::normal, {folder / "disc.svg"}});
  const auto frames = framesOf("out.mkv");
  const auto middle = [](const Image& frame) {
    double sum = 0;
    double count = 0;
    for (int y = 0; y < frame.height; ++y) {
      for (int x = 0; x < frame.width; ++x) {
        if (frame.at(x, y, 0) < 0.9F || frame.at(x, y, 1) > 0.1F) continue;
        sum += x;
        ++count;
      }
    }
    EXPECT_GT(count, 400);
    return sum / count;
  };
  EXPECT_NEAR(middle(frames[0]), 48, 1);
  EXPECT_NEAR(std::abs(middle(frames[4]) - 48), 12, 2);
}

TEST_F(LayingClips, FramesStayTogetherBehindOneThatCannotBeRead) {
  for (int f = 0; f < 4; ++f) {
    const std::string number = std::to_string(f);
    writePicture(folder / ("clip_" + number + ".png"), testing_support::sample(kWidth, kHeight, 10U + f),
                 Depth::eight);
    writePicture(folder / ("film_" + number + ".png"),
                 Image(kWidth, kHeight, 3, 0.2F * static_cast<float>(f)), Depth::eight);
  }
  writeContent(folder / "clip_1.png", testing_support::contentOf(folder / "clip_1.png").substr(0, 300));
  const LaidClip made =
      layOverClip((folder / "clip_%d.png").string(), {{folder / "film_%d.png", 1, BlendMode::normal, {}}},
                  (folder / "out.mkv").string(), 85);
  EXPECT_EQ(made.missing, std::vector<std::int64_t>{1});
  const auto frames = framesOf("out.mkv");
  ASSERT_EQ(frames.size(), 4U);
  EXPECT_NEAR(frames[0].at(40, 30, 1), 0, 0.02);
  EXPECT_NEAR(frames[1].at(40, 30, 1), 0, 0.02) << "as the one before";
  EXPECT_NEAR(frames[2].at(40, 30, 1), 0.4, 0.02);
  EXPECT_NEAR(frames[3].at(40, 30, 1), 0.6, 0.02);
}

TEST_F(LayingClips, WhatDoesNotBelongTogetherIsSaidAndNothingIsLeft) {
  testing_support::ClipRecipe recipe;
  recipe.width = kWidth;
  recipe.height = kHeight;
  recipe.frames = 3;
  writeClip(folder / "short.mkv", recipe, scene);
  EXPECT_NE(messageOf<Error>([&] {
              lay({folder / "short.mkv", 1, BlendMode::normal, {}});
            }).find("3 frames, the clip 5"),
            std::string::npos);
  recipe.frames = kFrames;
  recipe.width = kHeight;
  writeClip(folder / "square.mkv", recipe, scene);
  EXPECT_NE(messageOf<Error>([&] {
              lay({folder / "square.mkv", 1, BlendMode::normal, {}});
            }).find("another format"),
            std::string::npos);
  EXPECT_THROW(layOverClip((folder / "clip.mkv").string(), {{folder / "red.mkv", 1, BlendMode::normal, {}}},
                           (folder / "out.mkv").string(), 85,
                           [](std::int64_t frame, std::int64_t) {
                             if (frame == 2) throw Stopped();
                           }),
               Stopped);
  EXPECT_FALSE(std::filesystem::exists(folder / "out.mkv"));
}

}  // namespace
}  // namespace jugendstil
