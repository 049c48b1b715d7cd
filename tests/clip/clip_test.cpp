// SPDX-License-Identifier: Apache-2.0
#include "clip/clip.h"

#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>

#include "base/error.h"
#include "clip/clip_writer.h"
#include "image/picture_file.h"
#include "support/clips.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::ClipRecipe;
using testing_support::contentOf;
using testing_support::gliding;
using testing_support::streamsOf;
using testing_support::TemporaryFolder;
using testing_support::writeClip;
using testing_support::writeContent;

// Patches of 16 pixels in strong and mixed colours: even over any chroma sample.
Image patches(int width, int height, int shift = 0) {
  constexpr float kColours[8][3] = {{1, 1, 1},          {0, 0, 0},          {0.8F, 0.1F, 0.1F},
                                    {0.1F, 0.7F, 0.2F}, {0.1F, 0.2F, 0.9F}, {0.9F, 0.8F, 0.1F},
                                    {0.5F, 0.5F, 0.5F}, {0.3F, 0.6F, 0.7F}};
  Image out(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      for (int c = 0; c < 3; ++c) out.at(x, y, c) = kColours[(x / 16 + y / 16 * 3 + shift) % 8][c];
    }
  }
  return out;
}

// In the middles of the patches, away from chroma's interpolation.
float worstPatch(const Image& a, const Image& b) {
  float worst = 0;
  for (int y = 7; y < a.height; y += 16) {
    for (int x = 7; x < a.width; x += 16) {
      for (int c = 0; c < 3; ++c) worst = std::max(worst, std::fabs(a.at(x, y, c) - b.at(x, y, c)));
    }
  }
  return worst;
}

std::vector<Image> framesOf(const std::string& name) {
  const auto source = openClip(name);
  std::vector<Image> frames;
  Image frame;
  while (source->read(frame) == FrameState::read) frames.push_back(frame);
  return frames;
}

struct Format {
  const char* name;
  int matrix;
  bool full;
  float tolerance;
};

class PixelFormat : public testing::TestWithParam<Format> {};

TEST_P(PixelFormat, ComesBackAsTheColoursThatWereMeant) {
  const TemporaryFolder folder;
  ClipRecipe recipe;
  recipe.frames = 2;
  recipe.format = GetParam().name;
  recipe.matrix = GetParam().matrix;
  recipe.full = GetParam().full;
  writeClip(folder / "clip.mkv", recipe, [](int i) { return patches(64, 48, i); });
  const auto frames = framesOf((folder / "clip.mkv").string());
  ASSERT_EQ(frames.size(), 2U);
  for (int i = 0; i < 2; ++i)
    EXPECT_LT(worstPatch(frames[static_cast<std::size_t>(i)], patches(64, 48, i)), GetParam().tolerance);
}

INSTANTIATE_TEST_SUITE_P(
    All, PixelFormat,
    testing::Values(Format{"yuv420p", 1, false, 0.012F}, Format{"yuv420p", 6, false, 0.012F},
                    Format{"yuv420p", 1, true, 0.012F}, Format{"yuv422p", 1, false, 0.012F},
                    Format{"yuv444p", 6, true, 0.012F}, Format{"yuv420p10le", 1, false, 0.004F},
                    Format{"yuv422p10le", 6, false, 0.004F}, Format{"yuv444p10le", 1, true, 0.004F},
                    Format{"yuv420p12le", 1, false, 0.003F}),
    [](const auto& p) {
      return std::string(p.param.name) + (p.param.matrix == 1 ? "_709" : "_601") +
             (p.param.full ? "_full" : "_limited");
    });

