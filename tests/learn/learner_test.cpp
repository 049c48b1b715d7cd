// SPDX-License-Identifier: Apache-2.0
#include "learn/learner.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <array>

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

TEST(Learner, BeginsWithWhatItIsGiven) {
  const Chain chain = smallChain();
  LearnInputs begun = inputs();
  Learner before(chain, inputs(), settings());
  for (int i = 0; i < settings().steps; ++i) before.step();
  begun.first = before.net();
  Learner after(chain, begun, settings());
  Learner anew(chain, inputs(), settings());
  EXPECT_EQ(after.net().parameters, before.net().parameters);
  EXPECT_LT(after.step().style, 0.8 * anew.step().style);
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

// A net that adds nothing gives the photo, softened, in its own change of colours.
TEST(QuickPainting, ANetThatAddsNothingGivesThePhotoInItsColours) {
  Net net = painterNet(1);
  const auto added = std::find_if(net.layers.rbegin(), net.layers.rend(), [](const NetLayer& l) {
    return l.outputs == 3 && l.stride == 1 && l.kernel == 3 && l.kind == NetLayer::Kind::convolution;
  });
  const auto last = static_cast<int>(net.layers.rend() - added) - 1;
  std::fill_n(net.parameters.begin() + static_cast<std::ptrdiff_t>(net.firstParameter(last)),
              net.parameterCount(last), 0.0F);
  const Image photo = sample(37, 50);
  const Image soft = QuickPainting(net, {37, 50}).paint(photo);
  EXPECT_LT(testing_support::distance(soft, photo), 3e-3);
  setColours(net, {{{{0, 1, 0}, {1, 0, 0}, {0, 0, 0.5}}}, {0, 0, 0.25}});
  const Image turned = QuickPainting(net, {37, 50}).paint(photo);
  for (std::size_t i = 0; i < photo.area(); ++i) {
    EXPECT_NEAR(turned.pixel(i)[0], soft.pixel(i)[1], 1e-5F);
    EXPECT_NEAR(turned.pixel(i)[1], soft.pixel(i)[0], 1e-5F);
    EXPECT_NEAR(turned.pixel(i)[2], 0.5F * soft.pixel(i)[2] + 0.25F, 1e-5F);
  }
}

TEST(QuickPainting, AllPhotosTogetherSayWhatItsColoursAre) {
  const Chain chain = smallChain();
  const Learner learner(chain, inputs(), settings());
  // Mean colours of the photos become about those of the reference.
  const auto meanOf = [](const Image& image) {
    std::array<double, 3> mean{};
    for (std::size_t i = 0; i < image.pixels.size(); ++i)
      mean[i % 3] += static_cast<double>(image.pixels[i]) / static_cast<double>(image.area());
    return mean;
  };
  const LearnInputs all = inputs();
  const auto reference = meanOf(all.references[0].image);
  const auto one = meanOf(recoloured(all.photos[0], learner.colours()));
  const auto two = meanOf(recoloured(all.photos[1], learner.colours()));
  for (std::size_t c = 0; c < 3; ++c) EXPECT_NEAR((one[c] + two[c]) / 2, reference[c], 0.02) << c;
}

}  // namespace
}  // namespace jugendstil
