// SPDX-License-Identifier: Apache-2.0
// `learn`, and painting with what it makes, driven from outside.
#include <gtest/gtest.h>

#include <csignal>

#include "clip/clip.h"
#include "image/picture_file.h"
#include "learn/quick_painter.h"
#include "learn/recipe.h"
#include "network/onnx_file.h"
#include "paint/recipe.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::strokes;
using testing_support::writeContent;

class LearnProgram : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "ref.png", strokes(90, 80, true), Depth::eight);
    fs::create_directory(folder / "photos");
    writePicture(folder / "photos/one.png", sample(128, 96, 1), Depth::eight);
    writePicture(folder / "photos/two.png", sample(96, 128, 2), Depth::eight);
  }
  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }
  void expectError(const std::vector<std::string>& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }
  // Few steps on small pieces.
  std::vector<std::string> learn(const std::string& output, const std::vector<std::string>& more = {},
                                 const std::string& steps = "4") const {
    std::vector<std::string> words{"learn", "ref.png", "--on", "photos",      "-o",
                                   output,  "--steps", steps,  "--long-edge", "128"};
    words.insert(words.end(), more.begin(), more.end());
    return words;
  }
  std::string svg(const std::string& name) const {
    writeContent(
        folder / name,
        "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 128 96'><rect width='50' height='96'/></svg>");
    return name;
  }
  testing_support::TemporaryFolder folder;
};