TEST(ClipReader, TellsWhatAClipIs) {
  const TemporaryFolder folder;
  ClipRecipe recipe;
  recipe.format = "yuv420p10le";
  recipe.sound = true;
  writeClip(folder / "clip.mkv", recipe, gliding(64, 48, 1, 0));
  const ClipInfo info = openClip((folder / "clip.mkv").string())->info();
  EXPECT_EQ(info.width, 64);
  EXPECT_EQ(info.height, 48);
  EXPECT_EQ(info.bits, 10);
  EXPECT_EQ(info.times.size(), 6U);
  EXPECT_NEAR(info.rate.value(), 24, 0.01);
  EXPECT_EQ(info.sound, "pcm_s16le");
  EXPECT_EQ(info.colour.matrix, 1);
  EXPECT_FALSE(info.colour.fullRange);
  EXPECT_FALSE(info.variableRate);
  EXPECT_FALSE(info.endsEarly);
}

TEST(ClipReader, SeeksToAnyFrame) {
  const TemporaryFolder folder;
  ClipRecipe recipe;
  recipe.frames = 40;
  recipe.codec = "libx264";
  writeClip(folder / "clip.mp4", recipe, [](int i) { return patches(64, 48, i); });
  const auto source = openClip((folder / "clip.mp4").string());
  for (const int frame : {0, 31, 5, 6, 39, 12, 0, 20}) {
    source->seek(frame);
    EXPECT_EQ(source->position(), frame);
    Image image;
    ASSERT_EQ(source->read(image), FrameState::read) << frame;
    EXPECT_LT(worstPatch(image, patches(64, 48, frame)), 0.1F) << frame;
  }
  source->seek(39);
  Image image;
  EXPECT_EQ(source->read(image), FrameState::read);
  EXPECT_EQ(source->read(image), FrameState::end);
}

TEST(ClipReader, KeepsAVariableRate) {
  const TemporaryFolder folder;
  ClipRecipe recipe;
  recipe.times = {0, 40, 160, 200, 240, 500};
  writeClip(folder / "clip.mkv", recipe, gliding(64, 48, 1, 0));
  const ClipInfo info = openClip((folder / "clip.mkv").string())->info();
  EXPECT_TRUE(info.variableRate);
  ASSERT_EQ(info.times.size(), 6U);
  EXPECT_NEAR(static_cast<double>(info.times[5]) * info.timeBase.value(), 0.5, 1e-6);
  EXPECT_NEAR(static_cast<double>(info.times[2]) * info.timeBase.value(), 0.16, 1e-6);
}

TEST(ClipReader, TurnsFramesUpright) {
  const TemporaryFolder folder;
  ClipRecipe recipe;
  recipe.rotation = 90;
  recipe.frames = 2;
  recipe.codec = "libx264";
  writeClip(folder / "clip.mp4", recipe, [](int) {
    Image out = patches(64, 48);
    for (int y = 0; y < 16; ++y) {
      for (int x = 0; x < 16; ++x) {
        out.at(x, y, 0) = 1;  // red in the stored top left corner
        out.at(x, y, 1) = out.at(x, y, 2) = 0;
      }
    }
    return out;
  });
  const auto frames = framesOf((folder / "clip.mp4").string());
  ASSERT_EQ(frames.size(), 2U);
  EXPECT_EQ(frames[0].width, 48);
  EXPECT_EQ(frames[0].height, 64);
  // Turned counter-clockwise by 90 degrees, top left goes to bottom left.
  EXPECT_GT(frames[0].at(7, 56, 0), 0.8F);
  EXPECT_LT(frames[0].at(7, 56, 1), 0.2F);
}

void expectRefused(const std::string& name, const std::string& part) {
  try {
    openClip(name);
    ADD_FAILURE() << name << " was taken";
  } catch (const Error& e) {
    EXPECT_NE(std::string(e.what()).find(part), std::string::npos) << e.what();
  }
}

TEST(ClipReader, SaysWhatIsWrong) {
  const TemporaryFolder folder;
  expectRefused((folder / "none.mp4").string(), "there is no clip");
  writeContent(folder / "empty.mp4", "");
  expectRefused((folder / "empty.mp4").string(), "is empty");
  writeContent(folder / "text.mp4", "this is no film at all, just words and words and words");
  expectRefused((folder / "text.mp4").string(), "cannot be read as a clip");
  expectRefused(folder.path.string(), "is a folder");
  expectRefused((folder / "shot_%04d.png").string(), "no file fits");
  // A container whose index stands at its end and was cut off.
  ClipRecipe recipe;
  recipe.codec = "libx264";
  writeClip(folder / "whole.mp4", recipe, gliding(64, 48, 1, 0));
  const std::string bytes = contentOf(folder / "whole.mp4");
  writeContent(folder / "cut.mp4", bytes.substr(0, bytes.size() / 2));
  expectRefused((folder / "cut.mp4").string(), "cut short");
}

