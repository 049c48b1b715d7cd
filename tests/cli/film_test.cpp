// SPDX-License-Identifier: Apache-2.0
// `jugendstil film` and `compare` as they are used.
#include <gtest/gtest.h>

#include <csignal>
#include <nlohmann/json.hpp>
#include <sstream>

#include "clip/clip.h"
#include "image/picture_file.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::ClipRecipe;
using testing_support::contentOf;
using testing_support::filesIn;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::streamsOf;

class FilmProgram : public testing::Test {
 protected:
  void SetUp() override {
    ClipRecipe recipe;
    recipe.frames = 6;
    recipe.sound = true;
    testing_support::writeClip(folder / "clip.mkv", recipe, testing_support::gliding(64, 48, 1, 0));
    writePicture(folder / "ref.png", sample(70, 60, 5), Depth::eight);
    Image mask(64, 48, 3);
    for (int y = 0; y < 48; ++y) {
      for (int x = 0; x < 30; ++x) {
        for (int c = 0; c < 3; ++c) mask.at(x, y, c) = 1;
      }
    }
    writePicture(folder / "mask.png", mask, Depth::eight);
  }

  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }

  std::vector<std::string> film(const std::string& output, const std::vector<std::string>& more = {},
                                const std::string& frameSteps = "2") const {
    std::vector<std::string> words{"film",    "clip.mkv", "--after",       "ref.png",
                                   "-o",      output,     "--levels",      "2",
                                   "--steps", "2,2",      "--frame-steps", frameSteps};
    words.insert(words.end(), more.begin(), more.end());
    return words;
  }

  std::size_t framesIn(const std::string& name) const {
    return openClip((folder / name).string())->info().times.size();
  }

  void expectError(const std::vector<std::string>& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(FilmProgram, PaintsAClipWithItsSoundAndSaysHowSteadyItIs) {
  const RunResult r = run(film("out.mkv", {"--chart", "chart.png"}));
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("out.mkv: 64x48, 6 frames, painted in"), std::string::npos) << r.out;
  EXPECT_NE(r.err.find("steadiness: warping error"), std::string::npos) << r.err;
  EXPECT_NE(r.err.find("ratio"), std::string::npos);
  EXPECT_EQ(streamsOf(folder / "out.mkv")[1], streamsOf(folder / "clip.mkv")[1]);
  EXPECT_EQ(readPicture(folder / "chart.png").image.width, 1280);
  EXPECT_FALSE(fs::exists(folder / "out.mkv.work"));
}

TEST_F(FilmProgram, WritesWhatTheNameSays) {
  for (const char* name : {"one.mp4", "two.mov"}) {
    // PCM sound fits into the one and not into the other.
    EXPECT_EQ(run(film(name, {"--frames", "2", "--sound", "none"})).code, 0) << name;
    EXPECT_EQ(streamsOf(folder / name), std::vector<std::string>{"video h264 64x48"});
  }
  EXPECT_EQ(run(film("out.webm", {"--frames", "2", "--sound", "none", "--quality", "60"})).code, 0);
  EXPECT_EQ(streamsOf(folder / "out.webm")[0], "video vp9 64x48");
  EXPECT_EQ(run(film("a.mkv", {"--frames", "2", "--codec", "h264"})).code, 0);
  EXPECT_EQ(streamsOf(folder / "a.mkv")[0], "video h264 64x48");
  EXPECT_EQ(run(film("shot_%03d.png", {"--from", "2", "--to", "3"})).code, 0);
  EXPECT_TRUE(fs::exists(folder / "shot_002.png"));
  EXPECT_TRUE(fs::exists(folder / "shot_003.png"));
  EXPECT_FALSE(fs::exists(folder / "shot_004.png"));
}

