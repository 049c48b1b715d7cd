// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file_name.h"
#include "base/utf8.h"
#include "base/words.h"
#include "cli/network_import.h"
#include "cli/network_views.h"
#include "cli/options.h"
#include "cli/say.h"
#include "network/chain_file.h"
#include "network/evaluator.h"
#include "network/layer_facts.h"
#include "network/onnx_graph.h"
#include "recipe/setting_values.h"
#include "report/network_page.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;
using Texts = std::vector<std::string>;

constexpr double kMega = 1e6;

po::options_description networkOptions() {
  auto options = optionGroup("Options");
  options.add_options()(
      "network", textsValue("NETWORK"),
      "the network to look into (the plain word; without it the one that comes with the program)")(
      "at", textValue("WIDTHxHEIGHT"), "memory and work for a picture of this size (768x512)")(
      "output,o", textValue("OUT"),
      "a page for a browser, .html; of a view the sheet; of import the network, .onnx")(
      "json", "one object, for other programs")("force,f", "replace files that exist")("quiet,q",
                                                                                       "nothing but errors");
  addHelpOptions(options);
  return options;
}

struct PictureSize {
  int width = 768;
  int height = 512;
};

PictureSize sizeOf(const std::string& text) {
  const auto sides = splitAt(text, 'x');
  if (sides.size() != 2) throw UsageError(fmt::format("--at is WIDTHxHEIGHT like 768x512, not \"{}\"", text));
  return {wholeSetting("--at", sides[0], 16, 100000), wholeSetting("--at", sides[1], 16, 100000)};
}

std::string roleOf(const LayerFacts& layer) {
  if (layer.band.empty()) return "";
  return fmt::format("{}: {}", onOneLine(layer.band),
                     layer.style && layer.content ? "style, likeness"
                     : layer.style                ? "style"
                     : layer.content              ? "likeness"
                                                  : "not used");
}

std::string operatorOf(const LayerFacts& layer) {
  std::string text;
  if (layer.pooling != Pooling::none)
    text =
        fmt::format("{0} of {1}x{1}, ", layer.pooling == Pooling::average ? "mean" : "largest", layer.window);
  text += fmt::format("{0}x{0}", layer.kernel);
  if (layer.step > 1) text += fmt::format(" by steps of {}", layer.step);
  if (!layer.input.empty()) text += fmt::format(" after {}", layer.input);
  if (!layer.plus.empty()) text += fmt::format(", plus {}", layer.plus);
  if (layer.negativeSlope >= 1)
    text += ", no ReLU";
  else if (layer.negativeSlope > 0)
    text += fmt::format(", below 0 times {}", layer.negativeSlope);
  return text;
}

const Texts kColumns{"layer", "operator", "channels",   "pixels a step",
                     "sees",  "weights",  "memory, MB", "products, millions"};

Texts cellsOf(const LayerFacts& layer) {
  return {layer.number,
          operatorOf(layer),
          std::to_string(layer.outputs),
          std::to_string(layer.stride),
          std::to_string(layer.receptiveField),
          std::to_string(layer.weights),
          fmt::format("{:.1f}", layer.bytes / kMega),
          fmt::format("{:.0f}", layer.products / kMega)};
}

// What is said of the whole.
std::vector<std::pair<std::string, std::string>> factsOf(const Chain& chain,
                                                         const std::vector<LayerFacts>& layers,
                                                         const PictureSize& size) {
  std::size_t weights = 0;
  double products = 0;
  for (const LayerFacts& layer : layers) {
    weights += layer.weights;
    products += layer.products;
  }
  const double memory =
      static_cast<double>(Evaluator::memoryFor(chain, size.width, size.height, Precision::full));
  const auto bands = [](const Texts& names) {
    return names.empty() ? std::string("not chosen yet") : fmt::format("{}", fmt::join(names, ", "));
  };
  std::vector<std::pair<std::string, std::string>> facts{
      {"style", bands(chain.styleBands)},
      {"likeness", bands(chain.contentBands)},
      {"colours", chain.notes.count("input") != 0
                      ? chain.notes.at("input")
                      : fmt::format("red, green, blue from 0 to 1, less {:.3f}, times {:.3f}",
                                    fmt::join(chain.mean, " "), fmt::join(chain.scale, " "))},
      {"weights",
       fmt::format("{:.2f} million in {} layers", static_cast<double>(weights) / kMega, layers.size())},
      {fmt::format("at {}x{}", size.width, size.height),
       fmt::format("{:.0f} MB, {:.1f} thousand million products there and as many back", memory / kMega,
                   products / 1e9)}};
  for (const auto& [key, text] : chain.notes) {
    if (key != "input") facts.emplace_back(onOneLine(key), onOneLine(text));
  }
  facts.emplace_back("check sum", chain.checksum);
  return facts;
}

void sayTable(const std::vector<LayerFacts>& layers) {
  std::vector<Texts> rows{kColumns};
  for (const LayerFacts& layer : layers) rows.push_back(cellsOf(layer));
  std::vector<std::size_t> widths(kColumns.size(), 0);
  for (const Texts& row : rows) {
    for (std::size_t c = 0; c < row.size(); ++c) widths[c] = std::max(widths[c], row[c].size());
  }
  for (std::size_t r = 0; r < rows.size(); ++r) {
    std::string line;
    for (std::size_t c = 0; c < rows[r].size(); ++c)
      line += c < 2 ? fmt::format("{:<{}}  ", rows[r][c], widths[c])
                    : fmt::format("{:>{}}  ", rows[r][c], widths[c]);
    say(stdout, "  {}{}\n", line, r == 0 ? "band" : roleOf(layers[r - 1]));
  }
}

