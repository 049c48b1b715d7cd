// SPDX-License-Identifier: Apache-2.0
// Networks that are no plain chain: strides, leaks, windows of 3, sums, concatenations.
#include <gtest/gtest.h>

#include <array>
#include <cmath>
#include <functional>

#include "base/error.h"
#include "network/chain_file.h"
#include "network/evaluator.h"
#include "network/foreign.h"
#include "network/onnx_file.h"
#include "network/section.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using namespace testing_foreign;
using testing_support::TemporaryFolder;

// Two convolutions around which the input goes straight to the sum, or through a 1x1.
void residual(Foreign& f, int inputs, int outputs, int stride) {
  const std::string input = f.last;
  f.convolve(inputs, outputs, 3, false).ints["strides"] = {stride, stride};
  f.normalise(outputs);
  f.add("Relu");
  f.convolve(outputs, outputs, 3, false);
  f.normalise(outputs);
  const std::string straight = f.last;
  if (stride == 1 && inputs == outputs) {
    f.add("Add", {input});
  } else {
    f.last = input;
    f.convolve(inputs, outputs, 1, false).ints["strides"] = {stride, stride};
    f.normalise(outputs);
    const std::string around = f.last;
    f.last = straight;
    f.add("Add", {around});
  }
  f.add("Relu");
}

// The shape of the residual classifiers: a broad first layer, a pool by windows of 3, blocks with sums.
void residualNetwork(Foreign& f) {
  f.convolve(3, 16, 7, false).ints["strides"] = {2, 2};
  f.normalise(16);
  f.add("Relu");
  f.pool("MaxPool", 3, 1);
  residual(f, 16, 16, 1);
  residual(f, 16, 24, 2);
  residual(f, 24, 24, 1);
  f.end();
}

// 1x1 to few channels, then 1x1 and 3x3 side by side.
void squeezed(Foreign& f, int inputs, int few, int each) {
  f.convolve(inputs, few, 1);
  f.add("Relu");
  const std::string input = f.last;
  f.convolve(few, each, 1);
  f.add("Relu");
  const std::string left = f.last;
  f.last = input;
  f.convolve(few, each, 3);
  f.add("Relu");
  const std::string right = f.last;
  f.last = left;
  f.add("Concat", {right}).ints["axis"] = {1};
}

void squeezedNetwork(Foreign& f) {
  f.convolve(3, 16, 3).ints = {{"kernel_shape", {3, 3}}, {"strides", {2, 2}}, {"pads", {1, 1, 1, 1}}};
  f.add("Relu");
  f.pool("MaxPool", 3).ints["ceil_mode"] = {1};
  squeezed(f, 16, 16, 16);
  squeezed(f, 32, 16, 16);
  f.pool("MaxPool");
  f.convolve(32, 24, 3);
  f.add("Relu");
  f.end();
}

// What comes before a layer stays beside what it makes; normalisation comes first.
void denseNetwork(Foreign& f) {
  f.convolve(3, 16, 3);
  f.add("Relu");
  f.pool("AveragePool");
  std::string all = f.last;
  for (const int channels : {16, 24}) {
    f.last = all;
    f.normalise(channels);
    f.add("Relu");
    f.convolve(channels, 8, 3);
    const std::string made = f.last;
    f.last = all;
    f.add("Concat", {made}).ints["axis"] = {1};
    all = f.last;
  }
  f.normalise(32);
  f.add("Relu");
  f.convolve(32, 16, 1);
  f.add("Relu");
  f.end();
}

// Sums of what has its ReLU behind it and of what has none, of pooled layers, and leaks.
void leakyNetwork(Foreign& f) {
  const auto leak = [&](float slope) { f.add("LeakyRelu").floats["alpha"] = slope; };
  f.convolve(3, 16, 5);
  leak(0.2F);
  f.pool("MaxPool");
  const std::string pooled = f.last;
  f.convolve(16, 16, 3);
  leak(0.1F);
  const std::string first = f.last;
  f.convolve(16, 16, 3);
  const std::string bare = f.last;
  f.add("Add", {pooled});
  f.convolve(16, 16, 1);
  leak(0.3F);
  f.add("Add", {first});
  leak(0.1F);
  f.pool("AveragePool", 3, 1);
  f.convolve(16, 16, 3);
  f.add("Relu");
  f.end();
}

struct Shape {
  const char* name;
  const char* early;  // its first layer
  std::function<void(Foreign&)> build;
};

void PrintTo(const Shape& shape, std::ostream* out) { *out << shape.name; }

