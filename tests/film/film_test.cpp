// SPDX-License-Identifier: Apache-2.0
// Whole films with a small network: going on after a stop, failing frames, keys, masks.
#include "film/film.h"

#include <gtest/gtest.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cmath>
#include <csignal>
#include <random>

#include "base/error.h"
#include "base/parallel.h"
#include "base/stop.h"
#include "film/journal.h"
#include "film/plan.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "support/clips.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::ClipRecipe;
using testing_support::contentOf;
using testing_support::gliding;
using testing_support::sample;
using testing_support::TemporaryFolder;
using testing_support::writeClip;

class Film : public testing::Test {
 protected:
  void SetUp() override {
    setThreads(2);
    ClipRecipe recipe;
    recipe.frames = 8;
    writeClip(clip(), recipe, gliding(64, 48, 1, 0));
    inputs.clip = clip();
    inputs.output = (folder / "out.mkv").string();
    inputs.chain = &chain;
    inputs.references = {{sample(60, 60, 7), 1}};
    inputs.paint.levels = 2;
    inputs.paint.steps = {3, 3};
    inputs.film.frameSteps = 3;
    inputs.making = "a test";
  }

  std::string clip() const { return (folder / "clip.mkv").string(); }

  std::vector<Image> framesOf(const std::string& name) const {
    const auto source = openClip(name);
    std::vector<Image> frames;
    Image frame;
    while (source->read(frame) == FrameState::read) frames.push_back(frame);
    return frames;
  }

  static double difference(const Image& a, const Image& b) {
    double sum = 0;
    for (std::size_t i = 0; i < a.pixels.size(); ++i)
      sum += static_cast<double>(std::fabs(a.pixels[i] - b.pixels[i]));
    return sum / static_cast<double>(a.pixels.size());
  }

  TemporaryFolder folder;
  Chain chain = testing_support::smallChain();
  FilmInputs inputs;
};

TEST_F(Film, PaintsAllFramesAndCleansUp) {
  const FilmResult result = makeFilm(inputs, {});
  EXPECT_TRUE(result.finished);
  EXPECT_EQ(result.frames.size(), 8U);
  EXPECT_TRUE(result.frames[0].shotBegins);
  EXPECT_GT(result.sourceError, 0);
  EXPECT_GT(result.error, 0);
  EXPECT_EQ(framesOf(inputs.output).size(), 8U);
  EXPECT_EQ(testing_support::filesIn(folder.path), (std::vector<std::string>{"clip.mkv", "out.mkv"}));
}

TEST_F(Film, PaintsSmallerThanItIsWhereToldTo) {
  inputs.paint.workingEdge = 32;
  FilmCallbacks stop;
  stop.progress = [](const FilmProgress& p) {
    if (p.stage == std::string("painting") && p.frame >= 2) throw Stopped{};
  };
  ASSERT_FALSE(makeFilm(inputs, stop).finished);
  const Image painted =
      Journal(workFolderFor(inputs.output), inputs.making, false, Depth::eight).load(kPainted, 0);
  EXPECT_EQ(painted.width, 32);
  EXPECT_EQ(painted.height, 24);
  const FilmResult result = makeFilm(inputs, {});
  EXPECT_TRUE(result.finished);
  EXPECT_EQ(result.width, 64);
  const std::vector<Image> frames = framesOf(inputs.output);
  ASSERT_EQ(frames.size(), 8U);
  EXPECT_EQ(frames[0].width, 64);
  EXPECT_EQ(frames[0].height, 48);
  // Larger with more than a larger picture of the same: the references' brush-work.
  EXPECT_GT(difference(frames[0], resample(rgbOf(painted), 64, 48)), 0.01);
}

TEST_F(Film, AKeyStandsAsItIsHoweverSmallTheOthersArePainted) {
  inputs.paint.workingEdge = 32;
  const Image key = sample(64, 48, 11);
  inputs.keys = {{3, key}};
  ASSERT_TRUE(makeFilm(inputs, {}).finished);
  EXPECT_LT(difference(framesOf(inputs.output)[3], key), 1.0 / 255);
}

TEST_F(Film, WithoutBrushworkFramesStayAsTheyWereOptimised) {
  inputs.paint.brushwork = false;
  FilmCallbacks stop;
  stop.progress = [](const FilmProgress& p) {
    if (p.stage == std::string("painting") && p.frame >= 2) throw Stopped{};
  };
  ASSERT_FALSE(makeFilm(inputs, stop).finished);
  const Image painted =
      rgbOf(Journal(workFolderFor(inputs.output), inputs.making, false, Depth::eight).load("painted", 0));
  ASSERT_TRUE(makeFilm(inputs, {}).finished);
  EXPECT_LT(difference(framesOf(inputs.output)[0], painted), 1e-6);
}

