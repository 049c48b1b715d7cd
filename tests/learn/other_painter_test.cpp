// SPDX-License-Identifier: Apache-2.0
#include "learn/other_painter.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <opencv2/dnn.hpp>
#include <random>

#include "learn/painter_file.h"
#include "learn/quick_painting.h"
#include "network/onnx_file.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::refusal;
using testing_support::sample;
using testing_support::TemporaryFolder;

constexpr int kWidth = 96;
constexpr int kHeight = 64;

// A painter as other programs write them.
class Made {
 public:
  Made() {
    graph_.name = "made elsewhere";
    graph_.inputs = {{"in", {"1", "3", std::to_string(kHeight), std::to_string(kWidth)}}};
    graph_.outputs = {{"out", {"1", "3", std::to_string(kHeight), std::to_string(kWidth)}}};
  }

  // Each takes what the one before gave, and gives the name of its own.
  OnnxNode& node(const std::string& op, std::vector<std::string> more = {}) {
    OnnxNode made;
    made.op = op;
    made.inputs = std::move(more);
    made.inputs.insert(made.inputs.begin(), last_);
    last_ = "v" + std::to_string(graph_.nodes.size());
    made.outputs = {last_};
    graph_.nodes.push_back(std::move(made));
    return graph_.nodes.back();
  }
  std::string constant(std::vector<std::int64_t> shape, std::vector<float> values) {
    const std::string name = "c" + std::to_string(graph_.constants.size());
    graph_.constants[name] = {std::move(shape), std::move(values)};
    return name;
  }
  std::string drawn(std::vector<std::int64_t> shape, float spread, float middle = 0) {
    std::size_t count = 1;
    for (const std::int64_t d : shape) count *= d;
    std::normal_distribution<float> normal(middle, spread);
    std::vector<float> values(count);
    for (float& v : values) v = normal(random_);
    return constant(std::move(shape), std::move(values));
  }
  void convolution(int inputs, int outputs, int kernel, int stride, bool mirrored) {
    const std::int64_t pad = (kernel - 1) / 2;
    if (mirrored) {
      OnnxNode& padding = node("Pad");
      padding.ints["pads"] = {0, 0, pad, pad, 0, 0, pad, pad};
      padding.strings["mode"] = "reflect";
    }
    const float spread = std::sqrt(2.0F / static_cast<float>(inputs * kernel * kernel));
    OnnxNode& made = node("Conv", {drawn({outputs, inputs, kernel, kernel}, spread), drawn({outputs}, 0.1F)});
    made.ints = {{"kernel_shape", {kernel, kernel}},
                 {"strides", {stride, stride}},
                 {"pads", std::vector<std::int64_t>(4, mirrored ? 0 : pad)}};
  }
  void transposed(int inputs, int outputs, int kernel, int more) {
    const std::int64_t pad = (kernel - 1) / 2;
    OnnxNode& made =
        node("ConvTranspose", {drawn({inputs, outputs, kernel, kernel}, 0.2F), drawn({outputs}, 0.1F)});
    made.ints = {{"kernel_shape", {kernel, kernel}},
                 {"strides", {2, 2}},
                 {"pads", {pad, pad, pad, pad}},
                 {"output_padding", {more, more}}};
  }
  void normalisation(int channels) {
    node("InstanceNormalization", {drawn({channels}, 0.2F, 1), drawn({channels}, 0.2F)}).floats["epsilon"] =
        1e-4F;
  }
  void nearest(float scale) {
    node("Upsample", {constant({4}, {1, 1, scale, scale})}).strings["mode"] = "nearest";
  }

  const std::string& last() const { return last_; }
  OnnxGraph graph() {
    graph_.nodes.back().outputs = {"out"};
    return graph_;
  }

 private:
  OnnxGraph graph_;
  std::string last_ = "in";
  std::mt19937_64 random_{5};
};

// What another runtime makes of a photo whose values go from `black` to `white`, brought back to 0 to 1.
Image paintedElsewhere(const OnnxGraph& graph, const Image& photo, float black, float white) {
  const TemporaryFolder folder;
  writeOnnxGraph(folder / "other.onnx", graph);
  cv::dnn::Net net = cv::dnn::readNetFromONNX((folder / "other.onnx").string());
  Image ranged = photo;
  for (float& v : ranged.pixels) v = black + v * (white - black);
  net.setInput(cv::dnn::blobFromImage(cv::Mat(photo.height, photo.width, CV_32FC3, ranged.pixels.data())));
  const cv::Mat theirs = net.forward();
  Image out(photo.width, photo.height, 3);
  for (std::size_t i = 0; i < photo.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c)
      out.pixels[i * 3 + c] = (theirs.ptr<float>()[c * photo.area() + i] - black) / (white - black);
  }
  return out;
}

void expectTheSame(const OnnxGraph& graph, float black, float white) {
  const Image photo = sample(kWidth, kHeight);
  const Image theirs = paintedElsewhere(graph, photo, black, white);
  const Net net = otherPaintersNet(graph, "other.onnx");
  NetPass pass(net, kWidth, kHeight, NetPass::Use::painting);
  const Planes& ours = pass.forward(centredPlanes(photo));
  for (std::size_t i = 0; i < photo.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c)
      ASSERT_NEAR(ours.plane[c][i] + kMiddle, theirs.pixels[i * 3 + c], 1e-3F) << i << " of channel " << c;
  }
}

