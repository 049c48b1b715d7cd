// SPDX-License-Identifier: Apache-2.0
#include "network/convolution.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>
#include <vector>

namespace jugendstil {
namespace {

using dnnl::memory;
using Tag = memory::format_tag;
using Type = memory::data_type;

std::vector<float> noise(std::size_t count, unsigned seed) {
  std::mt19937 random(seed);
  std::normal_distribution<float> normal;
  std::vector<float> values(count);
  for (float& v : values) v = normal(random);
  return values;
}

// A 3x3 convolution by chooseConvolution on plain arrays, and the same by its definition.
class Layer {
 public:
  Layer(int inputs, int outputs, int height, int width)
      : inputs_(inputs),
        outputs_(outputs),
        height_(height),
        width_(width),
        weights_(noise(static_cast<std::size_t>(outputs * inputs * 9), 1)),
        bias_(noise(static_cast<std::size_t>(outputs), 2)),
        pair_(chooseConvolution({desc(inputs, Tag::any),
                                 weightsDesc(Tag::any),
                                 memory::desc({outputs}, Type::f32, Tag::x),
                                 desc(outputs, Tag::any),
                                 {1, 1},
                                 {1, 1}},
                                engine_)) {}

  std::size_t scratchpad() const {
    return std::max(pair_.forward.scratchpad_desc().get_size(), pair_.backward.scratchpad_desc().get_size());
  }

  std::vector<float> forward(std::vector<float> source) {
    memory out(pair_.forward.dst_desc(), engine_);
    memory bias(pair_.forward.bias_desc(), engine_, bias_.data());
    dnnl::convolution_forward(pair_.forward)
        .execute(stream_,
                 {{DNNL_ARG_SRC, brought(source, desc(inputs_, Tag::nchw), pair_.forward.src_desc())},
                  {DNNL_ARG_WEIGHTS, brought(weights_, weightsDesc(Tag::oihw), pair_.forward.weights_desc())},
                  {DNNL_ARG_BIAS, bias},
                  {DNNL_ARG_DST, out},
                  {DNNL_ARG_SCRATCHPAD, memory(pair_.forward.scratchpad_desc(), engine_)}});
    return plain(out, outputs_);
  }

  std::vector<float> backward(std::vector<float> gradient) {
    memory out(pair_.backward.diff_src_desc(), engine_);
    dnnl::convolution_backward_data(pair_.backward)
        .execute(stream_, {{DNNL_ARG_DIFF_DST,
                            brought(gradient, desc(outputs_, Tag::nchw), pair_.backward.diff_dst_desc())},
                           {DNNL_ARG_WEIGHTS,
                            brought(weights_, weightsDesc(Tag::oihw), pair_.backward.weights_desc())},
                           {DNNL_ARG_DIFF_SRC, out},
                           {DNNL_ARG_SCRATCHPAD, memory(pair_.backward.scratchpad_desc(), engine_)}});
    return plain(out, inputs_);
  }

  double forwardAt(const std::vector<float>& source, int output, int y, int x) const {
    double sum = static_cast<double>(bias_[static_cast<std::size_t>(output)]);
    for (int i = 0; i < inputs_; ++i)
      eachTap(y, x, [&](int ny, int nx, int ky, int kx) {
        sum += at(source, i, ny, nx) * weight(output, i, ky, kx);
      });
    return std::max(sum, 0.0);
  }

  double backwardAt(const std::vector<float>& gradient, int input, int y, int x) const {
    double sum = 0;
    for (int o = 0; o < outputs_; ++o)
      eachTap(y, x, [&](int ny, int nx, int ky, int kx) {
        sum += at(gradient, o, ny, nx) * weight(o, input, 2 - ky, 2 - kx);
      });
    return sum;
  }

  double at(const std::vector<float>& values, int channel, int y, int x) const {
    return static_cast<double>(values[static_cast<std::size_t>((channel * height_ + y) * width_ + x)]);
  }

 private:
  memory::desc desc(int channels, Tag tag) const {
    return memory::desc({1, channels, height_, width_}, Type::f32, tag);
  }
  memory::desc weightsDesc(Tag tag) const { return memory::desc({outputs_, inputs_, 3, 3}, Type::f32, tag); }