// A list of clips that is named like one opens none of them.
TEST(ClipReader, OpensNoOtherFiles) {
  const TemporaryFolder folder;
  writeClip(folder / "own.mkv", ClipRecipe(), gliding(64, 48, 1, 0));
  for (const char* list :
       {"ffconcat version 1.0\nfile 'own.mkv'\n",
        "#EXTM3U\n#EXT-X-VERSION:3\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nown.mkv\n#EXT-X-ENDLIST\n",
        "v=0\no=- 0 0 IN IP4 127.0.0.1\ns=x\nc=IN IP4 127.0.0.1\nt=0 0\nm=video 5004 RTP/AVP 96\n"}) {
    writeContent(folder / "list.mkv", list);
    expectRefused((folder / "list.mkv").string(), "a list of other files");
  }
}

TEST(ClipReader, ReadsWhatIsThereOfAClipThatBreaksOff) {
  const TemporaryFolder folder;
  ClipRecipe recipe;
  recipe.frames = 48;
  writeClip(folder / "whole.mkv", recipe, gliding(64, 48, 1, 0));
  const std::string bytes = contentOf(folder / "whole.mkv");
  writeContent(folder / "cut.mkv", bytes.substr(0, bytes.size() / 2));
  const auto source = openClip((folder / "cut.mkv").string());
  EXPECT_TRUE(source->info().endsEarly);
  EXPECT_GT(source->info().times.size(), 10U);
  EXPECT_LT(source->info().times.size(), 40U);
}

TEST(ClipReader, ADamagedFrameIsMissingAndTheClipGoesOn) {
  const TemporaryFolder folder;
  ClipRecipe recipe;
  recipe.frames = 12;
  recipe.codec = "libx264";
  writeClip(folder / "clip.mp4", recipe,
            [](int i) { return testing_support::sample(64, 48, static_cast<unsigned>(i + 1)); });
  // The index stands behind the pictures and stays whole.
  std::string bytes = contentOf(folder / "clip.mp4");
  for (std::size_t i = 0; i < bytes.size() / 12; ++i) bytes[bytes.size() / 3 + i] = static_cast<char>(i * 31);
  writeContent(folder / "clip.mp4", bytes);
  const auto source = openClip((folder / "clip.mp4").string());
  int read = 0;
  int missing = 0;
  Image frame;
  for (FrameState s = source->read(frame); s != FrameState::end; s = source->read(frame)) {
    (s == FrameState::read ? read : missing) += 1;
  }
  EXPECT_EQ(read + missing, 12);
  EXPECT_GE(missing, 1);
  EXPECT_GE(read, 8);
}

TEST(FrameFolder, ReadsNumberedFramesAndKnowsTheGaps) {
  const TemporaryFolder folder;
  for (const int i : {101, 102, 104}) {
    writePicture(folder / ("shot_0" + std::to_string(i) + ".png"), patches(32, 32, i), Depth::eight);
  }
  const auto source = openClip((folder / "shot_%04d.png").string());
  EXPECT_EQ(source->info().times.size(), 4U);
  EXPECT_EQ(source->info().firstNumber, 101);
  Image frame;
  EXPECT_EQ(source->read(frame), FrameState::read);
  EXPECT_EQ(source->read(frame), FrameState::read);
  EXPECT_LT(worstPatch(frame, patches(32, 32, 102)), 0.01F);
  EXPECT_EQ(source->read(frame), FrameState::missing);
  EXPECT_EQ(source->read(frame), FrameState::read);
  EXPECT_EQ(source->read(frame), FrameState::end);
  writePicture(folder / "shot_0105.png", patches(48, 32), Depth::eight);
  const auto uneven = openClip((folder / "shot_%04d.png").string());
  uneven->seek(4);
  EXPECT_THROW(uneven->read(frame), Error);
}