TEST_F(Film, ALedFrameFollowsTheOneBeforeItMoreTheSteadierItIs) {
  const auto errorAt = [&](double steady) {
    inputs.film.steady = steady;
    inputs.anew = true;
    return makeFilm(inputs, {}).error;
  };
  inputs.film.frameSteps = 10;
  const double free = errorAt(0);
  const double held = errorAt(100);
  EXPECT_LT(held, 0.6 * free);
}

TEST_F(Film, StoppedByProgressItGoesOnAndGivesTheSameBytes) {
  ASSERT_TRUE(makeFilm(inputs, {}).finished);
  const std::string whole = contentOf(inputs.output);
  fs::remove(inputs.output);
  int calls = 0;
  FilmCallbacks stop;
  stop.progress = [&](const FilmProgress&) {
    if (++calls >= 17) throw Stopped{};
  };
  const FilmResult first = makeFilm(inputs, stop);
  EXPECT_FALSE(first.finished);
  EXPECT_GT(first.done, 0);
  EXPECT_FALSE(fs::exists(inputs.output));
  const FilmResult second = makeFilm(inputs, {});
  EXPECT_EQ(second.kept, first.done);
  EXPECT_EQ(contentOf(inputs.output), whole);
}

// The process dies at any moment: in the middle of a step, of a write, of the encoding.
TEST_F(Film, KilledAtTwentyRandomPointsItGivesTheSameBytes) {
  constexpr int kKills = 10;
  constexpr int kMostTries = 200;
  for (const int passes : {1, 2}) {
    inputs.film.passes = passes;
    inputs.output = (folder / "whole.mkv").string();
    ASSERT_TRUE(makeFilm(inputs, {}).finished);
    const std::string whole = contentOf(inputs.output);
    fs::remove(inputs.output);
    std::mt19937 random(static_cast<unsigned>(passes));
    int killed = 0;
    for (int i = 0; i < kMostTries && killed < kKills; ++i) {
      const pid_t child = fork();
      if (child == 0) {
        // A forked process has none of its parent's threads.
        setThreads(1);
        makeFilm(inputs, {});
        _exit(0);
      }
      usleep(static_cast<useconds_t>(5000 + random() % 60000));
      kill(child, SIGKILL);
      int status = 0;
      waitpid(child, &status, 0);
      if (WIFSIGNALED(status)) ++killed;
      if (!fs::exists(inputs.output)) continue;
      // It came to its end before, or was killed behind it: once more from the beginning.
      ASSERT_EQ(contentOf(inputs.output), whole) << passes << ", after " << killed;
      fs::remove(inputs.output);
      fs::remove_all(workFolderFor(inputs.output));
    }
    EXPECT_EQ(killed, kKills) << passes;
    ASSERT_TRUE(makeFilm(inputs, {}).finished);
    EXPECT_EQ(contentOf(inputs.output), whole) << passes;
    fs::remove(inputs.output);
  }
}

TEST_F(Film, AFailingFrameIsTriedAgain) {
  FilmCallbacks fail;
  fail.attempt = [](std::int64_t frame, int attempt) {
    if (frame == 3 && attempt == 0) throw Error("this once");
  };
  const FilmResult result = makeFilm(inputs, fail);
  EXPECT_TRUE(result.finished);
  EXPECT_EQ(result.frames[3].tries, 2);
  EXPECT_FALSE(result.frames[3].filled);
}

TEST_F(Film, AFrameThatFailsTwiceIsFilledFromItsNeighbours) {
  FilmCallbacks fail;
  fail.attempt = [](std::int64_t frame, int) {
    if (frame == 3 || frame == 4) throw Error("never");
  };
  const FilmResult result = makeFilm(inputs, fail);
  EXPECT_TRUE(result.finished);
  EXPECT_TRUE(result.frames[3].filled);
  EXPECT_TRUE(result.frames[4].filled);
  const auto frames = framesOf(inputs.output);
  ASSERT_EQ(frames.size(), 8U);
  // Between its neighbours: nearer to each than they are to one another.
  EXPECT_LT(difference(frames[3], frames[2]), difference(frames[5], frames[2]));
  EXPECT_LT(difference(frames[4], frames[5]), difference(frames[5], frames[2]));
  EXPECT_GT(difference(frames[3], frames[2]), 0);
}