class Branching : public testing::TestWithParam<Shape> {
 protected:
  // Its first layer is a band, and its last.
  Chain imported() {
    Foreign foreign;
    GetParam().build(foreign);
    writeOnnxGraph(folder / "foreign.onnx", foreign.graph);
    return importedChain(readOnnxGraph(folder / "foreign.onnx"), "foreign.onnx",
                         {{GetParam().early, foreign.last}, {foreign.last}, {}, kStandard});
  }

  TemporaryFolder folder;
};

INSTANTIATE_TEST_SUITE_P(Shapes, Branching,
                         testing::Values(Shape{"residual", "2_1", residualNetwork},
                                         Shape{"squeezed", "2_1", squeezedNetwork},
                                         Shape{"dense", "1_1", denseNetwork},
                                         Shape{"leaky", "1_1", leakyNetwork}),
                         [](const auto& info) { return std::string(info.param.name); });

TEST_P(Branching, SeesWhatTheFileSeesInAnotherRuntime) {
  const Chain chain = imported();
  const SamplePicture p = picture(48, 32);
  const std::string deepest = chain.contentBands.front();
  const std::vector<float> theirs = elsewhere(folder / "foreign.onnx", p, kStandard);
  EXPECT_LT(apart(bandOf(chain, p, deepest), theirs), 1e-4);
  // Our own file says the same, here and there.
  writeOnnxGraph(folder / "own.onnx", graphOf(chain));
  const Chain again = readOnnx(folder / "own.onnx");
  EXPECT_EQ(bandOf(again, p, deepest), bandOf(chain, p, deepest));
  OnnxGraph one = graphOf(chain);
  one.inputs = {{"image", {"1", "3", "32", "48"}}};
  std::erase_if(one.outputs, [&](const OnnxPicture& out) { return out.name != deepest; });
  writeOnnxGraph(folder / "one.onnx", one);
  EXPECT_LT(apart(elsewhere(folder / "one.onnx", p, InputValues{}), theirs), 1e-4);
}

// Half the squared length of the bands, along one direction of the picture.
double halfSquares(Evaluator& evaluator, const std::vector<std::size_t>& bands, const SamplePicture& p) {
  evaluator.forward(p.planes[0], p.planes[1], p.planes[2]);
  double sum = 0;
  for (const std::size_t band : bands) sum += 0.5 * std::pow(lengthOf(evaluator.activations(band)), 2);
  return sum;
}

std::array<std::vector<float>, 3> gradientOf(Evaluator& evaluator, const SamplePicture& p) {
  evaluator.forward(p.planes[0], p.planes[1], p.planes[2]);
  std::array<std::vector<float>, 3> gradient;
  for (auto& plane : gradient) plane.resize(p.planes[0].size());
  evaluator.backward(
      [&](std::size_t band, BandGradient& sink) {
        const auto channels = static_cast<std::size_t>(evaluator.shape(band).channels);
        std::vector<float> identity(channels * channels, 0.0F);
        for (std::size_t c = 0; c < channels; ++c) identity[c * channels + c] = 1;
        sink.addLinear(identity, std::vector<float>(channels, 0.0F), std::vector<float>(channels, 0.0F), {});
      },
      gradient[0], gradient[1], gradient[2]);
  return gradient;
}

TEST_P(Branching, TheGradientIsThatOfFiniteDifferences) {
  const Chain chain = imported();
  const std::vector<std::size_t> bands{0, 1};
  Evaluator evaluator(chain, 48, 32, Precision::full, bands);
  const SamplePicture p = picture(48, 32);
  const auto gradient = gradientOf(evaluator, p);
  // Along itself, where it is steepest and rounding counts least.
  double length = 0;
  for (const auto& plane : gradient) length += std::pow(lengthOf(plane), 2);
  length = std::sqrt(length);
  const double step = 2e-3;
  const auto at = [&](double by) {
    SamplePicture moved = p;
    for (std::size_t c = 0; c < 3; ++c) {
      for (std::size_t i = 0; i < moved.planes[c].size(); ++i)
        moved.planes[c][i] += static_cast<float>(by / length * gradient[c][i]);
    }
    return halfSquares(evaluator, bands, moved);
  };
  EXPECT_NEAR((at(step) - at(-step)) / (2 * step) / length, 1, 5e-3);
}