TEST(FrameFolder, KnowsAPatternFromAName) {
  EXPECT_TRUE(isFramePattern("a/shot_%05d.png"));
  EXPECT_TRUE(isFramePattern("%d.tif"));
  EXPECT_FALSE(isFramePattern("100%.mp4"));
  EXPECT_FALSE(isFramePattern("a_%05d_%02d.png"));
  EXPECT_EQ(frameName("a/shot_%05d.png", 7), "a/shot_00007.png");
  EXPECT_EQ(frameName("%d.tif", 12), "12.tif");
}

ClipFormat formatFor(ClipCodec codec, int bits = 8) {
  ClipFormat format;
  format.codec = codec;
  format.width = 64;
  format.height = 48;
  format.bits = bits;
  format.rate = {24, 1};
  format.timeBase = {1, 1000};
  format.colour = {1, 1, 1, false};
  return format;
}

struct Out {
  const char* name;
  ClipCodec codec;
  int bits;
  float tolerance;
  const char* stream;
};

class RoundTrip : public testing::TestWithParam<Out> {};

TEST_P(RoundTrip, FramesTimesAndTagsComeBack) {
  const TemporaryFolder folder;
  const std::string name = (folder / GetParam().name).string();
  ClipFormat format = formatFor(GetParam().codec, GetParam().bits);
  if (GetParam().codec == ClipCodec::y4m) format.timeBase = {1, 24};
  format.quality = 95;
  const std::vector<std::int64_t> times = GetParam().codec == ClipCodec::y4m
                                              ? std::vector<std::int64_t>{0, 1, 2, 3}
                                              : std::vector<std::int64_t>{0, 42, 125, 167};
  const auto writer = createClip(name, format, std::nullopt);
  for (int i = 0; i < 4; ++i) writer->write(patches(64, 48, i), times[static_cast<std::size_t>(i)]);
  EXPECT_FALSE(fs::exists(name));  // not before it is whole
  writer->finish();
  EXPECT_EQ(streamsOf(name), std::vector<std::string>{GetParam().stream});
  const ClipInfo info = openClip(name)->info();
  EXPECT_EQ(info.bits, GetParam().bits);
  ASSERT_EQ(info.times.size(), 4U);
  for (std::size_t i = 0; i < 4; ++i) {
    EXPECT_NEAR(static_cast<double>(info.times[i]) * info.timeBase.value(),
                static_cast<double>(times[i]) * format.timeBase.value(), 0.0006);
  }
  if (GetParam().codec == ClipCodec::h264 || GetParam().codec == ClipCodec::vp9) {
    EXPECT_EQ(info.colour.matrix, 1);
    EXPECT_EQ(info.colour.primaries, 1);
  }
  const auto frames = framesOf(name);
  ASSERT_EQ(frames.size(), 4U);
  for (int i = 0; i < 4; ++i)
    EXPECT_LT(worstPatch(frames[static_cast<std::size_t>(i)], patches(64, 48, i)), GetParam().tolerance) << i;
}

INSTANTIATE_TEST_SUITE_P(All, RoundTrip,
                         testing::Values(Out{"a.mkv", ClipCodec::ffv1, 8, 0.0021F, "video ffv1 64x48"},
                                         Out{"a.mkv", ClipCodec::ffv1, 10, 0.0006F, "video ffv1 64x48"},
                                         Out{"a.mp4", ClipCodec::h264, 8, 0.03F, "video h264 64x48"},
                                         Out{"a.mov", ClipCodec::h264, 10, 0.03F, "video h264 64x48"},
                                         Out{"a.webm", ClipCodec::vp9, 8, 0.04F, "video vp9 64x48"},
                                         Out{"b.webm", ClipCodec::vp9, 10, 0.04F, "video vp9 64x48"},
                                         Out{"c.webm", ClipCodec::av1, 8, 0.05F, "video av1 64x48"},
                                         Out{"a.y4m", ClipCodec::y4m, 8, 0.012F, "video rawvideo 64x48"},
                                         Out{"b.y4m", ClipCodec::y4m, 10, 0.004F, "video rawvideo 64x48"}),
                         [](const auto& p) {
                           const std::string words = std::string(p.param.stream).substr(6);
                           return words.substr(0, words.find(' ')) + "_" + std::to_string(p.param.bits) +
                                  "_" + std::to_string(p.index);
                         });

