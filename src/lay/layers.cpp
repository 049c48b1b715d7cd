// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "base/error.h"
#include "base/file_name.h"
#include "base/parallel.h"
#include "base/words.h"
#include "image/layered_reader.h"
#include "image/picture_file.h"
#include "image/quick_transfer.h"
#include "lay/lay.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

PictureLayer& layerNamed(LayeredPicture& picture, const std::string& name) {
  std::vector<std::string> names;
  PictureLayer* found = nullptr;
  for (PictureLayer& layer : picture.layers) {
    names.push_back(layer.name);
    if (layer.name != name) continue;
    if (found != nullptr)
      throw UsageError(fmt::format("two layers are called \"{}\"; give them names of their own", name));
    found = &layer;
  }
  if (found != nullptr) return *found;
  const std::string near = nearestWord(name, names);
  throw UsageError(fmt::format("there is no layer \"{}\"{}; there are {}", name,
                               near.empty() ? "" : fmt::format(", did you mean \"{}\"?", near),
                               fmt::join(names, ", ")));
}

// With transparency.
Image rgbaOf(const Image& image) {
  if (image.channels == 4) return image;
  Image out(image.width, image.height, 4, 1.0F);
  for (std::size_t i = 0; i < out.area(); ++i) std::copy_n(image.pixel(i), 3, out.pixel(i));
  return out;
}

void change(PictureLayer& layer, const LayerChange& asked) {
  if (asked.opacity) layer.opacity = *asked.opacity;
  if (asked.blend) layer.blend = *asked.blend;
  Image image = rgbaOf(layer.image);
  Image alpha(image.width, image.height, 1);
  for (std::size_t i = 0; i < alpha.area(); ++i) alpha.pixels[i] = image.pixel(i)[3];
  const auto mask = maskOf(asked.mask, image.width, image.height, std::move(alpha));
  if (!mask) return;
  for (std::size_t i = 0; i < mask->area(); ++i) image.pixel(i)[3] = mask->pixels[i];
  layer.image = std::move(image);
}

// One pixel over another, both with alpha ("Compositing and Blending Level 1", 5.8.1, 10); light is mixed
// where the mode is normal, display values elsewhere, as Layer does it.
void layPixel(const float* above, double opacity, BlendMode mode, float* below) {
  const float over = above[3] * static_cast<float>(opacity);
  if (over <= 0) return;
  const float under = below[3] * (1 - over);
  const float alpha = over + under;
  const auto mixed = blended(mode, {below[0], below[1], below[2]}, {above[0], above[1], above[2]});
  for (std::size_t c = 0; c < 3; ++c) {
    // Over what is transparent there is nothing to blend with.
    const float top = above[c] + below[3] * (mixed[c] - above[c]);
    below[c] = mode == BlendMode::normal
                   ? quickToDisplay((over * quickToLinear(top) + under * quickToLinear(below[c])) / alpha)
                   : (over * top + under * below[c]) / alpha;
  }
  below[3] = alpha;
}

Image together(const LayeredPicture& picture) {
  Image out(picture.width, picture.height, 4);
  for (const PictureLayer& layer : picture.layers) {
    if (!layer.visible || layer.opacity <= 0) continue;
    const Image above = rgbaOf(layer.image);
    parallelFor(out.height, [&](int y) {
      for (int x = 0; x < out.width; ++x)
        layPixel(above.pixel(above.index(x, y, 0) / 4), layer.opacity, layer.blend, &out.at(x, y, 0));
    });
  }
  const bool whole = [&] {
    for (std::size_t i = 0; i < out.area(); ++i) {
      if (out.pixel(i)[3] < 1) return false;
    }
    return true;
  }();
  return whole ? rgbOf(out) : out;
}

}  // namespace

LaidPicture layLayers(const fs::path& file, const std::vector<LayerChange>& changes, const fs::path& target,
                      const Encoding& encoding) {
  LayeredPicture picture = readOpenRaster(file);
  for (const LayerChange& one : changes) change(layerNamed(picture, one.name), one);
  const Image merged = together(picture);
  if (extensionOf(target) == ".ora")
    writeOpenRaster(target, picture.layers, merged, picture.depth);
  else
    writePicture(target, merged, picture.depth, nullptr, encoding);
  return {picture.width, picture.height};
}

}  // namespace jugendstil