TEST_P(Branching, TilesSayTheSame) {
  const Chain chain = imported();
  const SamplePicture p = picture(256, 192);
  const std::size_t whole = Evaluator::memoryFor(chain, 256, 192, Precision::full);
  Evaluator one(chain, 256, 192, Precision::full, {0, 1});
  Evaluator tiled(chain, 256, 192, Precision::full, {0, 1}, whole * 3 / 4);
  const auto expected = gradientOf(one, p);
  const auto found = gradientOf(tiled, p);
  for (const std::size_t band : {0, 1}) EXPECT_LT(apart(tiled.gram(band), one.gram(band)), 1e-4) << band;
  for (std::size_t c = 0; c < 3; ++c) EXPECT_LT(apart(found[c], expected[c]), 1e-3) << c;
}

TEST_P(Branching, HalfPrecisionIsNear) {
  if (!processorHasHalf()) GTEST_SKIP() << "no bf16 on this processor";
  const Chain chain = imported();
  const SamplePicture p = picture(96, 64);
  Evaluator full(chain, 96, 64, Precision::full, {0, 1});
  Evaluator half(chain, 96, 64, Precision::half, {0, 1});
  const auto expected = gradientOf(full, p);
  const auto found = gradientOf(half, p);
  for (const std::size_t band : {0, 1})
    EXPECT_LT(apart(half.activations(band), full.activations(band)), 0.02) << band;
  for (std::size_t c = 0; c < 3; ++c) EXPECT_LT(apart(found[c], expected[c]), 0.15) << c;
}

TEST_P(Branching, ScalingChangesNothingButTheScale) {
  const Chain before = imported();
  Chain chain = before;
  const SamplePicture p = picture(48, 32);
  scaleToMeanOne(chain, {p});
  const std::string deepest = chain.contentBands.front();
  const std::vector<float> then = bandOf(before, p, deepest);
  std::vector<float> now = bandOf(chain, p, deepest);
  const double factor = lengthOf(now) / lengthOf(then);
  for (float& v : now) v = static_cast<float>(v / factor);
  EXPECT_LT(apart(now, then), 1e-4);
}

TEST(Branching, ASumOfTwoSizesIsRefused) {
  Foreign foreign;
  foreign.convolve(3, 8, 3);
  foreign.add("Relu");
  const std::string whole = foreign.last;
  foreign.convolve(8, 8, 3).ints["strides"] = {2, 2};
  foreign.add("Add", {whole});
  const std::string sum = foreign.last;
  foreign.add("Relu");
  try {
    importedChain(foreign.graph, "foreign.onnx", {{"1_1"}, {foreign.last}, {}, kStandard});
    FAIL();
  } catch (const Error& e) {
    EXPECT_NE(std::string(e.what()).find("cannot take the operator Add (" + sum +
                                         "): what it brings together is not of"),
              std::string::npos)
        << e.what();
  }
}

// None of these may be read as something else, or end the program.
TEST(Branching, WhatIsMissingOrMeaninglessIsRefused) {
  const auto refused = [](const std::function<void(Foreign&)>& build, const char* because) {
    Foreign foreign;
    foreign.convolve(3, 8, 3);
    build(foreign);
    foreign.add("Relu");
    try {
      importedChain(foreign.graph, "foreign.onnx", {{"9_9"}, {"9_9"}, {}, kStandard});
      FAIL() << because;
    } catch (const Error& e) {
      EXPECT_NE(std::string(e.what()).find(because), std::string::npos) << e.what();
    }
  };
  refused([](Foreign& f) { f.add("Sub"); }, "an input is missing");
  refused([](Foreign& f) { f.add("Mul", {""}); }, "an input is missing");
  refused([](Foreign& f) { f.convolve(8, 8, 3).ints["group"] = {}; }, "group is no number");
  refused([](Foreign& f) { f.convolve(8, 8, 3).ints["pads"] = {1, 1, 1 << 20, 1}; }, "not from 0 to 1000");
  refused(
      [](Foreign& f) {
        f.graph.constants["zero"] = {{8, 1, 1}, std::vector<float>(8, 0.0F)};
        f.add("Div", {"zero"});
      },
      "no numbers");
  const auto pad = [](Foreign& f) { f.add("Pad").ints["pads"] = {0, 0, 1, 1, 0, 0, 1, 1}; };
  refused(
      [&](Foreign& f) {
        pad(f);
        f.normalise(8);
      },
      "between a Pad and the convolution");
  refused(
      [&](Foreign& f) {
        const std::string whole = f.last;
        pad(f);
        f.add("Concat", {whole}).ints["axis"] = {1};
      },
      "side by side what is padded");
  refused([](Foreign& f) { f.pool("AveragePool", 3, 1).ints["count_include_pad"] = {1}; },
          "count_include_pad are 1");
}

