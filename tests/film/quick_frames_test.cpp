// SPDX-License-Identifier: Apache-2.0
// Films by a quick painter.
#include <gtest/gtest.h>

#include <cmath>

#include "base/parallel.h"
#include "base/stop.h"
#include "film/film.h"
#include "learn/paint_at_once.h"
#include "learn/quick_painting.h"
#include "support/clips.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::ClipRecipe;
using testing_support::contentOf;
using testing_support::gliding;
using testing_support::sample;

class QuickFilm : public testing::Test {
 protected:
  void SetUp() override {
    setThreads(2);
    ClipRecipe recipe;
    recipe.frames = 6;
    recipe.width = 96;
    recipe.height = 80;
    testing_support::writeClip(clip(), recipe, gliding(96, 80, 1, 0));
    painter.net = painterNet(1);
    // What it adds is strong: it does not hang on things, and flickers.
    for (std::size_t i = net().firstParameter(added()); i < net().firstParameter(added() + 1); ++i)
      net().parameters[i] *= 40;
    painter.settings.longEdge = 96;
    painter.references = {{sample(60, 60, 7), 1}};
    inputs.clip = clip();
    inputs.output = (folder / "out.mkv").string();
    inputs.painter = &painter;
    inputs.references = painter.references;
    inputs.paint = settingsWith({&painter}, {});
    inputs.making = "a test";
  }
  std::string clip() const { return (folder / "clip.mkv").string(); }
  Net& net() { return painter.net; }
  // The layer that gives what is added to the photo.
  int added() {
    int last = 0;
    for (int i = 0; i < static_cast<int>(net().layers.size()); ++i) {
      const NetLayer& l = net().layers[i];
      if (l.kind == NetLayer::Kind::convolution && l.outputs == 3 && l.stride == 1 && l.kernel == 3) last = i;
    }
    return last;
  }
  std::vector<Image> framesOf(const std::string& name) const {
    const auto source = openClip(name);
    std::vector<Image> frames;
    Image frame;
    while (source->read(frame) == FrameState::read) frames.push_back(frame);
    return frames;
  }

  testing_support::TemporaryFolder folder;
  QuickPainter painter;
  FilmInputs inputs;
};

TEST_F(QuickFilm, PaintsAllFramesAndCleansUp) {
  const FilmResult result = makeFilm(inputs, {});
  EXPECT_TRUE(result.finished);
  EXPECT_EQ(framesOf(inputs.output).size(), 6U);
  EXPECT_GT(result.sourceError, 0);
  EXPECT_EQ(testing_support::filesIn(folder.path), (std::vector<std::string>{"clip.mkv", "out.mkv"}));
}

TEST_F(QuickFilm, StoppedItGoesOnToTheSameBytes) {
  ASSERT_TRUE(makeFilm(inputs, {}).finished);
  const std::string whole = contentOf(inputs.output);
  fs::remove(inputs.output);
  FilmCallbacks stop;
  stop.progress = [](const FilmProgress& p) {
    if (p.stage == std::string("painting") && p.frame >= 4) throw Stopped{};
  };
  ASSERT_FALSE(makeFilm(inputs, stop).finished);
  const FilmResult second = makeFilm(inputs, {});
  EXPECT_TRUE(second.finished);
  EXPECT_GT(second.kept, 0);
  EXPECT_EQ(contentOf(inputs.output), whole);
}

TEST_F(QuickFilm, IsSteadierWhereItIsHeld) {
  inputs.paint.brushwork = false;
  const auto errorAt = [&](double steady) {
    inputs.film.steady = steady;
    inputs.anew = true;
    return makeFilm(inputs, {}).error;
  };
  const double free = errorAt(0);
  EXPECT_LT(errorAt(100), 0.7 * free);
}

// As those of other programs are.
TEST_F(QuickFilm, APainterWithoutReferencesPaintsInItsOwnColours) {
  painter.references.clear();
  inputs.references.clear();
  inputs.paint = settingsWith({&painter}, {});
  ASSERT_TRUE(makeFilm(inputs, {}).finished);
  const std::vector<Image> painted = framesOf(inputs.output);
  ASSERT_EQ(painted.size(), 6U);
  const Image alone = QuickPainting(painter.net, {96, 80}).paint(framesOf(clip())[0]);
  EXPECT_LT(testing_support::distance(painted[0], alone), 1e-4);
}

TEST_F(QuickFilm, AKeyStandsAsItIs) {
  const Image key = sample(96, 80, 11);
  inputs.keys = {{3, key}};
  ASSERT_TRUE(makeFilm(inputs, {}).finished);
  EXPECT_LT(testing_support::distance(framesOf(inputs.output)[3], key), 1e-4);
}

}  // namespace
}  // namespace jugendstil