TEST(ClipWriter, EightBitFramesAreLosslessInFfv1) {
  const TemporaryFolder folder;
  Image frame(64, 48);
  for (std::size_t i = 0; i < frame.pixels.size(); ++i)
    frame.pixels[i] = static_cast<float>((i * 37) % 256) / 255;
  const auto writer = createClip((folder / "a.mkv").string(), formatFor(ClipCodec::ffv1), std::nullopt);
  writer->write(frame, 0);
  writer->finish();
  const Image back = framesOf((folder / "a.mkv").string()).at(0);
  for (std::size_t i = 0; i < frame.pixels.size(); ++i)
    ASSERT_EQ(std::lround(back.pixels[i] * 255), std::lround(frame.pixels[i] * 255)) << i;
}

TEST(ClipWriter, SoundIsCopiedByteForByteAndCut) {
  const TemporaryFolder folder;
  ClipRecipe recipe;
  recipe.frames = 24;
  recipe.sound = true;
  const std::string clip = (folder / "in.mkv").string();
  writeClip(clip, recipe, gliding(64, 48, 1, 0));
  const auto copy = [&](const std::string& name, double from, double to) {
    const auto writer = createClip(name, formatFor(ClipCodec::ffv1), SoundSource{clip, from, to});
    for (int i = 0; i < 12; ++i) writer->write(patches(64, 48), i * 42);
    writer->finish();
    return streamsOf(name);
  };
  EXPECT_EQ(copy((folder / "all.mkv").string(), 0, 1)[1], streamsOf(clip)[1]);
  // Half of it: twelve frames' worth of samples.
  EXPECT_EQ(copy((folder / "half.mkv").string(), 0.25, 0.75)[1], "audio pcm_s16le 24000 bytes");
}

TEST(ClipWriter, SaysWhereSoundDoesNotFit) {
  const TemporaryFolder folder;
  ClipRecipe recipe;
  recipe.sound = true;
  const std::string clip = (folder / "in.mkv").string();
  writeClip(clip, recipe, gliding(64, 48, 1, 0));
  requireSoundFits("out.mkv", clip);
  EXPECT_THROW(requireSoundFits("out.webm", clip), UsageError);
}

TEST(ClipWriter, WithoutFinishNothingIsLeft) {
  const TemporaryFolder folder;
  {
    const auto writer = createClip((folder / "a.mp4").string(), formatFor(ClipCodec::h264), std::nullopt);
    writer->write(patches(64, 48), 0);
  }
  EXPECT_TRUE(testing_support::filesIn(folder.path).empty());
  EXPECT_THROW(createClip((folder / "none/a.mkv").string(), formatFor(ClipCodec::ffv1), std::nullopt), Error);
  const auto writer = createClip((folder / "b.mkv").string(), formatFor(ClipCodec::ffv1), std::nullopt);
  EXPECT_THROW(writer->write(patches(32, 48), 0), Error);
}

TEST(ClipWriter, NamesSayWhatIsWritten) {
  EXPECT_EQ(codecForName("a.mkv"), ClipCodec::ffv1);
  EXPECT_EQ(codecForName("A.MP4"), ClipCodec::h264);
  EXPECT_EQ(codecForName("f/shot_%05d.png"), ClipCodec::png);
  EXPECT_EQ(codecForName("-"), ClipCodec::y4m);
  EXPECT_THROW(codecForName("a.gif"), UsageError);
  EXPECT_THROW(codecForName("shot_%05d.jpg"), UsageError);
  EXPECT_THROW(codecFromWord("png"), UsageError);
}

}  // namespace
}  // namespace jugendstil