TEST_F(Film, TheFirstFrameMayFailToo) {
  FilmCallbacks fail;
  fail.attempt = [](std::int64_t frame, int) {
    if (frame == 0) throw Error("never");
  };
  const FilmResult result = makeFilm(inputs, fail);
  EXPECT_TRUE(result.finished);
  EXPECT_TRUE(result.frames[0].filled);
  const auto frames = framesOf(inputs.output);
  // The second one's painting, with the photo's edges of its own.
  EXPECT_LT(difference(frames[0], frames[1]), 0.01);
  EXPECT_LT(difference(frames[0], frames[1]), 0.5 * difference(frames[1], frames[2]));
  fail.attempt = [](std::int64_t, int) { throw Error("never"); };
  inputs.output = (folder / "b.mkv").string();
  EXPECT_THROW(makeFilm(inputs, fail), Error);
}

TEST_F(Film, GapsInNumberedFramesAreFilled) {
  const auto picture = gliding(64, 48, 2, 0);
  for (const int i : {1, 2, 4, 5})
    writePicture(folder / ("in_0" + std::to_string(i) + ".png"), picture(i), Depth::eight);
  inputs.clip = (folder / "in_%02d.png").string();
  inputs.output = (folder / "out_%02d.png").string();
  const FilmResult result = makeFilm(inputs, {});
  ASSERT_EQ(result.frames.size(), 5U);
  EXPECT_EQ(result.frames[2].tries, 0);
  EXPECT_TRUE(result.frames[2].filled);
  for (const int i : {1, 2, 3, 4, 5})
    EXPECT_TRUE(fs::exists(folder / ("out_0" + std::to_string(i) + ".png"))) << i;
}

TEST_F(Film, OtherSettingsDoNotGoOnWithOldFrames) {
  int calls = 0;
  FilmCallbacks stop;
  stop.progress = [&](const FilmProgress&) {
    if (++calls >= 15) throw Stopped{};
  };
  makeFilm(inputs, stop);
  inputs.making = "another test";
  EXPECT_THROW(makeFilm(inputs, {}), Error);
  inputs.anew = true;
  EXPECT_EQ(makeFilm(inputs, {}).kept, 0);
}

TEST_F(Film, ATornJournalLosesOneFrameAtMost) {
  int calls = 0;
  FilmCallbacks stop;
  stop.progress = [&](const FilmProgress&) {
    if (++calls >= 25) throw Stopped{};
  };
  const FilmResult first = makeFilm(inputs, stop);
  ASSERT_GT(first.done, 1);
  const fs::path journal = workFolderFor(inputs.output) / "journal.jsonl";
  const std::string text = contentOf(journal);
  testing_support::writeContent(journal, text.substr(0, text.size() - 20));
  const FilmResult second = makeFilm(inputs, {});
  EXPECT_TRUE(second.finished);
  EXPECT_EQ(second.kept, first.done - 1);
}

TEST_F(Film, ANewShotIsPaintedAfresh) {
  ClipRecipe recipe;
  recipe.frames = 8;
  const auto one = gliding(64, 48, 1, 0);
  writeClip(clip(), recipe, [&](int i) {
    if (i < 4) return one(i);
    Image other(64, 48);
    for (int y = 0; y < 48; ++y) {
      for (int x = 0; x < 64; ++x) {
        other.at(x, y, 0) = 0.1F;
        other.at(x, y, 1) = 0.2F + 0.1F * static_cast<float>((x / 8 + y / 8 + 0 * i) % 2);
        other.at(x, y, 2) = 0.8F;
      }
    }
    return other;
  });
  const FilmResult result = makeFilm(inputs, {});
  for (std::size_t i = 0; i < 8; ++i) EXPECT_EQ(result.frames[i].shotBegins, i == 0 || i == 4) << i;
  EXPECT_EQ(result.frames[4].steps, 6);  // both levels
  EXPECT_EQ(result.frames[5].steps, 3);
  EXPECT_EQ(result.frames[4].trusted, 0);
}

TEST_F(Film, AFadeToBlackStaysOne) {
  ClipRecipe recipe;
  recipe.frames = 12;
  const auto picture = gliding(64, 48, 1, 0);
  const auto bright = [](int i) { return i < 6 ? 1.0F : static_cast<float>(11 - i) / 6; };
  writeClip(clip(), recipe, [&](int i) {
    Image out = picture(i);
    for (float& v : out.pixels) v *= bright(i);
    return out;
  });
  makeFilm(inputs, {});
  const auto frames = framesOf(inputs.output);
  const auto mean = [&](int i) {
    double sum = 0;
    for (const float v : frames[static_cast<std::size_t>(i)].pixels) sum += static_cast<double>(v);
    return sum / static_cast<double>(frames[0].pixels.size());
  };
  for (int i = 7; i < 12; ++i) EXPECT_NEAR(mean(i) / mean(5), bright(i), 0.12) << i;
}

