// SPDX-License-Identifier: Apache-2.0
#include "cli/network_import.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "base/error.h"
#include "base/file_name.h"
#include "base/words.h"
#include "cli/say.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "network/import.h"
#include "network/onnx_file.h"
#include "recipe/setting_values.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;
using Texts = std::vector<std::string>;

constexpr int kLongEdge = 256;  // of the pictures over which layers are scaled

const Choices<InputValues> kPresets{
    {"plain", {}},
    // Means and deviations of a widely used set of training photos.
    {"standard", {1, {0.485F, 0.456F, 0.406F}, {0.229F, 0.224F, 0.225F}, false}},
    {"bytes", {255, {123.68F, 116.779F, 103.939F}, {1, 1, 1}, true}}};

const Texts kInputOptions{"preset", "white", "first", "mean", "deviation"};
const Texts kImportOptions{"style", "content", "pooling", "over"};

std::array<float, 3> threeOf(const std::string& name, const std::string& text, double least, double most) {
  const Texts parts = splitAt(text, ',');
  if (parts.size() != 3) throw UsageError(fmt::format("{} is red,green,blue like 0.485,0.456,0.406", name));
  std::array<float, 3> values{};
  for (std::size_t c = 0; c < 3; ++c)
    values[c] = static_cast<float>(numberSetting(name, parts[c], least, most));
  return values;
}

std::optional<InputValues> inputOf(const po::variables_map& given) {
  if (std::none_of(kInputOptions.begin(), kInputOptions.end(),
                   [&](const std::string& name) { return given.count(name) != 0; }))
    return std::nullopt;
  InputValues input = choiceSetting("--preset", textOf(given, "preset", "plain"), kPresets);
  if (given.count("white") != 0)
    input.white =
        choiceSetting("--white", textOf(given, "white"), Choices<float>{{"1", 1.0F}, {"255", 255.0F}});
  if (given.count("first") != 0)
    input.blueFirst =
        choiceSetting("--first", textOf(given, "first"), Choices<bool>{{"red", false}, {"blue", true}});
  if (given.count("mean") != 0) input.mean = threeOf("--mean", textOf(given, "mean"), -255, 255);
  if (given.count("deviation") != 0)
    input.deviation = threeOf("--deviation", textOf(given, "deviation"), 1e-6, 255);
  return input;
}

Texts layersOf(const po::variables_map& given, const char* name, const char* example) {
  if (given.count(name) == 0)
    throw UsageError(fmt::format("import needs the layers of {0}: --{0} {1}", name, example));
  Texts layers;
  for (const std::string& part : splitAt(textOf(given, name), ',')) layers.push_back(trimmedWord(part));
  return layers;
}

std::vector<SamplePicture> picturesOf(const Texts& folders) {
  std::vector<SamplePicture> pictures;
  for (const fs::path folder : folders) {
    if (!fs::is_directory(folder))
      throw UsageError(fmt::format("--over takes folders with pictures; {} is none", folder.string()));
    std::vector<fs::path> files;
    for (const auto& entry : fs::directory_iterator(folder)) {
      if (isPictureName(entry.path())) files.push_back(entry.path());
    }
    std::sort(files.begin(), files.end());
    for (const fs::path& file : files) {
      const Image whole = rgbOf(readPicture(file).image);
      const Size size = sizeForLongEdge(whole.width, whole.height, kLongEdge);
      const Image small = resizePhoto(whole, size.width, size.height);
      SamplePicture picture{small.width, small.height, {}};
      for (std::size_t i = 0; i < small.area(); ++i) {
        for (std::size_t c = 0; c < 3; ++c)
          picture.planes[c].push_back(std::clamp(small.pixels[i * 3 + c], 0.0F, 1.0F));
      }
      pictures.push_back(std::move(picture));
    }
  }
  if (pictures.empty()) throw UsageError("there is no picture in the folders of --over");
  return pictures;
}

}  // namespace

po::options_description importOptions() {
  auto options = optionGroup("Import");
  options.add_options()("style", textValue("LAYER,..."),
                        "bands for style, fine to large: 3_1 is the first layer of a quarter of the sides; "
                        "or names of outputs")("content", textValue("LAYER,..."),
                                               "bands for likeness, in the same way: 4_2")(
      "pooling", textValue("average|maximum"), "how it pools from now on (as the file does)")(
      "preset", textValue("plain|standard|bytes"),
      "the colours that it was trained on: plain from 0 to 1; standard, less the usual mean and by the usual "
      "deviation; bytes from 0 to 255, blue first, less the usual mean")(
      "white", textValue("1|255"), "what white is, in place of the preset's")("first", textValue("red|blue"),
                                                                              "which channel comes first")(
      "mean", textValue("R,G,B"), "taken off, as white counts")("deviation", textValue("R,G,B"),
                                                                "divided by, then")(
      "over", textsValue("DIR"),
      "pictures over which every layer is scaled to a mean of 1 (the demo's photos and references)");
  return options;
}

void requireNoImport(const po::variables_map& given) {
  for (const auto* names : {&kInputOptions, &kImportOptions}) {
    for (const std::string& name : *names) {
      if (given.count(name) != 0)
        throw UsageError(fmt::format("--{} is of import: jugendstil network import FILE.onnx", name));
    }
  }
}

int importNetwork(const po::variables_map& given, const fs::path& file) {
  if (given.count("output") == 0) throw UsageError("import needs a place for the network: add -o mine.onnx");
  const fs::path output = textOf(given, "output");
  if (extensionOf(output) != ".onnx")
    throw UsageError(fmt::format("a network ends in .onnx, not like {}", output.string()));
  requireFree(output, given.count("force") != 0);
  requirePlace(output);
  ImportSettings settings{
      layersOf(given, "style", "1_1,2_1,3_1,4_1"), layersOf(given, "content", "4_2"), {}, inputOf(given)};
  if (given.count("pooling") != 0)
    settings.pooling =
        choiceSetting("--pooling", textOf(given, "pooling"),
                      Choices<Pooling>{{"average", Pooling::average}, {"maximum", Pooling::maximum}});
  Texts folders = listOf(given, "over");
  if (folders.empty()) {
    for (const char* name : {"photos", "references"})
      folders.push_back((shareFolder() / "demo" / name).string());
  }
  const OnnxGraph graph = readOnnxGraph(file);
  if (!settings.input && !saysItsInput(graph))
    throw UsageError(
        fmt::format("{} does not say which colours it was trained on: add --preset standard, bytes or plain, "
                    "or --mean and "
                    "--deviation",
                    file.string()));
  Chain chain = importedChain(graph, file.string(), settings);
  scaleToMeanOne(chain, picturesOf(folders));
  std::map<std::string, std::string> notes = chain.notes;
  notes["made_from"] = fmt::format("{}, check sum {}", file.filename().string(), chain.checksum);
  writeOnnxGraph(output, graphOf(chain, std::move(notes)));
  if (given.count("quiet") != 0) return 0;
  say(stdout, "{}: {} layers, style at {}, likeness at {}; paint with it: --network {}\n", output.string(),
      chain.convolutions.size(), fmt::join(chain.styleBands, ", "), fmt::join(chain.contentBands, ", "),
      output.string());
  if (const auto padding = chain.notes.find("padding"); padding != chain.notes.end())
    say(stdout, "padded {}\n", padding->second);
  return 0;
}

}  // namespace jugendstil::cli
