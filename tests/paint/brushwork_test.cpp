#include "paint/brushwork.h"

#include <gtest/gtest.h>

#include <cmath>

#include "image/error.h"
#include "image/parallel.h"
#include "paint/enlarge.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

const auto kGoOn = [] { return true; };

Image withBrushwork(const Image& soft, const std::vector<BrushExample>& examples, std::uint64_t seed,
                    const std::function<bool()>& progress) {
  const Brush brush(examples);
  return brush.laidInto(soft, brush.find(soft, seed, progress), 0);
}

// Strokes of one direction, two pixels wide, with sharp edges, each in a tone of its own.
Image strokes(int width, int height, bool upright, float red = 1) {
  Image image(width, height, 3);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      const int across = (upright ? x : y) / 2;
      const int along = ((upright ? y : x) + 5 * across) / 12;
      const float tone = 0.2F + 0.6F * static_cast<float>((across * 7 + along * 11) % 10) / 10.0F;
      for (int c = 0; c < 3; ++c) image.at(x, y, c) = tone * (c == 0 ? red : 1.0F);
    }
  }
  return image;
}

double distance(const Image& a, const Image& b) {
  double sum = 0;
  for (std::size_t i = 0; i < a.pixels.size(); ++i)
    sum += std::pow(static_cast<double>(a.pixels[i] - b.pixels[i]), 2);
  return sum / static_cast<double>(a.pixels.size());
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

TEST(Brushwork, AsksAfterEveryPassAndStopsWhenTold) {
  const Image soft = sample(30, 20);
  const std::vector<BrushExample> examples{brushExample(sample(40, 40), 2)};
  int asked = 0;
  EXPECT_NE(withBrushwork(soft, examples, 1, [&] { return ++asked > 0; }).pixels, soft.pixels);
  EXPECT_EQ(asked, kSearchPasses);
  asked = 0;
  EXPECT_TRUE(Brush(examples).find(soft, 1, [&] { return ++asked < 3; }).empty());
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
  const Image untouched = brush.laidInto(soft, places, 0);
  const Image covered = brush.laidInto(soft, places, 1);
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

TEST(Edges, AreWhatASmallerPictureCannotHold) {
  Image photo(64, 48, 3);
  for (int y = 0; y < 48; ++y) {
    for (int x = 0; x < 64; ++x) {
      // A slope, a sharp edge in it at 40, and grain of a hundredth.
      const float value = 0.3F + 0.002F * static_cast<float>(x) + (x < 40 ? 0.0F : 0.4F) +
                          ((x * 31 + y * 17) % 7 < 3 ? 0.01F : -0.01F);
      for (int c = 0; c < 3; ++c) photo.at(x, y, c) = value;
    }
  }
  const Image edges = edgesBeyond(photo, {32, 24});
  EXPECT_LT(std::abs(edges.at(10, 20, 0)), 0.005);
  EXPECT_GT(edges.at(40, 20, 0) - edges.at(39, 20, 0), 0.08);
}

TEST(Enlarging, EachPartHasItsOwnBrushwork) {
  const PaintReference upright{strokes(90, 90, true), 1};
  const PaintReference lying{strokes(90, 90, false), 1};
  Image left(80, 60, 1);
  Image right(80, 60, 1);
  for (int y = 0; y < 60; ++y) {
    for (int x = 0; x < 80; ++x) (x < 40 ? left : right).at(x, y, 0) = 1;
  }
  std::vector<Region> regions(2);
  regions[0].basis.references = {upright};
  regions[0].weights = left;
  regions[1].basis.references = {lying};
  regions[1].weights = right;
  Image truth = strokes(80, 60, true);
  const Image other = strokes(80, 60, false);
  for (int y = 0; y < 60; ++y) {
    for (int x = 40; x < 80; ++x) {
      for (int c = 0; c < 3; ++c) truth.at(x, y, c) = other.at(x, y, c);
    }
  }
  const Image blank(80, 60, 3, 0.5F);
  const Image small = resample(truth, 40, 30);
  int asked = 0;
  // Strokes of a reference of 90 x 90 keep their size beside 80 x 60 at this one.
  const double stroke = 90 / std::sqrt(80.0 * 60.0);
  const Image out =
      enlargedPainting(small, {80, 60}, {regions, blank, 50, stroke, 1}, 0, [&] { return ++asked > 0; });
  EXPECT_EQ(asked, kSearchPasses);
  const Image soft = resample(small, 80, 60);
  for (const int from : {0, 44}) {
    const auto half = [&](const Image& image) { return crop(image, from, 0, 36, 60); };
    EXPECT_LT(distance(half(out), half(truth)), 0.4 * distance(half(soft), half(truth))) << from;
  }
}

TEST(Enlarging, TheLowerTheLikenessTheMoreIsCovered) {
  std::vector<Region> regions(1);
  regions[0].basis.references.push_back({Image(64, 64, 3, 0.5F), 1});
  const Image blank(64, 64, 3, 0.5F);
  const auto tone = [&](double likeness) {
    return enlargedPainting(Image(32, 32, 3, 0.6F), {64, 64}, {regions, blank, likeness, 1, 1}, 0, kGoOn)
        .at(32, 32, 0);
  };
  EXPECT_LT(tone(0), tone(50));
  EXPECT_LT(tone(50), tone(100));
  EXPECT_LT(tone(100), 0.595F);
  EXPECT_GT(tone(0), 0.499F);
  EXPECT_EQ(coveredAt(50, 2), coveredAt(50, 0) / 4);
}

TEST(Enlarging, LikenessKeepsThePhotosEdges) {
  std::vector<Region> regions(1);
  regions[0].basis.references.push_back({Image(64, 64, 3, 0.5F), 1});
  Image drawing(64, 64, 3, 0.2F);
  for (int y = 0; y < 64; ++y) {
    for (int x = 32; x < 64; ++x) {
      for (int c = 0; c < 3; ++c) drawing.at(x, y, c) = 0.8F;
    }
  }
  const Image small = resample(drawing, 30, 30);
  const auto step = [&](double likeness) {
    const Image out = enlargedPainting(small, {64, 64}, {regions, drawing, likeness, 1, 1}, 0, kGoOn);
    return out.at(32, 30, 0) - out.at(31, 30, 0);
  };
  EXPECT_LT(step(0), step(50));
  EXPECT_LT(step(50), step(100));
}

}  // namespace
}  // namespace jugendstil