TEST_F(FilmProgram, AFilmIsMadeAgainFromItsRecipe) {
  ASSERT_EQ(run(film("out.mkv", {"--likeness", "70", "--inside", "mask.png", "--frames", "3"})).code, 0);
  const RunResult again = run({"redo", "out.recipe.toml"});
  EXPECT_EQ(again.code, 0) << again.err;
  EXPECT_EQ(contentOf(folder / "out.mkv"), contentOf(folder / "out-again.mkv"));
  ASSERT_EQ(run({"redo", "out.recipe.toml", "--steady", "90", "-o", "calm.mkv"}).code, 0);
  EXPECT_NE(contentOf(folder / "out.mkv"), contentOf(folder / "calm.mkv"));
  EXPECT_NE(contentOf(folder / "calm.recipe.toml").find("steady = 90"), std::string::npos);
  // As a preset it brings its settings and references, but no mask.
  ASSERT_EQ(run({"film", "clip.mkv", "--recipe", "out.recipe.toml", "-o", "other.mkv"}).code, 0);
  const std::string other = contentOf(folder / "other.recipe.toml");
  EXPECT_NE(other.find("likeness = 70"), std::string::npos);
  EXPECT_NE(other.find("frames = 3"), std::string::npos);
  EXPECT_EQ(other.find("[[mask]]"), std::string::npos);
  // Another file under the name of an input is noticed.
  writePicture(folder / "ref.png", sample(70, 60, 6), Depth::eight);
  const RunResult noted = run({"redo", "out.recipe.toml", "-o", "changed.mkv"});
  EXPECT_EQ(noted.code, 0);
  EXPECT_NE(noted.err.find("is not the file the recipe was made with"), std::string::npos) << noted.err;
  expectError({"paint", "ref.png", "--after", "ref.png", "--recipe", "out.recipe.toml", "-o", "x.png"}, 2,
              "this is a recipe of film");
  expectError({"redo", "out.recipe.toml", "--stedy", "3"}, 2, "did you mean --steady?");
}

