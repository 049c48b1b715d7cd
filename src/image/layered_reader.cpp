// SPDX-License-Identifier: Apache-2.0
#include "image/layered_reader.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <map>
#include <pugixml.hpp>
#include <span>
#include <string>

#include "base/error.h"
#include "base/zip.h"
#include "helper/helper.h"
#include "helper/packing.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMostBytes = std::size_t{1} << 30;  // of one file in the archive
constexpr std::size_t kMostTogether = std::size_t{4} << 30;
// Of all layers, each as large as the picture.
constexpr double kMostPixels = 1e9;

class Reader {
 public:
  explicit Reader(const fs::path& path) : path_(path) {
    ZipReader zip(path);
    std::size_t bytes = 0;
    for (std::string name = zip.next(); !name.empty(); name = zip.next()) {
      if (name != "stack.xml" && !name.ends_with(".png")) continue;
      files_[name] = zip.content(kMostBytes);
      bytes += files_[name].size();
      if (bytes > kMostTogether) fail("it holds more than 4 GB");
    }
  }

  LayeredPicture read() {
    pugi::xml_document document;
    const std::string& text = file("stack.xml");
    if (!document.load_buffer(text.data(), text.size())) fail("its stack.xml is damaged");
    const pugi::xml_node image = document.child("image");
    out_.width = image.attribute("w").as_int();
    out_.height = image.attribute("h").as_int();
    if (out_.width < 1 || out_.height < 1 || 1.0 * out_.width * out_.height > kMostPixels)
      fail("it has no size");
    take(image.child("stack"));
    if (out_.layers.empty()) fail("it has no layers");
    std::reverse(out_.layers.begin(), out_.layers.end());
    return std::move(out_);
  }

 private:
  [[noreturn]] void fail(const std::string& why) const {
    throw Error(fmt::format("{} cannot be read as OpenRaster: {}", path_.string(), why));
  }

  const std::string& file(const std::string& name) const {
    const auto found = files_.find(name);
    if (found == files_.end()) fail(fmt::format("{} is missing in it", name));
    return found->second;
  }

  // The uppermost comes first, in files as here.
  void take(const pugi::xml_node& stack) {
    for (const pugi::xml_node& node : stack.children()) {
      const std::string kind = node.name();
      if (kind == "layer") takeLayer(node);
      if (kind == "stack") takeGroup(node);
    }
  }

  void takeGroup(const pugi::xml_node& group) {
    const std::string name = group.attribute("name").as_string("a group");
    if (group.attribute("opacity").as_double(1) != 1 || modeOf(group, name) != BlendMode::normal)
      fail(fmt::format(
          "the group \"{}\" has an opacity or blend mode of its own; merge it to one layer first", name));
    if (std::string(group.attribute("visibility").as_string("visible")) == "visible") take(group);
  }

  void takeLayer(const pugi::xml_node& node) {
    const double pixels = 1.0 * out_.width * out_.height * static_cast<double>(out_.layers.size() + 1);
    if (pixels > kMostPixels) fail("its layers have more than a thousand megapixels together");
    PictureLayer layer;
    layer.name = node.attribute("name").as_string("layer");
    layer.blend = modeOf(node, layer.name);
    layer.opacity = std::clamp(node.attribute("opacity").as_double(1), 0.0, 1.0);
    layer.visible = std::string(node.attribute("visibility").as_string("visible")) == "visible";
    const std::string& bytes = file(node.attribute("src").as_string());
    constexpr std::size_t kBitsAt = 24;  // of a PNG's header
    if (bytes.size() > kBitsAt && bytes[kBitsAt] == 16) out_.depth = Depth::sixteen;
    layer.image = placed(decodedPng(bytes), node.attribute("x").as_int(), node.attribute("y").as_int());
    out_.layers.push_back(std::move(layer));
  }

  BlendMode modeOf(const pugi::xml_node& node, const std::string& layer) const {
    const std::string operation = node.attribute("composite-op").as_string("svg:src-over");
    if (operation == "svg:src-over") return BlendMode::normal;
    const auto& names = blendModeNames();
    const std::string name = operation.starts_with("svg:") ? operation.substr(4) : operation;
    if (std::find(names.begin(), names.end(), name) == names.end())
      fail(fmt::format("layer \"{}\" is laid by {}; there are {}", layer, operation, fmt::join(names, ", ")));
    return blendModeOf(name);
  }

  // On a sheet of the picture's size; as it is where it covers that.
  Image placed(Image layer, int left, int top) const {
    if (left == 0 && top == 0 && layer.width == out_.width && layer.height == out_.height) return layer;
    Image sheet(out_.width, out_.height, 4);
    for (int y = std::max(0, -top); y < layer.height && y + top < sheet.height; ++y) {
      for (int x = std::max(0, -left); x < layer.width && x + left < sheet.width; ++x) {
        float* to = &sheet.at(x + left, y + top, 0);
        const float* from = &layer.at(x, y, 0);
        std::copy_n(from, layer.channels, to);
        if (layer.channels == 3) to[3] = 1;
      }
    }
    return sheet;
  }

  fs::path path_;
  std::map<std::string, std::string> files_;
  LayeredPicture out_;
};

// The work of the helper: what the picture is, and for each layer what it is and its pixels.
void readLayers(Asker& asker) {
  const LayeredPicture picture = Reader(asker.next()).read();
  Packer about;
  about.value(picture.width);
  about.value(picture.height);
  about.value(picture.depth);
  about.value<std::uint64_t>(picture.layers.size());
  asker.answer(about.bytes());
  for (const PictureLayer& layer : picture.layers) {
    Packer one;
    one.text(layer.name);
    one.value(layer.blend);
    one.value(layer.opacity);
    one.value(layer.visible);
    one.value(layer.image.channels);
    asker.answer(one.bytes());
    const std::vector<float>& pixels = layer.image.pixels;
    asker.answer({reinterpret_cast<const char*>(pixels.data()), pixels.size() * sizeof(float)});
  }
}

PictureLayer unpackedLayer(Helper& helper, int width, int height) {
  const std::string answer = helper.answer();
  Unpacker one(answer);
  PictureLayer layer;
  layer.name = one.text();
  layer.blend = one.value<BlendMode>();
  layer.opacity = one.value<double>();
  layer.visible = one.value<bool>();
  layer.image = Image(width, height, std::clamp(one.value<int>(), 1, 4));
  const auto to = std::as_writable_bytes(std::span(layer.image.pixels));
  if (helper.answerPart(to) != to.size()) throw Error("a layer is cut short");
  return layer;
}

}  // namespace

LayeredPicture readOpenRaster(const fs::path& path) {
  Helper helper(readLayers, path.string());
  std::error_code code;
  const auto size = fs::file_size(path, code);
  helper.allow(patienceFor(code ? 0 : 2 * size));
  helper.ask(path.string());
  const std::string answer = helper.answer();
  Unpacker about(answer);
  LayeredPicture picture;
  picture.width = about.value<int>();
  picture.height = about.value<int>();
  picture.depth = about.value<Depth>();
  if (picture.width < 1 || picture.height < 1 || 1.0 * picture.width * picture.height > kMostPixels)
    throw Error(fmt::format("{} cannot be read as OpenRaster: it has no size", path.string()));
  for (auto left = about.value<std::uint64_t>(); left > 0; --left)
    picture.layers.push_back(unpackedLayer(helper, picture.width, picture.height));
  return picture;
}

}  // namespace jugendstil