  memory brought(std::vector<float>& values, const memory::desc& from, const memory::desc& to) {
    memory source(from, engine_, values.data());
    memory target(to, engine_);
    dnnl::reorder(source, target).execute(stream_, source, target);
    stream_.wait();
    return target;
  }
  std::vector<float> plain(memory& from, int channels) {
    stream_.wait();
    std::vector<float> values(static_cast<std::size_t>(channels * height_ * width_));
    memory target(desc(channels, Tag::nchw), engine_, values.data());
    dnnl::reorder(from, target).execute(stream_, from, target);
    stream_.wait();
    return values;
  }

  double weight(int o, int i, int ky, int kx) const {
    return static_cast<double>(weights_[static_cast<std::size_t>(((o * inputs_ + i) * 3 + ky) * 3 + kx)]);
  }
  template <typename Take>
  void eachTap(int y, int x, const Take& take) const {
    for (int ky = 0; ky < 3; ++ky) {
      for (int kx = 0; kx < 3; ++kx) {
        const int ny = y + ky - 1;
        const int nx = x + kx - 1;
        if (ny >= 0 && nx >= 0 && ny < height_ && nx < width_) take(ny, nx, ky, kx);
      }
    }
  }

  dnnl::engine engine_{dnnl::engine::kind::cpu, 0};
  dnnl::stream stream_{engine_};
  int inputs_;
  int outputs_;
  int height_;
  int width_;
  std::vector<float> weights_;
  std::vector<float> bias_;
  ConvolutionPair pair_;
};

struct Shape {
  int inputs;
  int outputs;
  int height;
  int width;
};

class EveryShape : public testing::TestWithParam<Shape> {};

// Few channels, few positions, and both ways of minimal filtering; sides that are no multiples of its tiles.
TEST_P(EveryShape, IsTheConvolutionOfItsDefinition) {
  const Shape s = GetParam();
  Layer layer(s.inputs, s.outputs, s.height, s.width);
  const auto positions = static_cast<std::size_t>(s.height * s.width);
  const auto source = noise(static_cast<std::size_t>(s.inputs) * positions, 3);
  const auto gradient = noise(static_cast<std::size_t>(s.outputs) * positions, 4);
  const auto forward = layer.forward(source);
  const auto backward = layer.backward(gradient);
  const double scale = std::sqrt(9.0 * std::max(s.inputs, s.outputs));
  for (int k = 0; k < 60; ++k) {
    // Corners, edges and the middle.
    const int y = k % 3 == 0 ? 0 : k % 3 == 1 ? s.height - 1 : k * 5 % s.height;
    const int x = k % 4 == 0 ? 0 : k % 4 == 1 ? s.width - 1 : k * 7 % s.width;
    const int o = k * 11 % s.outputs;
    const int i = k * 13 % s.inputs;
    EXPECT_NEAR(layer.at(forward, o, y, x), layer.forwardAt(source, o, y, x), 2e-5 * scale);
    EXPECT_NEAR(layer.at(backward, i, y, x), layer.backwardAt(gradient, i, y, x), 2e-5 * scale);
  }
}

INSTANTIATE_TEST_SUITE_P(Shapes, EveryShape,
                         testing::Values(Shape{3, 32, 24, 31}, Shape{32, 64, 21, 30}, Shape{128, 128, 9, 13},
                                         Shape{128, 256, 22, 19}, Shape{256, 256, 27, 33}));

// Tens of megabytes, which tiles must count on; where this library has no such kernel, fewer.
TEST(Scratchpad, IsPlannedFor) {
  for (const Shape& s : {Shape{128, 128, 192, 256}, Shape{256, 256, 96, 128}}) {
    const Layer layer(s.inputs, s.outputs, s.height, s.width);
    Convolution described;
    described.inputs = s.inputs;
    described.outputs = s.outputs;
    const auto planned = static_cast<double>(scratchpadFor(described, s.height * s.width));
    EXPECT_LE(static_cast<double>(layer.scratchpad()), 1.1 * planned + 8e6) << s.inputs;
  }
}

}  // namespace
}  // namespace jugendstil