// Mirrored margins, residual sums, nearest values enlarged, white at 255.
Made published() {
  Made made;
  made.convolution(3, 8, 9, 1, true);
  made.normalisation(8);
  made.node("Relu");
  made.convolution(8, 20, 3, 2, true);
  made.normalisation(20);
  made.node("Relu");
  const std::string before = made.last();
  made.convolution(20, 20, 3, 1, true);
  made.normalisation(20);
  made.node("Relu");
  made.convolution(20, 20, 3, 1, true);
  made.normalisation(20);
  made.node("Add", {before});
  made.nearest(2);
  made.convolution(20, 8, 3, 1, true);
  made.normalisation(8);
  made.node("Relu");
  made.convolution(8, 3, 9, 1, true);
  made.node("Mul", {made.constant({}, {40})});
  made.node("Add", {made.constant({1, 3, 1, 1}, {120, 130, 140})});
  return made;
}

TEST(OtherPainter, MirroredResidualAndNearestAsElsewhere) { expectTheSame(published().graph(), 0, 255); }

TEST(OtherPainter, TransposedAndBoundedAsElsewhere) {
  for (const auto& [kernel, more] : {std::pair{3, 1}, std::pair{4, 0}, std::pair{2, 0}}) {
    Made made;
    made.convolution(3, 8, 4, 2, false);
    made.normalisation(8);
    made.node("Relu");
    made.transposed(8, 6, kernel, more);
    made.node("BatchNormalization", {made.drawn({6}, 0.2F, 1), made.drawn({6}, 0.2F), made.drawn({6}, 0.2F),
                                     made.constant({6}, {1, 2, 0.5F, 1, 3, 1})});
    made.node("Relu");
    made.convolution(6, 3, 3, 1, false);
    made.node("Tanh");
    SCOPED_TRACE(kernel);
    expectTheSame(made.graph(), -1, 1);
  }
}

TEST(OtherPainter, ValuesFromNoughtToOneAndConstantsOnEitherSide) {
  Made made;
  made.node("Sub", {made.constant({1}, {0.5F})});
  made.convolution(3, 3, 3, 1, false);
  made.node("Div", {made.constant({1}, {4})});
  made.node("Identity");
  OnnxNode& turned = made.node("Sub", {made.constant({}, {0.75F})});
  std::swap(turned.inputs[0], turned.inputs[1]);
  expectTheSame(made.graph(), 0, 1);
}

// What it takes twice, once rectified and once not.
TEST(OtherPainter, ARectificationDoesNotReachBack) {
  Made made;
  made.convolution(3, 3, 3, 1, false);
  const std::string before = made.last();
  made.node("Relu");
  made.node("Add", {before});
  expectTheSame(made.graph(), -1, 1);
}

TEST(OtherPainter, PaintsFromAFileAtAnySize) {
  const TemporaryFolder folder;
  writeOnnxGraph(folder / "published.onnx", published().graph());
  const Painter painter = readPainter(folder / "published.onnx");
  const Image photo = sample(133, 71);
  const Image painted = QuickPainting(painter.net, {photo.width, photo.height}).paint(photo);
  ASSERT_EQ(painted.width, 133);
  EXPECT_NE(painted.pixels, photo.pixels);
}

TEST(OtherPainter, NamesTheOperatorThatCannotBeRun) {
  const auto expect = [](const std::string& part, const std::function<void(Made&)>& end) {
    Made made;
    made.convolution(3, 3, 3, 1, false);
    end(made);
    const OnnxGraph graph = made.graph();
    const std::string answer = refusal([&] { otherPaintersNet(graph, "other.onnx"); });
    EXPECT_NE(answer.find(part), std::string::npos) << answer;
    EXPECT_NE(answer.find("other.onnx: "), std::string::npos) << answer;
  };
  expect("the operator Softmax (out) does not fit: painters here are of Add, ",
         [](Made& m) { m.node("Softmax"); });
  expect("the operator Pad (out) does not fit: it pads neither", [](Made& m) {
    OnnxNode& pad = m.node("Pad");
    pad.ints["pads"] = {0, 0, 1, 1, 0, 0, 1, 1};
    pad.strings["mode"] = "edge";
  });
  expect("what it takes is padded, and it is no Conv", [](Made& m) {
    m.node("Pad").ints["pads"] = {0, 0, 1, 1, 0, 0, 1, 1};
    m.node("Tanh");
  });
  expect("it changes the size: for its kernel it needs 1 more on each side, not 0", [](Made& m) {
    m.node("Conv", {m.drawn({3, 3, 3, 3}, 0.1F)});
  });
  expect("its channels are in groups", [](Made& m) {
    m.node("Conv", {m.drawn({3, 3, 3, 3}, 0.1F)}).ints["group"] = {3};
  });
  expect("it does not enlarge to twice the size", [](Made& m) {
    m.convolution(3, 3, 3, 2, false);
    m.transposed(3, 3, 3, 0);
  });
  expect("neither nearest nor linear", [](Made& m) {
    m.convolution(3, 3, 3, 2, false);
    m.node("Resize", {"", m.constant({4}, {1, 1, 2, 2})}).strings["mode"] = "cubic";
  });
  expect("it does not divide by a number other than 0",
         [](Made& m) { m.node("Div", {m.constant({1}, {0})}); });
  expect("it takes what does not stand before it", [](Made& m) { m.node("Add", {"out"}); });
  expect("takes and gives three channels", [](Made& m) { m.convolution(3, 5, 3, 1, false); });
  expect("enlarges beyond the picture's own size", [](Made& m) { m.nearest(2); });
  expect("it is not the last", [](Made& m) {
    m.node("Clip");
    m.node("Identity");
  });
}

}  // namespace
}  // namespace jugendstil
