// SPDX-License-Identifier: Apache-2.0
#include "image/layered_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file_name.h"
#include "base/markup.h"
#include "base/zip.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

constexpr int kThumbnail = 256;
// Names as the specification has them: those of CSS and SVG compositing.
std::string operationOf(BlendMode mode) {
  return mode == BlendMode::normal ? "svg:src-over" : "svg:" + blendModeName(mode);
}

std::string sourceOf(std::size_t layer) { return fmt::format("data/layer{}.png", layer + 1); }

std::string stackText(const std::vector<PictureLayer>& layers) {
  const Image& first = layers.front().image;
  std::string text = fmt::format(
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<image version=\"0.0.6\" w=\"{}\" h=\"{}\" xres=\"72\" "
      "yres=\"72\">\n  <stack>\n",
      first.width, first.height);
  // The uppermost comes first.
  for (std::size_t i = layers.size(); i-- > 0;) {
    text += fmt::format(
        "    <layer name=\"{}\" src=\"{}\" composite-op=\"{}\" opacity=\"{:.6g}\" visibility=\"{}\" "
        "x=\"0\" "
        "y=\"0\"/>\n",
        escapedMarkup(layers[i].name), sourceOf(i), operationOf(layers[i].blend), layers[i].opacity,
        layers[i].visible ? "visible" : "hidden");
  }
  return text + "  </stack>\n</image>\n";
}

void requireAlike(const std::vector<PictureLayer>& layers, const Image& merged) {
  if (layers.empty()) throw Error("a layered picture needs at least one layer");
  for (const PictureLayer& layer : layers) {
    if (layer.image.width != merged.width || layer.image.height != merged.height)
      throw Error(fmt::format("layer \"{}\" has another size than the picture", layer.name));
  }
}

}  // namespace

void requireOpenRasterName(const std::filesystem::path& path) {
  if (extensionOf(path) != ".ora")
    throw UsageError(
        fmt::format("layers are written as OpenRaster; give {} a name ending in .ora", path.string()));
}

void writeOpenRaster(const std::filesystem::path& path, const std::vector<PictureLayer>& layers,
                     const Image& merged, Depth depth) {
  requireOpenRasterName(path);
  requireAlike(layers, merged);
  AtomicFile file(path, AtomicFile::Appeared::kept);
  ZipWriter zip(file.temporary(), path.string());
  zip.add("mimetype", "image/openraster");
  zip.add("stack.xml", stackText(layers));
  for (std::size_t i = 0; i < layers.size(); ++i) zip.add(sourceOf(i), encodedPng(layers[i].image, depth));
  zip.add("mergedimage.png", encodedPng(merged, depth));
  const Size small = sizeForLongEdge(merged.width, merged.height,
                                     std::min(kThumbnail, std::max(merged.width, merged.height)));
  zip.add("Thumbnails/thumbnail.png",
          encodedPng(resizePhoto(merged, small.width, small.height), Depth::eight));
  zip.finish();
  file.commit();
}

}  // namespace jugendstil