TEST_F(Film, AKeyStandsAsItIsAndLeadsTheFramesAroundIt) {
  const auto plain = [&] {
    makeFilm(inputs, {});
    return framesOf(inputs.output);
  }();
  Image key(64, 48);
  for (std::size_t i = 0; i < key.area(); ++i) key.pixels[i * 3] = 1;  // red all over
  inputs.keys = {{5, key}};
  inputs.output = (folder / "keyed.mkv").string();
  const FilmResult result = makeFilm(inputs, {});
  EXPECT_TRUE(result.finished);
  const auto keyed = framesOf(inputs.output);
  EXPECT_EQ(keyed[5].pixels, key.pixels);
  const auto redness = [](const Image& image) {
    double sum = 0;
    for (std::size_t i = 0; i < image.area(); ++i)
      sum += static_cast<double>(image.pixels[i * 3] - image.pixels[i * 3 + 1]);
    return sum / static_cast<double>(image.area());
  };
  EXPECT_GT(redness(keyed[6]), redness(plain[6]) + 0.3);
  EXPECT_GT(redness(keyed[4]), redness(plain[4]) + 0.2);
  // It fades in.
  EXPECT_LT(redness(keyed[1]), redness(keyed[3]));
  EXPECT_LT(redness(keyed[3]), redness(keyed[4]));
  inputs.keys = {{50, key}};
  EXPECT_THROW(makeFilm(inputs, {}), UsageError);
  inputs.keys = {{5, Image(48, 64)}};
  EXPECT_THROW(makeFilm(inputs, {}), UsageError);
}

TEST_F(Film, KeysAloneSayWhatThePaintingIsLike) {
  inputs.references.clear();
  inputs.keys = {{0, sample(64, 48, 9)}};
  EXPECT_TRUE(makeFilm(inputs, {}).finished);
}

TEST_F(Film, AMaskKeepsThePhotoOutside) {
  Image mask(64, 48, 1);
  for (int y = 0; y < 48; ++y) {
    for (int x = 0; x < 32; ++x) mask.at(x, y, 0) = 1;
  }
  FilmMask film;
  film.frames = {{0, mask}};
  inputs.mask = film;
  ASSERT_TRUE(makeFilm(inputs, {}).finished);
  const auto photo = framesOf(clip());
  const auto inside = framesOf(inputs.output);
  for (int y = 4; y < 44; ++y) {
    for (int c = 0; c < 3; ++c) EXPECT_NEAR(inside[0].at(50, y, c), photo[0].at(50, y, c), 0.005F);
  }
  EXPECT_GT(difference(crop(inside[0], 2, 2, 26, 44), crop(photo[0], 2, 2, 26, 44)), 0.02);
  inputs.mask->inside = false;
  inputs.output = (folder / "outside.mkv").string();
  ASSERT_TRUE(makeFilm(inputs, {}).finished);
  const auto outside = framesOf(inputs.output);
  for (int y = 4; y < 44; ++y) {
    for (int c = 0; c < 3; ++c) EXPECT_NEAR(outside[0].at(10, y, c), photo[0].at(10, y, c), 0.005F);
  }
}

TEST_F(Film, GradingGivesEachShotOneLookAndDoesNotPump) {
  ClipRecipe recipe;
  recipe.frames = 12;
  const auto picture = gliding(64, 48, 1, 0);
  // Exposure that wavers from frame to frame.
  writeClip(clip(), recipe, [&](int i) {
    Image out = picture(0);
    for (float& v : out.pixels) v *= i % 2 == 0 ? 0.9F : 1.0F;
    return out;
  });
  inputs.grade = true;
  inputs.chain = nullptr;
  inputs.gradeReferences = {{gradeStatistics(sample(90, 60, 11)), 1}};
  ASSERT_TRUE(makeFilm(inputs, {}).finished);
  const auto photo = framesOf(clip());
  const auto graded = framesOf(inputs.output);
  EXPECT_GT(difference(graded[0], photo[0]), 0.02);
  // The same look: what was the same stays the same, and what differed still differs.
  EXPECT_LT(difference(graded[0], graded[2]), 0.003);
  EXPECT_GT(difference(graded[0], graded[1]), 0.3 * difference(photo[0], photo[1]));
}

