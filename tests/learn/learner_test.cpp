// SPDX-License-Identifier: Apache-2.0
#include "learn/learner.h"

#include <gtest/gtest.h>

#include "base/state_file.h"
#include "learn/quick_painting.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::refusal;
using testing_support::sample;
using testing_support::smallChain;
using testing_support::strokes;
using testing_support::TemporaryFolder;

LearnInputs inputs() { return {{sample(96, 80, 1), sample(80, 96, 2)}, {{strokes(96, 96, true), 1}}}; }

LearnSettings settings() {
  LearnSettings s;
  s.longEdge = 96;
  s.side = 64;
  s.steps = 24;
  return s;
}

double meanOf(const std::vector<double>& losses, std::size_t from, std::size_t to) {
  double sum = 0;
  for (std::size_t i = from; i < to; ++i) sum += losses[i];
  return sum / static_cast<double>(to - from);
}

TEST(Learner, GetsNearerToTheReference) {
  const Chain chain = smallChain();
  Learner learner(chain, inputs(), settings());
  std::vector<double> losses;
  for (int i = 0; i < settings().steps; ++i) losses.push_back(learner.step().style);
  EXPECT_LT(meanOf(losses, 16, 24), 0.8 * meanOf(losses, 0, 8));
}

TEST(Learner, StoppedAndContinuedLearnsTheSame) {
  const TemporaryFolder folder;
  const Chain chain = smallChain();
  Learner whole(chain, inputs(), settings());
  for (int i = 0; i < 6; ++i) whole.step();
  {
    Learner first(chain, inputs(), settings());
    for (int i = 0; i < 3; ++i) first.step();
    StateWriter writer(folder / "state", "making");
    first.exchange(writer);
    writer.commit();
  }
  Learner second(chain, inputs(), settings());
  StateReader reader(folder / "state", "making");
  second.exchange(reader);
  EXPECT_EQ(second.stepsDone(), 3);
  for (int i = 0; i < 3; ++i) second.step();
  EXPECT_EQ(second.net().parameters, whole.net().parameters);
}

TEST(Learner, AnotherSeedLearnsAnotherPainter) {
  const Chain chain = smallChain();
  LearnSettings other = settings();
  other.painting.seed = 2;
  Learner a(chain, inputs(), settings());
  Learner b(chain, inputs(), other);
  a.step();
  b.step();
  EXPECT_NE(a.net().parameters, b.net().parameters);
}

// A painter that was shown how a photo is to be painted comes nearer to that, on the photo itself.
TEST(Learner, LearnsFromWhatIsShown) {
  const Chain chain = smallChain();
  const Image photo = sample(96, 96, 3);
  const Image painting = sample(96, 96, 4);
  LearnInputs shown = inputs();
  shown.examples = {{photo, painting}};
  LearnSettings longer = settings();
  longer.steps = 60;
  longer.painting.palette = Palette::photo;
  const auto offAfter = [&](const LearnInputs& all) {
    Learner learner(chain, all, longer);
    for (int i = 0; i < longer.steps; ++i) learner.step();
    return testing_support::distance(QuickPainting(learner.net(), {96, 96}).paint(photo), painting);
  };
  EXPECT_LT(offAfter(shown), 0.9 * offAfter(inputs()));
}

TEST(Learner, RefusesWhatCannotBeLearnedOn) {
  const Chain chain = smallChain();
  EXPECT_EQ(refusal([&] {
              Learner(chain, {{}, inputs().references}, settings());
            }),
            "there are no photos to learn on");
  EXPECT_EQ(refusal([&] {
              Learner(chain, {{sample(63, 80)}, inputs().references}, settings());
            }),
            "a photo to learn on needs at least 64 pixels a side, one has 63x80");
  EXPECT_EQ(refusal([&] {
              Learner(chain, {{sample(300, 64)}, inputs().references}, settings());
            }),
            "a photo to learn on is so narrow that at 96 pixels its short side has 20");
}

// What is not learned is the change of colours; a net of which nothing is left but that gives the photo.
TEST(QuickPainting, ANetThatAddsNothingGivesThePhotoInItsColours) {
  Net net = painterNet(1);
  const int last = static_cast<int>(net.layers.size()) - 2;
  std::fill_n(net.parameters.begin() + static_cast<std::ptrdiff_t>(net.firstParameter(last)),
              net.parameterCount(last), 0.0F);
  const Image photo = sample(37, 50);
  EXPECT_LT(testing_support::distance(QuickPainting(net, {37, 50}).paint(photo), photo), 1e-10);
  setColours(net, {{{{0, 1, 0}, {1, 0, 0}, {0, 0, 0.5}}}, {0, 0, 0.25}});
  const Image turned = QuickPainting(net, {37, 50}).paint(photo);
  for (std::size_t i = 0; i < photo.area(); ++i) {
    EXPECT_NEAR(turned.pixel(i)[0], photo.pixel(i)[1], 1e-5F);
    EXPECT_NEAR(turned.pixel(i)[1], photo.pixel(i)[0], 1e-5F);
    EXPECT_NEAR(turned.pixel(i)[2], 0.5F * photo.pixel(i)[2] + 0.25F, 1e-5F);
  }
}

}  // namespace
}  // namespace jugendstil