void sayObject(const fs::path& file, const Chain& chain, const std::vector<LayerFacts>& layers,
               const PictureSize& size) {
  nlohmann::json object{
      {"network", file.string()},
      {"check_sum", chain.checksum},
      {"width", size.width},
      {"height", size.height},
      {"memory_bytes", Evaluator::memoryFor(chain, size.width, size.height, Precision::full)},
      {"mean", chain.mean},
      {"scale", chain.scale},
      {"style_bands", chain.styleBands},
      {"content_bands", chain.contentBands},
      {"notes", nlohmann::json::object()},
      {"layers", nlohmann::json::array()}};
  for (const auto& [key, text] : chain.notes) object["notes"][utf8Of(key)] = text;
  for (const LayerFacts& l : layers) {
    object["layers"].push_back({{"number", l.number},
                                {"name", l.name},
                                {"kernel", l.kernel},
                                {"inputs", l.inputs},
                                {"outputs", l.outputs},
                                {"pooling", l.pooling == Pooling::none      ? "none"
                                            : l.pooling == Pooling::average ? "average"
                                                                            : "maximum"},
                                {"window", l.pooling == Pooling::none ? 0 : l.window},
                                {"step", l.step},
                                {"negative_slope", l.negativeSlope},
                                {"input", l.input},
                                {"plus", l.plus},
                                {"stride", l.stride},
                                {"receptive_field", l.receptiveField},
                                {"weights", l.weights},
                                {"bytes", l.bytes},
                                {"products", l.products},
                                {"band", l.band},
                                {"style", l.style},
                                {"content", l.content}});
  }
  sayJson(stdout, object);
}

void writePage(const fs::path& page, const fs::path& file, const Chain& chain,
               const std::vector<LayerFacts>& layers, const PictureSize& size) {
  double most = 0;
  for (const LayerFacts& layer : layers) most = std::max(most, layer.products);
  std::vector<NetworkRow> rows;
  std::string before;  // the stage of the layer before
  for (const LayerFacts& layer : layers) {
    const std::string stage = layer.number.substr(0, layer.number.find('_'));
    rows.push_back(
        {cellsOf(layer), layer.products / most, roleOf(layer), !before.empty() && stage != before});
    before = stage;
  }
  writeFileAtomically(page,
                      networkPage(file.filename().string(), factsOf(chain, layers, size), kColumns, rows));
}

int lookInto(const po::variables_map& given, const fs::path& file) {
  const fs::path page = textOf(given, "output");
  if (!page.empty()) {
    if (extensionOf(page) != ".html")
      throw UsageError(fmt::format("the page of a network ends in .html, not like {}", page.string()));
    requireFree(page, given.count("force") != 0);
    requirePlace(page);
  }
  const PictureSize size = sizeOf(textOf(given, "at", "768x512"));
  const Chain chain = readAnyOnnx(file);
  const std::vector<LayerFacts> layers = layerFacts(chain, size.width, size.height);
  if (!page.empty()) writePage(page, file, chain, layers, size);
  if (given.count("json") != 0) {
    sayObject(file, chain, layers, size);
    return 0;
  }
  if (!page.empty()) {
    if (given.count("quiet") == 0)
      say(stdout, "{}: {} layers, for a browser\n", page.string(), layers.size());
    return 0;
  }
  say(stdout, "{}\n", file.string());
  for (const auto& [name, text] : factsOf(chain, layers, size)) say(stdout, "  {:<12} {}\n", name, text);
  say(stdout, "\n");
  sayTable(layers);
  if (chain.bands.empty())
    say(stdout,
        "\nThis is a network from elsewhere, without bands; choose them:\n"
        "  jugendstil network import {} --style LAYERS --content LAYER -o mine.onnx\n",
        file.string());
  return 0;
}

}  // namespace

CommandHelp networkHelp() {
  return {
      "usage: jugendstil network [FILE.onnx] [options]\n"
      "       jugendstil network [FILE.onnx] --photo PHOTO | --show BAND | --growth REF -o SHEET.png\n"
      "       jugendstil network import FILE.onnx --style LAYERS --content LAYERS -o OUT.onnx\n\n"
      "Shows what a feature network is made of, layer by layer, which layers are its bands, and what\n"
      "it takes at a size. Import makes one out of a classifier that was trained elsewhere: its\n"
      "layers as far as the deepest band. What it wants of colours is found in the file, or said by\n"
      "--preset.\n\n"
      "  jugendstil network --at 2048x1536\n"
      "  jugendstil network import nineteen.onnx --style 1_1,2_1,3_1,4_1 --content 4_2 --preset standard "
      "-o mine.onnx\n"
      "  jugendstil paint photo.jpg --after oil.jpg --network mine.onnx -o out.png\n",
      {networkOptions(), viewOptions(), importOptions()}};
}

int networkCommand(const Words& words) {
  const CommandHelp help = networkHelp();
  po::positional_options_description positions;
  positions.add("network", -1);
  const auto given = parseWords(words, help.options(), positions, "network");
  if (sayHelpIfAsked(given, help)) return 0;
  const Texts files = listOf(given, "network");
  if (!files.empty() && files[0] == "import" && !fs::exists(files[0])) {
    if (asksForView(given))
      throw UsageError("import draws nothing; look at what it wrote with another command");
    if (files.size() != 2) throw UsageError("import takes one network: jugendstil network import FILE.onnx");
    return importNetwork(given, files[1]);
  }
  requireNoImport(given);
  if (files.size() > 1)
    throw UsageError(fmt::format("network looks into one file; \"{}\" is another", files[1]));
  const fs::path file = files.empty() ? shippedNetwork() : fs::path(files[0]);
  return asksForView(given) ? drawNetwork(given, file) : lookInto(given, file);
}

}  // namespace jugendstil::cli
