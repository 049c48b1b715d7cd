// SPDX-License-Identifier: Apache-2.0
#include "weave/brushwork.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "base/parallel.h"
#include "base/stop.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::distance;
using testing_support::sample;
using testing_support::strokes;

const auto kGoOn = [] {};

Image withBrushwork(const Image& soft, const std::vector<BrushExample>& examples, std::uint64_t seed,
                    const std::function<void()>& progress) {
  const Brush brush(examples);
  return brush.laidInto(soft, brush.find(soft, seed, progress), Image(1, 1, 1));
}

TEST(Brushwork, GivesBackWhatMakingSmallerTook) {
  const Image reference = strokes(96, 80, true);
  const Image truth = crop(reference, 20, 10, 60, 50);
  const Image soft = brushExample(truth, 2).soft;
  const Image brushed = withBrushwork(soft, {brushExample(reference, 2)}, 1, kGoOn);
  EXPECT_GT(distance(soft, truth), 1e-3);
  EXPECT_LT(distance(brushed, truth), 0.25 * distance(soft, truth));
}

TEST(Brushwork, OfTwoExamplesTakesTheOneThatFits) {
  const Image upright = strokes(96, 80, true);
  const Image lying = strokes(80, 96, false);
  const Image truth = crop(lying, 10, 20, 50, 50);
  const Image soft = brushExample(truth, 2).soft;
  const auto left = [&](const std::vector<BrushExample>& examples) {
    return distance(withBrushwork(soft, examples, 1, kGoOn), truth);
  };
  const double wrong = left({brushExample(upright, 2)});
  const double both = left({brushExample(upright, 2), brushExample(lying, 2)});
  EXPECT_LT(both, 0.5 * wrong);
  EXPECT_LT(both, 0.35 * distance(soft, truth));
}

TEST(Brushwork, DoesNotDependOnThreadsButOnTheSeed) {
  const Image soft = sample(61, 43, 3);
  const std::vector<BrushExample> examples{brushExample(sample(70, 50, 4), 1.6)};
  setThreads(1);
  const auto one = withBrushwork(soft, examples, 7, kGoOn).pixels;
  setThreads(3);
  EXPECT_EQ(withBrushwork(soft, examples, 7, kGoOn).pixels, one);
  setThreads(0);
  EXPECT_NE(withBrushwork(soft, examples, 8, kGoOn).pixels, one);
}

TEST(Brushwork, TellsOfEveryPassAndLetsStoppedThrough) {
  const Image soft = sample(30, 20);
  const std::vector<BrushExample> examples{brushExample(sample(40, 40), 2)};
  int asked = 0;
  EXPECT_NE(withBrushwork(soft, examples, 1, [&] { ++asked; }).pixels, soft.pixels);
  EXPECT_EQ(asked, kSearchPasses);
  asked = 0;
  const auto stop = [&] {
    if (++asked == 3) throw Stopped{};
  };
  EXPECT_THROW(Brush(examples).find(soft, 1, stop), Stopped);
  EXPECT_EQ(asked, 3);
}

// The example's strokes in other tones, and a disk that it knows nothing like.
TEST(Brushwork, CoversWhatItFitsAndLeavesTheSubject) {
  const Image reference = strokes(96, 80, true);
  Image truth = crop(reference, 20, 10, 60, 50);
  Image own = truth;
  for (std::size_t i = 0; i < own.pixels.size(); ++i) own.pixels[i] = 0.9F * own.pixels[i] + 0.05F;
  for (int y = 15; y < 35; ++y) {
    for (int x = 20; x < 40; ++x) {
      own.at(x, y, 0) = 0;
      own.at(x, y, 1) = 1;
      own.at(x, y, 2) = 0;
    }
  }
  const Image soft = brushExample(own, 2).soft;
  const Brush brush({brushExample(reference, 2)});
  const auto places = brush.find(soft, 1, kGoOn);
  const Image untouched = brush.laidInto(soft, places, Image(1, 1, 1));
  const Image covered = brush.laidInto(soft, places, Image(1, 1, 1, 1.0F));
  const auto off = [&](const Image& image, int x) {
    return distance(crop(image, x, 2, 12, 46), crop(truth, x, 2, 12, 46));
  };
  EXPECT_LT(off(covered, 2), 0.5 * off(untouched, 2));
  EXPECT_GT(covered.at(30, 25, 1) - covered.at(30, 25, 0), 0.6F);
}

TEST(Brushwork, NeedsAnExample) {
  EXPECT_THROW(Brush({}), Error);
  EXPECT_THROW(Brush({brushExample(sample(7, 20), 2)}), Error);
}

}  // namespace
}  // namespace jugendstil
