// SPDX-License-Identifier: Apache-2.0
#include "paint/regions.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "grade/recolour.h"
#include "image/mask.h"
#include "paint/finish.h"
#include "paint/first_state.h"
#include "paint/painter.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;
using testing_support::smallChain;

PaintReference tinted(float red, float green, float blue, unsigned seed = 9) {
  Image image = sample(80, 70, seed);
  for (std::size_t i = 0; i < image.area(); ++i) {
    image.pixels[i * 3] *= red;
    image.pixels[i * 3 + 1] *= green;
    image.pixels[i * 3 + 2] *= blue;
  }
  return {image, 1};
}

Image leftHalf(int width, int height) {
  Image mask(width, height, 1);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width / 2; ++x) mask.at(x, y, 0) = 1;
  }
  return mask;
}

PaintSettings quick() {
  PaintSettings settings;
  settings.levels = 2;
  settings.steps = {12, 15};
  settings.precision = PrecisionChoice::full;
  return settings;
}

// Mean of one channel over columns [from, to).
double meanOfColumns(const Image& image, int channel, int from, int to) {
  double sum = 0;
  for (int y = 0; y < image.height; ++y) {
    for (int x = from; x < to; ++x) sum += static_cast<double>(image.at(x, y, channel));
  }
  return sum / (image.height * (to - from));
}

TEST(Regions, WithoutPartsThereIsOneEverywhere) {
  const auto regions = regionsOf({sample(40, 30), {tinted(1, 1, 1)}}, {});
  ASSERT_EQ(regions.size(), 1U);
  EXPECT_TRUE(regions[0].weights.empty());
  EXPECT_TRUE(shownPart(regions).empty());
}

TEST(Regions, PartsShareThePictureByTheirAreas) {
  PaintInputs inputs{sample(40, 30), {tinted(1, 1, 1)}};
  inputs.parts.push_back({leftHalf(80, 60), {tinted(1, 0.2F, 0.2F)}});
  auto regions = regionsOf(inputs, {});
  ASSERT_EQ(regions.size(), 2U);
  EXPECT_NEAR(regions[0].area, 0.5, 1e-6);
  EXPECT_NEAR(regions[1].area, 0.5, 1e-6);
  // Two parts over the same half take half of it each.
  inputs.parts.push_back(inputs.parts[0]);
  regions = regionsOf(inputs, {});
  ASSERT_EQ(regions.size(), 3U);
  EXPECT_NEAR(regions[2].area, 0.25, 1e-6);
  // What has neither part nor reference stays the photo.
  inputs.references.clear();
  regions = regionsOf(inputs, {});
  EXPECT_EQ(regions.size(), 2U);
  EXPECT_EQ(shownPart(regions).at(30, 10, 0), 0.0F);
  EXPECT_EQ(shownPart(regions).at(5, 10, 0), 1.0F);
}

TEST(Regions, TheDrawingTakesEachPartsColours) {
  PaintInputs inputs{sample(40, 30), {tinted(0.2F, 0.2F, 1)}};
  inputs.parts.push_back({leftHalf(40, 30), {tinted(1, 0.2F, 0.2F)}});
  const Image drawing = drawingOf(regionsOf(inputs, {}), inputs.photo);
  EXPECT_GT(meanOfColumns(drawing, 0, 0, 20), 2 * meanOfColumns(drawing, 2, 0, 20));
  EXPECT_GT(meanOfColumns(drawing, 2, 20, 40), 2 * meanOfColumns(drawing, 0, 20, 40));
}

TEST(Regions, MasksThatLeaveNothingAreRefused) {
  PaintInputs inputs{sample(40, 30), {tinted(1, 1, 1)}};
  inputs.inside = Image(40, 30, 1);
  EXPECT_THROW(regionsOf(inputs, {}), UsageError);
  inputs.inside = Image();
  inputs.parts.push_back({Image(40, 30, 1), {tinted(1, 1, 1)}});
  EXPECT_THROW(regionsOf(inputs, {}), UsageError);
}

TEST(Painter, PaintsInsideTheMaskAndLeavesTheRestAsItIs) {
  PaintInputs inputs{sample(96, 64), {tinted(1.2F, 0.5F, 0.3F)}};
  inputs.inside = leftHalf(96, 64);
  for (const MeasureKind measure : {MeasureKind::gram, MeasureKind::moments, MeasureKind::sliced}) {
    PaintSettings settings = quick();
    settings.measure = measure;
    const PaintResult result = paint(smallChain(), inputs, settings, {});
    for (int y = 0; y < 64; ++y) {
      for (int x = 50; x < 96; ++x) {
        for (int c = 0; c < 3; ++c) ASSERT_NEAR(result.picture.at(x, y, c), inputs.photo.at(x, y, c), 1e-5F);
      }
    }
    EXPECT_LT(meanOfColumns(result.picture, 2, 0, 46), 0.7 * meanOfColumns(inputs.photo, 2, 0, 46))
        << nameOf(measure);
    EXPECT_LT(meanOfColumns(result.painting, 2, 0, 46), 0.7 * meanOfColumns(inputs.photo, 2, 0, 46));
  }
}