TEST_F(FilmProgram, HoldsPartsOfEveryFrameAndTheRecipeRemembersThem) {
  ASSERT_EQ(run(film("plain.mkv", {"--frames", "3", "--likeness", "0"})).code, 0);
  ASSERT_EQ(run(film("out.mkv", {"--frames", "3", "--likeness", "0", "--hold", "mask.png=100"})).code, 0);
  const std::string recipe = contentOf(folder / "out.recipe.toml");
  EXPECT_NE(recipe.find("[[hold]]\nfile = 'mask.png'"), std::string::npos) << recipe;
  EXPECT_NE(contentOf(folder / "out.mkv"), contentOf(folder / "plain.mkv"));
  ASSERT_EQ(run({"redo", "out.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "out.mkv"), contentOf(folder / "out-again.mkv"));
  expectError(film("a.mkv", {"--hold", "mask.png"}), 2, "hand.png=85");
  expectError(film("a.mkv", {"--hold", "ref.png=80"}), 1, "its photo's format");
  writePicture(folder / "black.png", Image(64, 48), Depth::eight);
  expectError(film("a.mkv", {"--hold", "black.png=80"}), 2, "black all over");
  EXPECT_FALSE(fs::exists(folder / "a.mkv.work"));
  expectError({"film", "clip.mkv", "--after", "ref.png", "--quick", "--hold", "mask.png=80", "-o", "a.mkv"},
              2, "--hold is of painting");
}

TEST_F(FilmProgram, LinesLieOverEveryFrame) {
  ASSERT_EQ(run(film("plain_%d.png", {"--frames", "2"})).code, 0);
  ASSERT_EQ(run(film("lined_%d.png", {"--frames", "2", "--lines", "100"})).code, 0);
  for (const char* number : {"0", "1"}) {
    const Image plain = readPicture(folder / ("plain_" + std::string(number) + ".png")).image;
    const Image lined = readPicture(folder / ("lined_" + std::string(number) + ".png")).image;
    double darker = 0;
    double lighter = 0;
    for (std::size_t i = 0; i < plain.pixels.size(); ++i)
      (lined.pixels[i] < plain.pixels[i] ? darker : lighter) += std::abs(lined.pixels[i] - plain.pixels[i]);
    EXPECT_GT(darker, 5) << number;
    EXPECT_GT(darker, 4 * lighter) << number;
  }
}

TEST_F(FilmProgram, ReadsAndWritesThroughPipes) {
  ASSERT_EQ(run(film("in.y4m", {"--frames", "3"})).code, 0);
  const std::string command =
      "cd '" + folder.path.string() + "' && '" + testing_support::programPath() +
      "' film - --after ref.png --levels 2 --steps 2,2 --frame-steps 2 -o - -q < in.y4m > through.y4m";
  ASSERT_EQ(std::system(command.c_str()), 0);
  EXPECT_EQ(framesIn("through.y4m"), 3U);
  const std::string bad = "cd '" + folder.path.string() + "' && '" + testing_support::programPath() +
                          "' film - --after ref.png -o x.mkv -q < ref.png 2> err.txt";
  EXPECT_NE(std::system(bad.c_str()), 0);
  EXPECT_NE(contentOf(folder / "err.txt").find("is not a YUV4MPEG2 stream"), std::string::npos);
  for (const std::string& file : filesIn(folder.path)) EXPECT_EQ(file.find(".input.y4m"), std::string::npos);
}

TEST_F(FilmProgram, StoppedByCtrlCItGoesOnWithTheSameCommand) {
  auto words = film("out.mkv", {"--progress", "bar", "--steady", "70"}, "8");
  const RunResult stopped = testing_support::runAndSignal(words, folder.path, "painting  frame 3/6", SIGINT);
  EXPECT_EQ(stopped.code, 130) << stopped.err;
  EXPECT_NE(stopped.out.find("the same command goes on from there"), std::string::npos) << stopped.out;
  EXPECT_FALSE(fs::exists(folder / "out.mkv"));
  EXPECT_EQ(run(words).code, 0);
  EXPECT_EQ(framesIn("out.mkv"), 6U);
  words[5] = "again.mkv";
  EXPECT_EQ(run(words).code, 0);
  EXPECT_EQ(contentOf(folder / "out.mkv"), contentOf(folder / "again.mkv"));
}

TEST_F(FilmProgram, BegunWithForceItGoesOnWithForce) {
  testing_support::writeContent(folder / "out.mkv", "an older film");
  const auto words = film("out.mkv", {"--progress", "bar", "--force"}, "8");
  testing_support::runAndSignal(words, folder.path, "painting  frame 3/6", SIGINT);
  EXPECT_EQ(contentOf(folder / "out.mkv"), "an older film");
  const RunResult r = run(words);
  EXPECT_EQ(r.code, 0);
  EXPECT_NE(r.err.find("kept)"), std::string::npos) << r.err;
  EXPECT_EQ(framesIn("out.mkv"), 6U);
}

TEST_F(FilmProgram, OtherSettingsAreNotMixedIntoAStoppedFilm) {
  const auto words = film("out.mkv", {"--progress", "bar"}, "8");
  testing_support::runAndSignal(words, folder.path, "painting  frame 3/6", SIGINT);
  ASSERT_TRUE(fs::exists(folder / "out.mkv.work"));
  const RunResult r = run(film("out.mkv", {"--likeness", "20"}));
  EXPECT_EQ(r.code, 1);
  EXPECT_NE(r.err.find("--force to begin anew"), std::string::npos) << r.err;
  EXPECT_EQ(run(film("out.mkv", {"--likeness", "20", "--force"})).code, 0);
}

TEST_F(FilmProgram, GradesAndTakesALook) {
  EXPECT_EQ(run({"film", "clip.mkv", "--grade", "--after", "ref.png", "-o", "graded.mkv"}).code, 0);
  EXPECT_EQ(framesIn("graded.mkv"), 6U);
  writePicture(folder / "photo.png", sample(64, 48, 2), Depth::eight);
  ASSERT_EQ(run({"grade", "photo.png", "--after", "ref.png", "--save-look", "a.look.toml"}).code, 0);
  EXPECT_EQ(run({"film", "clip.mkv", "--grade", "--look", "a.look.toml", "-o", "looked.mkv"}).code, 0);
  EXPECT_NE(contentOf(folder / "graded.mkv"), contentOf(folder / "looked.mkv"));
}

TEST_F(FilmProgram, GradesStageByStage) {
  const std::vector<std::string> base{"film", "clip.mkv", "--grade", "--after", "ref.png", "-q"};
  const auto frameOf = [&](const std::string& output, std::vector<std::string> more) {
    more.insert(more.begin(), base.begin(), base.end());
    more.insert(more.end(), {"-o", output});
    EXPECT_EQ(run(more).code, 0);
    return contentOf(folder / output);
  };
  const std::string whole = frameOf("whole.y4m", {});
  const std::string tone = frameOf("tone.y4m", {"--match", "tone"});
  EXPECT_NE(tone, whole);
  EXPECT_NE(frameOf("half.y4m", {"--amount", "tone=50,colour=0"}), whole);
  EXPECT_EQ(frameOf("same.y4m", {"--match", "tone,color,detail", "--amount", "tone=100"}), whole);
  EXPECT_EQ(run({"redo", "tone.recipe.toml", "-q", "-o", "again.y4m"}).code, 0);
  EXPECT_EQ(contentOf(folder / "again.y4m"), tone);
  const RunResult listed = run({"history", ".", "--where", "match=tone"});
  EXPECT_NE(listed.out.find("tone.y4m\n  film clip.mkv after ref.png: match tone\n"), std::string::npos)
      << listed.out << listed.err;
  expectError({"film", "clip.mkv", "--after", "ref.png", "--match", "tone", "-o", "x.mkv"}, 2,
              "--match belongs to --grade");
  expectError({"film", "clip.mkv", "--grade", "--after", "ref.png", "--amount", "tone=300", "-o", "x.mkv"}, 2,
              "amount of tone is a number from 0 to 200");
}

TEST_F(FilmProgram, MasksKeysPassesAndSteps) {
  const RunResult masked = run(film("masked.mkv", {"--inside", "mask.png"}));
  EXPECT_EQ(masked.code, 0) << masked.err;
  EXPECT_NE(masked.err.find("mask followed; confidence"), std::string::npos) << masked.err;
  EXPECT_EQ(run(film("later.mkv", {"--outside", "3=mask.png", "--passes", "2"})).code, 0);
  ASSERT_EQ(run(film("m_%02d.png", {"--sound", "none"})).code, 0);
  EXPECT_EQ(run(film("clipmask.mkv", {"--inside", "m_%02d.png"})).code, 0);
  EXPECT_EQ(run({"film", "clip.mkv", "--key", "2=m_02.png", "-o", "keyed.mkv", "--steps", "2",
                 "--frame-steps", "2"})
                .code,
            0);
  EXPECT_EQ(run(film("every.mkv", {"--every", "2", "--gaps", "hold"})).code, 0);
  EXPECT_EQ(framesIn("every.mkv"), 6U);
}

TEST_F(FilmProgram, PaintingsSettingsAndRecipesServeFilmsToo) {
  const RunResult r =
      run(film("out.mkv", {"--frames",   "2",         "--after",   "ref.png@2", "--stroke",    "1.2",
                           "--palette",  "photo",     "--measure", "moments",   "--emphasis",  "fine=2",
                           "--content",  "structure", "--trim",    "0.05",      "--opacity",   "0.5",
                           "--seed",     "3",         "--threads", "1",         "--precision", "full",
                           "--likeness", "70",        "--blend",   "multiply",  "--start",     "noise"}));
  EXPECT_EQ(r.code, 0) << r.err;
  // From a picture of its own, and the photo's lightness put back.
  EXPECT_EQ(run(film("d.mkv", {"--frames", "2", "--after", "ref.png", "--start", "ref.png", "--palette",
                               "photo-lightness"}))
                .code,
            0);
  EXPECT_NE(contentOf(folder / "d.mkv"), contentOf(folder / "out.mkv"));
  ASSERT_EQ(
      run({"paint", "ref.png", "--after", "ref.png", "--levels", "1", "--steps", "2", "-o", "p.png"}).code,
      0);
  EXPECT_EQ(run({"film", "clip.mkv", "--recipe", "p.recipe.toml", "--frames", "2", "-o", "b.mkv"}).code, 0);
  EXPECT_EQ(run({"film", "clip.mkv", "--grade", "--after", "ref.png", "--method", "mean-std", "--amount",
                 "50", "-o", "c.mkv"})
                .code,
            0);
}

TEST_F(FilmProgram, AClipThatChangesItsSizeIsToldWhere) {
  const auto part = [&](const char* name, int width) {
    ClipRecipe recipe;
    recipe.codec = "libx264";
    recipe.width = width;
    testing_support::writeClip(folder / name, recipe, testing_support::gliding(width, 48, 1, 0));
    return contentOf(folder / name);
  };
  testing_support::writeContent(folder / "both.h264", part("a.h264", 64) + part("b.h264", 80));
  const RunResult r = run(
      {"film", "both.h264", "--after", "ref.png", "--steps", "2", "--frame-steps", "2", "-o", "x.mkv", "-q"});
  EXPECT_EQ(r.code, 1);
  EXPECT_NE(r.err.find("changes size: frame 6 is 80x48, the ones before were 64x48"), std::string::npos)
      << r.err;
}

TEST_F(FilmProgram, ProofIsSmallAndForetellsTheWhole) {
  const RunResult r = run({"film", "clip.mkv", "--after", "ref.png", "-o", "out.mkv", "--proof", "--steps",
                           "2", "--long-edge", "64"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_TRUE(fs::exists(folder / "out.proof.mkv"));
  EXPECT_FALSE(fs::exists(folder / "out.mkv"));
  EXPECT_NE(r.err.find("the whole: 6 frames at 64x48, about"), std::string::npos) << r.err;
  EXPECT_NE(r.err.find("MB"), std::string::npos) << r.err;
}

TEST_F(FilmProgram, SwitchesTakeTheirValuesBehindAnEqualsSign) {
  const RunResult whole = run(film("out.mkv", {"--proof=no", "--brushwork", "--dry-run"}));
  EXPECT_EQ(whole.code, 0) << whole.err;
  EXPECT_NE(whole.out.find("would write out.mkv"), std::string::npos) << whole.out;
  EXPECT_EQ(whole.out.find("brushwork"), std::string::npos) << "which is usual: " << whole.out;
  const RunResult proof = run(film("out.mkv", {"--proof", "--dry-run"}));
  EXPECT_NE(proof.out.find("would write out.proof.mkv"), std::string::npos) << proof.out;
}

TEST_F(FilmProgram, DryRunTellsAndWritesNothing) {
  const auto before = filesIn(folder.path);
  const RunResult r = run(film("out.mkv", {"--dry-run"}));
  EXPECT_EQ(r.code, 0) << r.err;
  for (const char* word : {"6 frames at 64x48", "memory: about", "disk while working", "time: about",
                           "would write out.mkv", "clip clip.mkv", "after ref.png", "frame-steps 2"})
    EXPECT_NE(r.out.find(word), std::string::npos) << word << "\n" << r.out;
  EXPECT_EQ(filesIn(folder.path), before);
}

TEST_F(FilmProgram, JsonIsOneObjectALine) {
  const RunResult r = run(film("out.mkv", {"--progress", "json", "--frames", "2"}));
  EXPECT_EQ(r.code, 0);
  std::istringstream lines(r.out);
  std::string line;
  nlohmann::json last;
  while (std::getline(lines, line)) last = nlohmann::json::parse(line);
  EXPECT_EQ(last["event"], "done");
  EXPECT_EQ(last["frames"], 2);
  EXPECT_TRUE(last.contains("warping_error"));
}

TEST_F(FilmProgram, EveryMistakeIsOneClearLine) {
  expectError({"film"}, 2, "film needs a clip");
  expectError({"film", "clip.mkv"}, 2, "add -o OUT.mkv");
  expectError({"film", "clip.mkv", "-o", "out.mkv"}, 2, "film needs a reference");
  expectError(film("out.gif"), 2, "does not say what to write");
  expectError(film("out.mkv", {"--steedy", "3"}), 2, "did you mean --steady?");
  expectError(film("out.mkv", {"--from", "soon"}), 2, "--from is a frame number like 48, or a time");
  expectError(film("out.mkv", {"--from", "99"}), 2, "lies behind the end");
  expectError(film("out.mkv", {"--key", "fixed.png"}), 2, "--key is written FRAME=PICTURE");
  expectError(film("out.mkv", {"--key", "77=ref.png", "-q"}), 2,
              "the keyframe 77 is not among the chosen frames");
  expectError(film("out.mkv", {"--inside", "mask.png", "--outside", "mask.png"}), 2, "exclude each other");
  expectError(film("out.mkv", {"--amount", "50"}), 2, "--amount belongs to --grade");
  expectError(film("clip.mkv", {"--force"}), 2, "would replace the clip itself");
  expectError(film("out.webm"), 2, "which .webm files cannot hold");
  expectError({"film", "none.mkv", "--after", "ref.png", "-o", "out.mkv"}, 1, "there is no clip none.mkv");
  expectError({"film", "ref.png", "--after", "none.png", "-o", "out.mkv"}, 1, "none.png");
  testing_support::writeContent(folder / "taken.mkv", "mine");
  expectError(film("taken.mkv"), 1, "exists already");
  EXPECT_EQ(contentOf(folder / "taken.mkv"), "mine");
}

TEST_F(FilmProgram, ComparesClipsWithTheirSource) {
  ASSERT_EQ(run(film("loose.mkv", {"--steady", "0"})).code, 0);
  ASSERT_EQ(run(film("steady.mkv", {"--steady", "100"})).code, 0);
  const RunResult r =
      run({"compare", "--steadiness", "loose.mkv", "steady.mkv", "--source", "clip.mkv", "--chart", "c.png"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("warping error over 5 pairs"), std::string::npos) << r.out;
  EXPECT_NE(r.out.find("steady.mkv"), std::string::npos);
  EXPECT_TRUE(fs::exists(folder / "c.png"));
  const RunResult json =
      run({"compare", "--steadiness", "clip.mkv", "--source", "clip.mkv", "--progress", "json", "-q"});
  const auto object = nlohmann::json::parse(json.out.substr(json.out.rfind("{\"clips\"")));
  EXPECT_NEAR(object["clips"][0]["warping_error"].get<double>(), object["source_warping_error"].get<double>(),
              1e-12);
  expectError({"compare", "--steadiness"}, 2, "needs the clips");
  expectError({"compare", "--steadiness", "loose.mkv"}, 2, "add --source CLIP");
  ASSERT_EQ(run(film("short.mkv", {"--frames", "3"})).code, 0);
  expectError({"compare", "--steadiness", "short.mkv", "--source", "clip.mkv"}, 1, "has 3 frames");
}

}  // namespace
}  // namespace jugendstil
