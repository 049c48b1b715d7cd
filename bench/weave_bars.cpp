// SPDX-License-Identifier: Apache-2.0
// The bars of weaving, one line each: jugendstil_weave_bars [FILES...] (the demo's swatches)
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <functional>
#include <numeric>

#include "base/parallel.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "measure.h"
#include "network/chain_file.h"
#include "paint/by_patches.h"
#include "plain_quilting.h"
#include "stray_colours.h"
#include "weave/picture.h"
#include "weave_measures.h"

namespace {

using namespace jugendstil;
using namespace bench;

namespace fs = std::filesystem;

const fs::path kShare = JUGENDSTIL_SHARE_SOURCE;
constexpr int kPiece = 1024;
constexpr int kThreads = 2;
// Shifts of the autocorrelation, in pixels of a swatch of 256.
constexpr int kNear = 16;
constexpr int kFar = 128;

GrowInputs inputsFor(const Image& swatch, int width, int height) {
  GrowInputs inputs;
  inputs.swatches = {{swatch, {}}};
  inputs.width = width;
  inputs.height = height;
  return inputs;
}

double secondsFor(const GrowInputs& inputs) {
  return bestOf(3, [&] { grownPicture(inputs, [](double) {}); });
}

void speed(const std::string& name, const Image& swatch) {
  const double piece = secondsFor(inputsFor(swatch, kPiece, kPiece));
  report(name + ": 1024x1024 from " + std::to_string(swatch.width) + "x" + std::to_string(swatch.height),
         piece, "s", 4, true);
}

void growth(const Image& swatch) {
  const double small = secondsFor(inputsFor(swatch, kPiece, kPiece));
  const double large = secondsFor(inputsFor(swatch, 2 * kPiece, 2 * kPiece));
  report("four times the pixels take so many times the time", large / small, "times", 4.6, true);
  const Image four = resample(swatch, 2 * swatch.width, 2 * swatch.height);
  const double from = secondsFor(inputsFor(four, 2 * kPiece, 2 * kPiece));
  report("a swatch of four times the pixels, so many times the time", from / large, "times", 1.6, true);
}

struct Quality {
  double peak = 0;
  double repeated = 0;
  double mostUsed = 0;
  double style = 0;
  double joins = 0;
};

Quality qualityOf(const Chain& chain, const Grown& grown, const Image& picture, const Image& swatch) {
  return {highestPeak(picture, kNear, kFar) / highestPeak(swatch, kNear, kFar),
          static_cast<double>(repeatedPieces(grown)), mostUsed(grown), styleRatio(chain, picture, swatch),
          energyAtJoins(grown, picture, swatch, false)};
}

// Hard joins, as quilting has them.
Image hardPicture(const Grown& grown, const Image& swatch) {
  Image picture(grown.piece.width, grown.piece.height);
  for (std::size_t i = 0; i < picture.area(); ++i)
    std::copy_n(swatch.pixel(grown.piece.spots[i]), 3, picture.pixel(i));
  return picture;
}

// An edge is one line only: the mean of four pieces.
double energyAcrossEdges(GrowInputs inputs, const Image& swatch) {
  inputs.repeats = {true, true};
  double sum = 0;
  for (inputs.seed = 1; inputs.seed <= 4; ++inputs.seed) {
    const Grown grown = grow(inputs, [](double) {});
    sum +=
        energyAtJoins(grown, pictureOf(grown.piece, grown.atlas, {swatch}, [](double) {}), swatch, true) / 4;
  }
  return sum;
}

// One piece of either may be half as near again as another: their means are compared.
double styleAgainstQuilting(const Chain& chain, const Image& swatch) {
  GrowInputs inputs = inputsFor(swatch, kPiece, kPiece);
  double ours = 0;
  double theirs = 0;
  for (inputs.seed = 1; inputs.seed <= 5; ++inputs.seed) {
    ours += styleRatio(chain, grownPicture(inputs, [](double) {}), swatch);
    theirs +=
        styleRatio(chain, hardPicture(plainQuilting(swatch, kPiece, kPiece, inputs.seed), swatch), swatch);
  }
  return ours / theirs;
}

void quality(const Chain& chain, const std::string& name, const Image& swatch) {
  const GrowInputs inputs = inputsFor(swatch, kPiece, kPiece);
  const Grown grown = grow(inputs, [](double) {});
  const Image picture = pictureOf(grown.piece, grown.atlas, {swatch}, [](double) {});
  const Quality ours = qualityOf(chain, grown, picture, swatch);
  report(name + ": highest peak, piece / swatch", ours.peak, "times", 1.15, true);
  report(name + ": 32x32 pieces seen twice within an edge", ours.repeated, "", 0, true);
  report(name + ": the most used hundredth against the mean", ours.mostUsed, "times", 3, true);
  report(name + ": style, piece / between halves, worst band", ours.style, "times", 1.3, true);
  report(name + ": gradient energy at joins off the swatch's", 100 * std::abs(ours.joins - 1), "%", 5, true);
  report(name + ": the same across the repeating edges",
         100 * std::abs(energyAcrossEdges(inputs, swatch) - 1), "%", 5, true);
  const Grown plain = plainQuilting(swatch, kPiece, kPiece, 1);
  const Quality theirs = qualityOf(chain, plain, hardPicture(plain, swatch), swatch);
  fmt::print(
      "  plain quilting: peak {:.2f}, {:.0f} seen twice, most used {:.2f}, style {:.2f}, joins {:.2f} (ours "
      "{:.2f})\n",
      theirs.peak, theirs.repeated, theirs.mostUsed, theirs.style, theirs.joins, ours.joins);
  report(name + ": seen twice, ours / quilting's", ours.repeated / std::max(1.0, theirs.repeated), "times", 1,
         true);
  report(name + ": most used, ours / quilting's", ours.mostUsed / theirs.mostUsed, "times", 1, true);
  report(name + ": style, ours / quilting's, the mean of five pieces", styleAgainstQuilting(chain, swatch),
         "times", 1, true);
  report(name + ": off at joins, ours / quilting's", std::abs(ours.joins - 1) / std::abs(theirs.joins - 1),
         "times", 1, true);
}

void sameForThreads(const Image& swatch) {
  const GrowInputs inputs = inputsFor(swatch, 512, 512);
  setThreads(1);
  const Image one = grownPicture(inputs, [](double) {});
  setThreads(3);
  const Image three = grownPicture(inputs, [](double) {});
  setThreads(kThreads);
  report("values that differ between one thread and three",
         static_cast<double>(std::inner_product(one.pixels.begin(), one.pixels.end(), three.pixels.begin(),
                                                0L, std::plus<>(), std::not_equal_to<>())),
         "", 0, true);
}

// For photos by patches: the share of colours farther than 8 (CIE Lab) from all of 12,000 pixels of the
// reference.
void byPatches(const Image& photo, const std::string& name) {
  PaintInputs inputs;
  inputs.photo = photo;
  inputs.references = {{rgbOf(readPicture(kShare / "demo/references" / (name + ".jpg")).image), 1}};
  Image picture;
  const double seconds = bestOf(1, [&] { picture = paintByPatches(inputs, {}, [](double) {}); });
  fmt::print("{}: the palm house by patches, {}x{}, {:.1f} s\n", name, picture.width, picture.height,
             seconds);
  const double strays = strayColours(picture, inputs.references.front().image);
  report(name + ": colours of the palm house by patches that it has nowhere", 100 * strays, "%", 3, true);
}

}  // namespace

int main(int argc, char** argv) {
  std::vector<fs::path> files(argv + 1, argv + argc);
  if (files.empty()) {
    for (const char* name : {"moss", "rattan", "glaze", "gravel"})
      files.push_back(kShare / "demo/swatches" / (std::string(name) + ".png"));
  }
  const Image first = rgbOf(readPicture(files.front()).image);
  // Before there are threads.
  report("8192x8192, peak memory", peakMemory([&] {
           setThreads(kThreads);
           grownPicture(inputsFor(first, 8192, 8192), [](double) {});
         }),
         "MB", 2048, true);
  setThreads(kThreads);
  const Chain chain = readOnnx(kShare / "networks/filigree.onnx");
  for (const fs::path& file : files) {
    const Image swatch = rgbOf(readPicture(file).image);
    speed(file.stem().string(), swatch);
    quality(chain, file.stem().string(), swatch);
  }
  growth(first);
  sameForThreads(first);
  const Image photo = rgbOf(readPicture(kShare / "demo/photos/palm_house.jpg").image);
  for (const char* name : {"evening_impasto", "lily_poster", "moon_linocut", "moor_wash", "sun_lily_mosaic"})
    byPatches(photo, name);
}