TEST(Branching, AConcatenationIsPaddedAsAWhole) {
  const auto built = [](bool apart) {
    Foreign f;
    f.convolve(3, 16, 3);
    f.add("Relu");
    squeezed(f, 16, 8, 16);
    if (apart) f.add("Pad").ints["pads"] = {0, 0, 1, 1, 0, 0, 1, 1};
    f.convolve(32, 8, 3).ints["pads"] = Ints(4, apart ? 0 : 1);
    f.add("Relu");
    return importedChain(f.graph, "f", {{"1_1"}, {f.last}, {}, kStandard});
  };
  const SamplePicture p = picture(48, 32);
  const Chain apart = built(true);
  EXPECT_EQ(apart.notes.count("padding"), 0U);
  EXPECT_EQ(bandOf(apart, p, apart.contentBands[0]), bandOf(built(false), p, apart.contentBands[0]));
}

// Files of a few kilobytes that would take all memory.
TEST(Branching, WhatWouldGrowWithoutEndIsRefused) {
  const auto refused = [](const std::function<void(Foreign&)>& build, const char* because) {
    Foreign foreign;
    build(foreign);
    try {
      importedChain(foreign.graph, "foreign.onnx", {{"9_9"}, {"9_9"}, {}, kStandard});
      FAIL() << because;
    } catch (const Error& e) {
      EXPECT_NE(std::string(e.what()).find(because), std::string::npos) << e.what();
    }
  };
  refused(
      [](Foreign& f) {
        f.convolve(3, 4, 1);
        f.add("Relu");
        for (int i = 0; i < 40; ++i) {
          const std::string twice = f.last;
          f.add("Concat", {twice}).ints["axis"] = {1};
        }
      },
      "over 256 layers side by side");
  refused(
      [](Foreign& f) {
        f.convolve(3, 4096, 1);
        f.add("Relu");
        f.convolve(4096, 4096, 11, false, 4096);
      },
      "would take over 1024 MB");
  refused(
      [](Foreign& f) {
        for (int i = 0; i < 12; ++i) {
          f.convolve(i == 0 ? 3 : 2, 2, 1);
          f.add("Relu");
          f.pool("MaxPool");
        }
      },
      "less than a thousandth");
  refused(
      [](Foreign& f) {
        f.convolve(3, 2, 1);
        for (int i = 0; i < 1200; ++i) {
          f.add("Relu");
          f.convolve(2, 2, 1);
        }
      },
      "over 1000 layers");
}

TEST(Branching, AConvolutionThatPadsLessSeesTheSameInside) {
  Foreign foreign;
  foreign.convolve(3, 8, 3).ints["pads"] = {0, 0, 0, 0};
  foreign.add("Relu");
  foreign.end();
  const TemporaryFolder folder;
  writeOnnxGraph(folder / "foreign.onnx", foreign.graph);
  const Chain chain = importedChain(foreign.graph, "foreign.onnx", {{"1_1"}, {"1_1"}, {}, kStandard});
  EXPECT_NE(chain.notes.at("padding").find("1 layers"), std::string::npos);
  const SamplePicture p = picture(48, 32);
  const std::vector<float> theirs = elsewhere(folder / "foreign.onnx", p, kStandard);  // 46 x 30
  const std::vector<float> ours = bandOf(chain, p, "1_1");
  ASSERT_EQ(theirs.size(), 8U * 46 * 30);
  std::vector<float> inside;
  for (std::size_t c = 0; c < 8; ++c) {
    for (std::size_t y = 1; y < 31; ++y)
      inside.insert(inside.end(), &ours[(c * 32 + y) * 48 + 1], &ours[(c * 32 + y) * 48 + 47]);
  }
  EXPECT_LT(apart(inside, theirs), 1e-5);
}

TEST(Branching, ASectionBeginsOnlyWhereNothingReachesOver) {
  Foreign foreign;
  leakyNetwork(foreign);
  const Chain leaky = importedChain(foreign.graph, "f", {{"1_1"}, {foreign.last}, {}, kStandard});
  // At the first pool, not at the second, whose windows overlap.
  EXPECT_EQ(cutsOf(leaky), std::vector<std::size_t>{1});
  Foreign other;
  squeezedNetwork(other);
  // Both parts are pooled, each by who takes it.
  EXPECT_TRUE(cutsOf(importedChain(other.graph, "f", {{"2_1"}, {other.last}, {}, kStandard})).empty());
}

}  // namespace
}  // namespace jugendstil
