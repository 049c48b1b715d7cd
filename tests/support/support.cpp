// SPDX-License-Identifier: Apache-2.0
#include "support/support.h"

#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <fstream>
#include <random>
#include <sstream>
#include <stdexcept>

#include "network/chain_file.h"

namespace testing_support {

namespace fs = std::filesystem;
using namespace jugendstil;

TemporaryFolder::TemporaryFolder() {
  std::string pattern = (fs::temp_directory_path() / "jugendstil-test-XXXXXX").string();
  if (mkdtemp(pattern.data()) == nullptr) throw std::runtime_error("no temporary folder");
  path = pattern;
}

TemporaryFolder::~TemporaryFolder() {
  std::error_code code;
  fs::permissions(path, fs::perms::owner_all, code);
  fs::remove_all(path, code);
}

Image sample(int width, int height, unsigned seed, int channels) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<float> unit(0.0F, 1.0F);
  Image image(width, height, channels);
  std::vector<float> phases(static_cast<std::size_t>(channels) * 4);
  for (float& p : phases) p = unit(random) * 6.28F;
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      for (int c = 0; c < channels; ++c) {
        const auto k = static_cast<std::size_t>(c) * 4;
        const float u = static_cast<float>(x) / 9.0F;
        const float v = static_cast<float>(y) / 7.0F;
        const float wave =
            std::sin(u + phases[k]) + std::sin(v + phases[k + 1]) + std::sin(1.7F * (u + v) + phases[k + 2]);
        image.at(x, y, c) = std::clamp(0.5F + 0.11F * wave + 0.12F * (unit(random) - 0.5F), 0.1F, 0.9F);
      }
    }
  }
  return image;
}

Image strokes(int width, int height, bool upright, float red) {
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

Chain smallChain(Pooling pooling) {
  Chain chain;
  chain.name = "small";
  chain.mean = {0.5F, 0.45F, 0.4F};
  chain.scale = {4, 4, 4};
  std::mt19937 random(7);
  std::normal_distribution<float> normal;
  const int channels[] = {3, 16, 16, 32, 32};
  for (int i = 0; i < 4; ++i) {
    Convolution conv;
    conv.name = "conv" + std::to_string(i + 1);
    conv.inputs = channels[i];
    conv.outputs = channels[i + 1];
    conv.pooling = i == 1 || i == 2 ? pooling : Pooling::none;
    const auto inputs = static_cast<std::size_t>(conv.inputs);
    conv.weights.resize(static_cast<std::size_t>(conv.outputs) * inputs * 9);
    const float scale = std::sqrt(2.0F / static_cast<float>(inputs * 9));
    for (float& w : conv.weights) w = scale * normal(random);
    conv.bias.resize(static_cast<std::size_t>(conv.outputs));
    for (float& b : conv.bias) b = 0.3F + 0.1F * normal(random);
    chain.convolutions.push_back(std::move(conv));
  }
  chain.bands = {{"one", 0, 16, 1, 3}, {"two", 2, 32, 4, 20}, {"three", 3, 32, 4, 28}};
  chain.styleBands = {"one", "two", "three"};
  chain.contentBands = {"two"};
  return chain;
}

Chain filigree() { return readOnnx(sourceFolder() / "networks" / "filigree.onnx"); }

fs::path sourceFolder() { return JUGENDSTIL_SOURCE; }

std::string contentOf(const fs::path& file) {
  std::ifstream stream(file, std::ios::binary);
  std::ostringstream text;
  text << stream.rdbuf();
  return text.str();
}

void writeContent(const fs::path& file, const std::string& content) {
  std::ofstream(file, std::ios::binary) << content;
}

std::vector<std::string> filesIn(const fs::path& folder) {
  std::vector<std::string> names;
  for (const auto& entry : fs::directory_iterator(folder)) names.push_back(entry.path().filename().string());
  std::sort(names.begin(), names.end());
  return names;
}

}  // namespace testing_support