TEST_F(Film, ChosenFramesAndHeldGaps) {
  inputs.film.from = "2";
  inputs.film.every = 2;
  FilmResult result = makeFilm(inputs, {});
  ASSERT_EQ(result.frames.size(), 3U);
  EXPECT_EQ(result.frames[1].source, 4);
  const auto dropped = openClip(inputs.output);
  EXPECT_EQ(dropped->info().times.size(), 3U);
  EXPECT_NEAR(dropped->info().rate.value(), 12, 0.1);
  inputs.film.gaps = Gaps::hold;
  inputs.output = (folder / "held.mkv").string();
  result = makeFilm(inputs, {});
  const auto held = openClip(inputs.output);
  EXPECT_EQ(held->info().times.size(), 6U);
  EXPECT_NEAR(held->info().rate.value(), 24, 0.1);
  const auto frames = framesOf(inputs.output);
  EXPECT_EQ(frames[0].pixels, frames[1].pixels);
  EXPECT_NE(frames[1].pixels, frames[2].pixels);
}

TEST_F(Film, VariableRateAndOddSizesAreKept) {
  ClipRecipe recipe;
  recipe.width = 66;
  recipe.height = 50;
  recipe.times = {0, 40, 160, 200, 240, 500};
  writeClip(clip(), recipe, gliding(66, 50, 1, 0));
  inputs.paint.longEdge = 33;
  inputs.output = (folder / "out.mp4").string();
  const FilmResult result = makeFilm(inputs, {});
  EXPECT_EQ(result.width, 32);
  EXPECT_EQ(result.height % 2, 0);
  const ClipInfo info = openClip(inputs.output)->info();
  ASSERT_EQ(info.times.size(), 6U);
  EXPECT_NEAR(static_cast<double>(info.times[5]) * info.timeBase.value(), 0.5, 1e-3);
  EXPECT_NEAR(static_cast<double>(info.times[2]) * info.timeBase.value(), 0.16, 1e-3);
}

TEST_F(Film, LargeFramesArePaintedAsSmallAsAPhotoOfTheirSize) {
  ClipRecipe recipe;
  recipe.width = 700;
  recipe.height = 520;
  writeClip(clip(), recipe, gliding(700, 520, 1, 0));
  const FilmPlan plan = planFilm(inputs);
  EXPECT_EQ(plan.size.width, 700);
  const Size painted = plan.paint.levels.back().picture;
  EXPECT_NEAR(static_cast<double>(painted.width) * painted.height, 512.0 * 384, 1000);
  ASSERT_FALSE(plan.paint.enlarging.empty());
  EXPECT_EQ(plan.paint.enlarging.back().width, 700);
  inputs.paint.brushwork = false;
  EXPECT_EQ(planFilm(inputs).paint.levels.back().picture.width, 700);
}

TEST_F(Film, AFullDiskStopsItAndKeepsWhatIsDone) {
  if (!fs::exists("/dev/full")) GTEST_SKIP();
  int calls = 0;
  FilmCallbacks stop;
  stop.progress = [&](const FilmProgress&) {
    if (++calls >= 20) throw Stopped{};
  };
  const FilmResult first = makeFilm(inputs, stop);
  ASSERT_GT(first.done, 0);
  // No more can be recorded.
  const fs::path journal = workFolderFor(inputs.output) / "journal.jsonl";
  const std::string text = contentOf(journal);
  fs::remove(journal);
  fs::create_symlink("/dev/full", journal);
  EXPECT_THROW(makeFilm(inputs, {}), Error);
  fs::remove(journal);
  testing_support::writeContent(journal, text);
  EXPECT_EQ(makeFilm(inputs, {}).kept, first.done);
}

TEST(Journal, ARunKilledWhileItBeganIsNoHindranceOtherFilesAre) {
  const testing_support::TemporaryFolder folder;
  const auto work = folder / "out.mkv.work";
  std::filesystem::create_directory(work);
  testing_support::writeContent(work / ".journal.00004711.part.jsonl", "{\"mak");
  EXPECT_NO_THROW(Journal(work, "this", false, Depth::eight));
  const auto other = folder / "other.mkv.work";
  std::filesystem::create_directory(other);
  testing_support::writeContent(other / "notes.txt", "mine");
  EXPECT_THROW(Journal(other, "this", false, Depth::eight), Error);
  EXPECT_EQ(testing_support::contentOf(other / "notes.txt"), "mine");
}

}  // namespace
}  // namespace jugendstil