TEST(Painter, EachPartComesAfterItsOwnReference) {
  PaintInputs inputs{sample(96, 64), {tinted(0.2F, 0.3F, 1)}};
  inputs.parts.push_back({leftHalf(96, 64), {tinted(1, 0.3F, 0.2F)}});
  const Image out = paint(smallChain(), inputs, quick(), {}).picture;
  EXPECT_GT(meanOfColumns(out, 0, 0, 44), 1.8 * meanOfColumns(out, 2, 0, 44));
  EXPECT_GT(meanOfColumns(out, 2, 52, 96), 1.8 * meanOfColumns(out, 0, 52, 96));
}

TEST(Regions, APaintingKeepsToItsReferencesColours) {
  const auto even = [](float red, float green, float blue, int width, int height) {
    Image image(width, height);
    for (std::size_t i = 0; i < image.area(); ++i) {
      image.pixels[i * 3] = red;
      image.pixels[i * 3 + 1] = green;
      image.pixels[i * 3 + 2] = blue;
    }
    return image;
  };
  const PaintReference blue{even(0.1F, 0.2F, 0.7F, 40, 40), 1};
  const PaintReference green{even(0.1F, 0.6F, 0.2F, 40, 40), 1};
  PaintInputs inputs{sample(60, 40), {blue}};
  inputs.parts = {{leftHalf(60, 40), {green}}};
  const auto regions = regionsOf(inputs, {});
  const Image red = even(0.8F, 0.1F, 0.1F, 30, 20);
  const Image kept = keptToReferences(red, regions, Palette::reference);
  EXPECT_GT(kept.at(3, 10, 1), 0.5F) << "green on the left";
  EXPECT_GT(kept.at(26, 10, 2), 0.6F) << "blue on the right";
  EXPECT_LT(kept.at(26, 10, 0), 0.3F);
  for (const Palette own : {Palette::photo, Palette::photoChroma, Palette::photoHue})
    EXPECT_EQ(keptToReferences(red, regions, own).pixels, red.pixels);
}

TEST(FirstState, IsWhatTheWordSays) {
  const PaintInputs inputs{sample(40, 30), {tinted(1, 0.3F, 0.2F)}};
  const Image drawing = inputs.photo;
  PaintSettings settings;
  const auto state = [&](const char* start) {
    settings.start = start;
    return firstState(inputs, drawing, settings, {24, 18}, {40, 30});
  };
  EXPECT_EQ(state("photo").pixels, drawing.pixels);
  const Image reference = state("reference");
  EXPECT_NEAR(static_cast<double>(reference.width) / reference.height, 40.0 / 30.0, 0.05);
  const Image noise = state("noise");
  EXPECT_EQ(noise.width, 24);
  const auto wanted = colourStatistics(inputs.references[0].image);
  const auto got = colourStatistics(noise);
  for (std::size_t c = 0; c < 3; ++c) EXPECT_NEAR(got.mean[c], wanted.mean[c], 0.05);
  EXPECT_LT(std::fabs(got.covariance[0][1]), 0.4 * got.covariance[0][0]);
  const auto grey = colourStatistics(state("grey-noise"));
  EXPECT_GT(grey.covariance[0][1], 0.5 * grey.covariance[0][0]);
  settings.seed = 2;
  EXPECT_NE(state("noise").pixels, noise.pixels);
  EXPECT_THROW(state("missing.png"), Error);
}

TEST(InPalette, PutsBackThePhotosChromaLightnessOrHue) {
  Image photo(2, 1, 3, 0.5F);  // a grey and a green
  photo.at(1, 0, 0) = 0.2F;
  photo.at(1, 0, 2) = 0.2F;
  Image painting(2, 1, 3, 0.3F);  // two oranges
  for (int x = 0; x < 2; ++x) {
    painting.at(x, 0, 0) = 0.8F;
    painting.at(x, 0, 1) = 0.5F;
  }
  EXPECT_EQ(inPalette(photo, painting, Palette::reference).pixels, painting.pixels);
  const Image chroma = inPalette(photo, painting, Palette::photoChroma);
  EXPECT_NEAR(chroma.at(0, 0, 0), chroma.at(0, 0, 2), 1e-3F);  // grey as the photo,
  EXPECT_GT(chroma.at(0, 0, 0), 0.51F);                        // as light as the painting
  const Image lightness = inPalette(photo, painting, Palette::photoLightness);
  EXPECT_GT(lightness.at(0, 0, 0), lightness.at(0, 0, 2) + 0.1F);
  EXPECT_LT(lightness.at(0, 0, 0), painting.at(0, 0, 0));
  const Image hue = inPalette(photo, painting, Palette::photoHue);
  EXPECT_GT(hue.at(1, 0, 1), hue.at(1, 0, 0));  // green
  EXPECT_LT(std::fabs(hue.at(0, 0, 0) - hue.at(0, 0, 2)), 0.05F);
  EXPECT_THROW(inPalette(photo, Image(3, 3), Palette::photoHue), Error);
}

}  // namespace
}  // namespace jugendstil
