// SPDX-License-Identifier: Apache-2.0
#include "network/foreign.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/dnn.hpp>

#include "network/evaluator.h"

namespace jugendstil::testing_foreign {

const InputValues kStandard{1, {0.485F, 0.456F, 0.406F}, {0.229F, 0.224F, 0.225F}, false};
const InputValues kBytes{255, {123.68F, 116.779F, 103.939F}, {1, 1, 1}, true};

Foreign::Foreign() {
  graph.name = "foreign";
  graph.inputs = {{"data", {"1", "3", "32", "48"}}};
}

OnnxNode& Foreign::add(const char* op, std::vector<std::string> more) {
  OnnxNode node;
  node.op = op;
  node.inputs = {last};
  node.inputs.insert(node.inputs.end(), more.begin(), more.end());
  last = std::string(op) + std::to_string(graph.nodes.size());
  node.name = last;
  node.outputs = {last};
  return graph.nodes.emplace_back(std::move(node));
}

std::string Foreign::constant(const Ints& shape, float middle, float spread) {
  std::size_t count = 1;
  for (const std::int64_t d : shape) count *= static_cast<std::size_t>(d);
  OnnxConstant c{shape, {}};
  std::normal_distribution<float> normal(middle, spread);
  for (std::size_t i = 0; i < count; ++i) c.values.push_back(std::max(-3.0F, normal(random)));
  std::string name = "c" + std::to_string(graph.constants.size());
  graph.constants[name] = std::move(c);
  return name;
}

OnnxNode& Foreign::convolve(int inputs, int outputs, int kernel, bool bias, int groups) {
  const float spread = std::sqrt(2.0F / static_cast<float>(inputs / groups * kernel * kernel));
  std::vector<std::string> more{constant({outputs, inputs / groups, kernel, kernel}, 0, spread)};
  if (bias) more.push_back(constant({outputs}, 0.1F, 0.05F));
  OnnxNode& node = add("Conv", more);
  const std::int64_t k = kernel;
  node.ints = {{"kernel_shape", {k, k}}, {"pads", {k / 2, k / 2, k / 2, k / 2}}, {"group", {groups}}};
  return node;
}

OnnxNode& Foreign::pool(const char* op, int size, int before) {
  OnnxNode& node = add(op);
  node.ints = {{"kernel_shape", {size, size}}, {"strides", {2, 2}}};
  if (before > 0) node.ints["pads"] = Ints(4, before);
  return node;
}

void Foreign::normalise(int channels) {
  add("BatchNormalization", {constant({channels}, 1, 0.2F), constant({channels}, 0.1F, 0.1F),
                             constant({channels}, 0, 0.2F), constant({channels}, 1.5F, 0.1F)})
      .floats["epsilon"] = 1e-4F;
}

void Foreign::end() { graph.outputs = {{last, {"1", "channels", "height", "width"}}}; }

void Foreign::build(const char* pooling, bool padsBefore) {
  convolve(3, 8, 3);
  add("Relu");
  convolve(8, 8, 3);
  add("Relu");
  pool(pooling);
  convolve(8, 16, 3, false, 2);
  normalise(16);
  add("Relu");
  add("Dropout");
  if (padsBefore) {
    graph.constants["pads"] = {{8}, {0, 0, 2, 2, 0, 0, 2, 2}};
    add("Pad", {"pads"}).strings["mode"] = "constant";
  }
  OnnxNode& broad = convolve(16, 8, 5);
  if (padsBefore) broad.ints["pads"] = {0, 0, 0, 0};
  add("Relu");
  deepest = last;
  add("Flatten");
  graph.outputs = {{last, {"1", "768"}}};
}

SamplePicture picture(int width, int height) {
  SamplePicture made{width, height, {}};
  std::mt19937 random(5);
  std::uniform_real_distribution<float> unit;
  for (auto& plane : made.planes) {
    for (int i = 0; i < width * height; ++i) plane.push_back(unit(random));
  }
  return made;
}

std::vector<float> bandOf(const Chain& chain, const SamplePicture& p, const std::string& name) {
  const std::size_t band = chain.bandIndex(name);
  Evaluator evaluator(chain, p.width, p.height, Precision::full, {band});
  evaluator.forward(p.planes[0], p.planes[1], p.planes[2]);
  const BandShape shape = evaluator.shape(band);
  const std::vector<float> rows = evaluator.activations(band);
  std::vector<float> planes(rows.size());
  const auto positions = static_cast<std::size_t>(shape.positions());
  const auto channels = static_cast<std::size_t>(shape.channels);
  for (std::size_t p2 = 0; p2 < positions; ++p2) {
    for (std::size_t c = 0; c < channels; ++c) planes[c * positions + p2] = rows[p2 * channels + c];
  }
  return planes;
}

// What another runtime makes of the file as it is.
std::vector<float> elsewhere(const std::filesystem::path& file, const SamplePicture& p,
                             const InputValues& in) {
  cv::dnn::Net net = cv::dnn::readNetFromONNX(file.string());
  const int sizes[] = {1, 3, p.height, p.width};
  cv::Mat blob(4, sizes, CV_32F);
  for (std::size_t c = 0; c < 3; ++c) {
    const std::size_t own = in.blueFirst ? 2 - c : c;
    for (std::size_t i = 0; i < p.planes[c].size(); ++i)
      blob.ptr<float>(0, static_cast<int>(own))[i] =
          (p.planes[c][i] * in.white - in.mean[c]) / in.deviation[c];
  }
  net.setInput(blob);
  const cv::Mat out = net.forward();
  return {out.ptr<float>(), out.ptr<float>() + out.total()};
}

double lengthOf(const std::vector<float>& values) {
  double sum = 0;
  for (const float v : values) sum += static_cast<double>(v) * static_cast<double>(v);
  return std::sqrt(sum);
}

double apart(const std::vector<float>& a, const std::vector<float>& b) {
  EXPECT_EQ(a.size(), b.size());
  double difference = 0;
  double norm = 0;
  for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i) {
    difference += std::pow(static_cast<double>(a[i] - b[i]), 2);
    norm += std::pow(static_cast<double>(b[i]), 2);
  }
  return std::sqrt(difference / norm);
}

}  // namespace jugendstil::testing_foreign