TEST_F(LearnProgram, LearnsPaintsAndDoesItAgain) {
  const RunResult r = run(learn("oil.painter.onnx"));
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("oil.painter.onnx: learned in"), std::string::npos) << r.out;
  EXPECT_NE(r.out.find("jugendstil paint PHOTO --with oil.painter.onnx"), std::string::npos) << r.out;
  EXPECT_TRUE(fs::exists(folder / "oil.painter.steps.png"));
  EXPECT_FALSE(fs::exists(folder / "oil.painter.onnx.unfinished"));
  EXPECT_EQ(readQuickPainter(folder / "oil.painter.onnx").references.size(), 1U);
  const LearnRecipe recipe =
      parseLearnRecipe(contentOf(folder / "oil.painter.recipe.toml"), folder / "oil.painter.recipe.toml");
  EXPECT_EQ(recipe.photos.size(), 2U);
  EXPECT_EQ(recipe.result.value().steps, 4);

  const RunResult painted = run({"paint", "photos/one.png", "--with", "oil.painter.onnx", "-o", "out.png"});
  EXPECT_EQ(painted.code, 0) << painted.err;
  EXPECT_NE(painted.out.find("out.png: 128x96, painted in"), std::string::npos) << painted.out;
  EXPECT_NE(run({"paint", "photos/one.png", "--with", "oil.painter.onnx", "--long-edge", "200", "-o", "o.png",
                 "--dry-run"})
                .out.find("with oil.painter.onnx: 200x150, 128x96 at once, then"),
            std::string::npos);
  const std::string bytes = contentOf(folder / "out.png");
  EXPECT_EQ(run({"redo", "out.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "out-again.png"), bytes);

  EXPECT_EQ(run({"redo", "oil.painter.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "oil.painter-again.onnx"), contentOf(folder / "oil.painter.onnx"));
  EXPECT_EQ(run({"redo", "oil.painter.recipe.toml", "--seed", "2", "-o", "two.painter.onnx"}).code, 0);
  EXPECT_NE(readQuickPainter(folder / "two.painter.onnx").net.parameters,
            readQuickPainter(folder / "oil.painter.onnx").net.parameters);

  const RunResult history = run({"history", "."});
  EXPECT_NE(history.out.find("after oil.painter.onnx"), std::string::npos) << history.out;
  const RunResult learned = run({"history", ".", "--of", "learn"});
  EXPECT_NE(learned.out.find("two.painter.onnx"), std::string::npos) << learned.out;
  EXPECT_NE(learned.out.find("learn a painter after ref.png: long-edge 128, steps 4, seed 2"),
            std::string::npos)
      << learned.out;
}

TEST_F(LearnProgram, PaintsWithMasksPartsTablesAndLayers) {
  ASSERT_EQ(run(learn("oil.painter.onnx")).code, 0);
  const Image photo = readPicture(folder / "photos/one.png").image;
  const RunResult part = run({"paint", "photos/one.png", "--part", svg("left.svg") + "=oil.painter.onnx",
                              "-o", "part.png", "--layers", "part.ora"});
  EXPECT_EQ(part.code, 0) << part.err;
  const Image parted = readPicture(folder / "part.png").image;
  EXPECT_EQ(crop(parted, 60, 0, 68, 96).pixels, crop(photo, 60, 0, 68, 96).pixels);
  EXPECT_NE(crop(parted, 0, 0, 40, 96).pixels, crop(photo, 0, 0, 40, 96).pixels);
  EXPECT_TRUE(fs::exists(folder / "part.ora"));
  EXPECT_EQ(run({"redo", "part.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "part-again.png"), contentOf(folder / "part.png"));
  EXPECT_EQ(
      run({"paint", "photos/one.png", "--with", "oil.painter.onnx", "--outside", "left.svg", "-o", "out.png"})
          .code,
      0);
  EXPECT_EQ(crop(readPicture(folder / "out.png").image, 0, 0, 40, 96).pixels,
            crop(photo, 0, 0, 40, 96).pixels);
  const RunResult table = run({"paint", "photos/one.png", "photos/two.png", "--with", "oil.painter.onnx",
                               "--vary", "brushwork=yes,no", "-o", "table/"});
  EXPECT_EQ(table.code, 0) << table.err;
  EXPECT_TRUE(fs::exists(folder / "table/two-brushwork-no.png"));
  EXPECT_TRUE(fs::exists(folder / "table/sheet.png"));
  const RunResult kept = run({"paint", "photos/one.png", "photos/two.png", "--with", "oil.painter.onnx",
                              "--vary", "brushwork=yes,no", "-o", "table/"});
  EXPECT_NE(kept.err.find("4 of 4 paintings are there already and kept"), std::string::npos) << kept.err;
}

TEST_F(LearnProgram, BeginsWhatIsOptimised) {
  ASSERT_EQ(run(learn("oil.painter.onnx")).code, 0);
  const std::vector<std::string> words{"paint", "photos/one.png", "--after", "ref.png", "--steps",
                                       "2",     "--levels",       "1",       "-o"};
  auto plain = words;
  plain.emplace_back("plain.png");
  EXPECT_EQ(run(plain).code, 0);
  auto begun = words;
  begun.insert(begun.end(), {"begun.png", "--with", "oil.painter.onnx"});
  const RunResult r = run(begun);
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(contentOf(folder / "begun.png"), contentOf(folder / "plain.png"));
  const PaintRecipe recipe =
      parsePaintRecipe(contentOf(folder / "begun.recipe.toml"), folder / "begun.recipe.toml");
  EXPECT_EQ(recipe.painter.value().path.filename(), "oil.painter.onnx");
  EXPECT_GT(recipe.result.value().loss.style, 0);
  EXPECT_EQ(run({"redo", "begun.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "begun-again.png"), contentOf(folder / "begun.png"));
  // Fewer steps of its own where none are given.
  const RunResult plan = run({"paint", "photos/one.png", "--after", "ref.png", "--with", "oil.painter.onnx",
                              "--dry-run", "-o", "o.png"});
  EXPECT_NE(plan.out.find("begun by oil.painter.onnx"), std::string::npos) << plan.out;
  EXPECT_NE(plan.out.find("level 1: 128x96, 60 steps"), std::string::npos) << plan.out;
}

TEST_F(LearnProgram, StoppedItPaintsAndGoesOnToTheSame) {
  ASSERT_EQ(run(learn("whole.painter.onnx", {}, "24")).code, 0);
  const RunResult stopped =
      testing_support::runAndSignal(learn("oil.painter.onnx", {}, "24"), folder.path, "step 1 of 24", SIGINT);
  ASSERT_EQ(stopped.code, 130) << stopped.out << stopped.err;
  EXPECT_EQ(run({"paint", "photos/one.png", "--with", "oil.painter.onnx", "-o", "early.png"}).code, 0);
  EXPECT_TRUE(fs::exists(folder / "oil.painter.onnx.unfinished"));
  expectError(learn("oil.painter.onnx", {}, "25"), 1,
              "is a painter that was stopped, with other inputs or settings");
  const RunResult on = run({"redo", "oil.painter.recipe.toml"});
  EXPECT_EQ(on.code, 0) << on.err;
  EXPECT_NE(on.err.find("going on from step"), std::string::npos) << on.err;
  EXPECT_FALSE(fs::exists(folder / "oil.painter.onnx.unfinished"));
  EXPECT_EQ(contentOf(folder / "oil.painter.onnx"), contentOf(folder / "whole.painter.onnx"));
}

TEST_F(LearnProgram, LearnsFromAClipAndPaintsFilms) {
  testing_support::ClipRecipe clip;
  clip.width = 128;
  clip.height = 96;
  testing_support::writeClip(folder / "clip.mkv", clip, testing_support::gliding(128, 96, 1, 0));
  writePicture(folder / "f2.png", strokes(128, 96, false), Depth::eight);
  const RunResult r = run({"learn", "ref.png", "--on", "clip.mkv", "--show", "2=f2.png", "-o",
                           "film.painter.onnx", "--steps", "4", "--long-edge", "128"});
  EXPECT_EQ(r.code, 0) << r.err;
  const RunResult film =
      run({"film", "clip.mkv", "--with", "film.painter.onnx", "-o", "out.mkv", "--frames", "3"});
  EXPECT_EQ(film.code, 0) << film.err;
  EXPECT_NE(film.out.find("out.mkv: 128x96, 3 frames, painted in"), std::string::npos) << film.out;
  EXPECT_NE(film.err.find("steadiness: warping error"), std::string::npos) << film.err;
  EXPECT_EQ(openClip((folder / "out.mkv").string())->info().times.size(), 3U);
  EXPECT_EQ(run({"redo", "out.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "out-again.mkv"), contentOf(folder / "out.mkv"));
  EXPECT_NE(run({"history", "."}).out.find("film.painter.onnx"), std::string::npos);
  expectError({"film", "clip.mkv", "--with", "film.painter.onnx", "--after", "ref.png", "--start", "noise",
               "-o", "o.mkv"},
              2, "both say what a painting begins with");
  expectError({"film", "clip.mkv", "--with", "film.painter.onnx", "--likeness", "20", "-o", "o.mkv"}, 2,
              "learned");
  expectError({"film", "clip.mkv", "--with", "film.painter.onnx", "--frame-steps", "3", "-o", "o.mkv"}, 2,
              "at once");
  expectError({"learn", "ref.png", "--on", "clip.mkv", "--show", "9=f2.png", "-o", "o.painter.onnx"}, 1,
              "has no frame 9");
}

// One layer that turns colours about, from another program, whose white is 255.
TEST_F(LearnProgram, PaintsAndFilmsWithAPainterMadeElsewhere) {
  OnnxGraph graph;
  graph.name = "elsewhere";
  graph.inputs = {{"in", {"1", "3", "64", "64"}}};
  graph.outputs = {{"out", {"1", "3", "64", "64"}}};
  graph.constants = {{"white", {{1}, {255}}}, {"rest", {{1}, {0}}}};
  graph.nodes = {{"Sub", "", {"white", "in"}, {"turned"}, {}, {}, {}},
                 {"Add", "", {"turned", "rest"}, {"out"}, {}, {}, {}}};
  writeOnnxGraph(folder / "negative.onnx", graph);
  const RunResult painted = run({"paint", "photos/one.png", "--with", "negative.onnx", "-o", "out.png"});
  ASSERT_EQ(painted.code, 0) << painted.err;
  Image negative = readPicture(folder / "photos/one.png").image;
  for (float& v : negative.pixels) v = 1 - v;
  EXPECT_LT(testing_support::distance(readPicture(folder / "out.png").image, negative), 1e-5);
  testing_support::writeClip(folder / "clip.mkv", testing_support::ClipRecipe{},
                             testing_support::gliding(64, 48, 1, 0));
  const RunResult film = run({"film", "clip.mkv", "--with", "negative.onnx", "-o", "out.mkv"});
  EXPECT_EQ(film.code, 0) << film.err;
  graph.nodes[1].op = "Gelu";
  writeOnnxGraph(folder / "other.onnx", graph);
  expectError({"paint", "photos/one.png", "--with", "other.onnx", "-o", "o.png"}, 1,
              "the operator Gelu (out) does not fit: painters here are of Add,");
}

TEST_F(LearnProgram, BeginsAFilmThatIsOptimised) {
  ASSERT_EQ(run(learn("oil.painter.onnx")).code, 0);
  testing_support::writeClip(folder / "clip.mkv", testing_support::ClipRecipe{},
                             testing_support::gliding(64, 48, 1, 0));
  const auto film = [](const std::string& output, const std::vector<std::string>& more) {
    std::vector<std::string> words{"film", "clip.mkv", "--after", "ref.png",       "-o",
                                   output, "--frames", "2",       "--frame-steps", "2"};
    words.insert(words.end(), more.begin(), more.end());
    return words;
  };
  EXPECT_NE(
      run(film("b.mkv", {"--with", "oil.painter.onnx", "--dry-run"})).out.find("begun by oil.painter.onnx"),
      std::string::npos);
  const RunResult begun = run(film("b.mkv", {"--with", "oil.painter.onnx", "--steps", "2", "--levels", "1"}));
  ASSERT_EQ(begun.code, 0) << begun.err;
  ASSERT_EQ(run(film("p.mkv", {"--steps", "2", "--levels", "1"})).code, 0);
  EXPECT_NE(contentOf(folder / "b.mkv"), contentOf(folder / "p.mkv"));
  EXPECT_EQ(run({"redo", "b.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "b-again.mkv"), contentOf(folder / "b.mkv"));
  // Without the painter it is the film that was never begun by one.
  EXPECT_EQ(run({"redo", "b.recipe.toml", "--after", "ref.png", "-o", "q.mkv"}).code, 0);
  EXPECT_EQ(contentOf(folder / "q.mkv"), contentOf(folder / "p.mkv"));
}

TEST_F(LearnProgram, VariesIntoAFolderWithASheet) {
  const RunResult r = run(learn("many/", {"--vary", "likeness=20,80"}, "2"));
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(readQuickPainter(folder / "many/ref-likeness-80.painter.onnx").settings.painting.likeness, 80);
  EXPECT_TRUE(fs::exists(folder / "many/sheet.png"));
  fs::remove(folder / "many/ref-likeness-80.painter.onnx");
  fs::remove(folder / "many/ref-likeness-80.painter.recipe.toml");
  fs::remove(folder / "many/ref-likeness-80.painter.steps.png");
  const RunResult again = run(learn("many/", {"--vary", "likeness=20,80"}, "2"));
  EXPECT_EQ(again.code, 0) << again.err;
  EXPECT_NE(again.err.find("1 of 2 painters are there already and kept"), std::string::npos) << again.err;
  EXPECT_TRUE(fs::exists(folder / "many/ref-likeness-80.painter.onnx"));
  expectError(learn("many.onnx", {"--vary", "likeness=20,80"}), 2, "several painters need a folder");
  expectError(learn("others/", {"--vary", "seed=3,3"}), 2, "two painters would be named");
}

TEST_F(LearnProgram, TellsItsPlanAndItsProgress) {
  const RunResult plan = run(learn("oil.painter.onnx", {"--dry-run"}));
  EXPECT_EQ(plan.code, 0) << plan.err;
  EXPECT_NE(plan.out.find("learning ref.png on 2 photos"), std::string::npos) << plan.out;
  EXPECT_NE(plan.out.find("time: about"), std::string::npos) << plan.out;
  EXPECT_NE(plan.out.find("memory: about"), std::string::npos) << plan.out;
  EXPECT_FALSE(fs::exists(folder / "oil.painter.onnx"));
  const RunResult json = run(learn("oil.painter.onnx", {"--progress", "json"}));
  EXPECT_NE(json.out.find("\"loss_style\""), std::string::npos) << json.out;
  EXPECT_NE(json.out.find("\"event\":\"done\""), std::string::npos) << json.out;
}

TEST_F(LearnProgram, WithoutPhotosItTakesThoseOfTheDemoAndSaysSo) {
  const RunResult r =
      run({"learn", "ref.png", "-o", "oil.painter.onnx", "--steps", "1", "--long-edge", "128"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.err.find("your own, with --on, teach it more"), std::string::npos) << r.err;
  const LearnRecipe recipe =
      parseLearnRecipe(contentOf(folder / "oil.painter.recipe.toml"), folder / "oil.painter.recipe.toml");
  ASSERT_GT(recipe.photos.size(), 3U);
  EXPECT_EQ(recipe.photos.back().path.filename(), "ref.png");
}

TEST_F(LearnProgram, SaysWhatIsWrong) {
  fs::create_directory(folder / "empty");
  writePicture(folder / "small.png", sample(40, 60), Depth::eight);
  writePicture(folder / "wide.png", sample(100, 40), Depth::eight);
  writeContent(folder / "bad.painter.onnx", "no painter");
  expectError({"learn", "-o", "o.painter.onnx"}, 2, "learn needs a reference");
  expectError({"learn", "ref.png", "--on", "photos"}, 2, "add -o NAME.painter.onnx");
  expectError(learn("oil.png"), 2, "name it NAME.painter.onnx");
  expectError({"learn", "ref.png", "--on", "empty", "-o", "o.painter.onnx"}, 1, "has no photos in it");
  expectError({"learn", "ref.png", "--on", "small.png", "-o", "o.painter.onnx"}, 1, "at least 64 pixels");
  expectError({"learn", "ref.png", "--on", "missing.png", "-o", "o.painter.onnx"}, 1, "missing.png");
  expectError(learn("o.painter.onnx", {"--opacity", "0.5"}), 2, "no option --opacity");
  expectError(learn("o.painter.onnx", {"--palette", "photo-hue"}), 2, "laid on afterwards");
  expectError(learn("o.painter.onnx", {"--show", "nonsense"}), 2, "FRAME=PICTURE or PHOTO=PICTURE");
  expectError(learn("o.painter.onnx", {"--show", "3=ref.png"}), 2, "goes with --on CLIP");
  expectError(learn("o.painter.onnx", {"--show", "photos/one.png=wide.png"}), 1, "has the format of");
  expectError({"learn", "ref.png", "--on", "photos", "clip.mkv", "-o", "o.painter.onnx"}, 2,
              "one clip by itself");
  const auto paint = [](const std::vector<std::string>& more) {
    std::vector<std::string> words{"paint", "photos/one.png", "-o", "o.png"};
    words.insert(words.end(), more.begin(), more.end());
    return words;
  };
  expectError(paint({"--with", "bad.painter.onnx"}), 1, "bad.painter.onnx");
  expectError(paint({"--with", "missing.painter.onnx"}), 1, "missing.painter.onnx");
  expectError(paint({"--with", "bad.painter.onnx", "--likeness", "30"}), 2, "learned once and for all");
  expectError(paint({"--with", "bad.painter.onnx", "--steps", "30"}), 2, "--steps goes with --after");
  expectError(paint({"--with", "bad.painter.onnx", "--chart", "c.png"}), 2, "--chart draws the steps");
  expectError(paint({"--after", "bad.painter.onnx"}), 2, "give it with --with bad.painter.onnx");
  expectError(paint({"--after", "ref.png", "--with", "bad.painter.onnx", "--start", "noise"}), 2,
              "leave one out");
  expectError(paint({"--with", "bad.painter.onnx", "--part", svg("left.svg") + "=ref.png"}), 2,
              "each part needs one");
  expectError(paint({"--after", "ref.png", "--part", "left.svg=bad.painter.onnx"}), 2, "after references");
  for (const char* file : {"o.painter.onnx", "o.painter.recipe.toml", "o.png", "o.recipe.toml"})
    EXPECT_FALSE(fs::exists(folder / file)) << file;
}

TEST_F(LearnProgram, AFullDiskWhileLearningIsTold) {
  testing_support::Surroundings tight;
  tight.fileSize = 200000;  // less than a painter takes
  const RunResult r = testing_support::runProgram(learn("oil.painter.onnx"), folder.path, tight);
  EXPECT_EQ(r.code, 1);
  EXPECT_NE(r.err.find("oil.painter"), std::string::npos) << r.err;
  EXPECT_FALSE(fs::exists(folder / "oil.painter.onnx"));
}

}  // namespace
}  // namespace jugendstil
