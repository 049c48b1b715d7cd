// SPDX-License-Identifier: Apache-2.0
#include "paint/finish.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/parallel.h"
#include "grade/gamut.h"
#include "image/display_oklab.h"
#include "image/layer.h"

namespace jugendstil {
namespace {

// Below this chroma a colour's hue is chance.
constexpr float kGrey = 0.02F;

Oklab oklabAt(const Image& image, std::size_t pixel) { return oklabOfDisplay(image.pixel(pixel)); }

// The painting's lightness and chroma in the photo's hue. Where the photo is grey it has none to give, and
// the painting's colour goes.
Oklab withHueOf(const Oklab& photo, const Oklab& painting) {
  const float own = chroma(photo);
  const float scale = chroma(painting) / std::max(own, kGrey);
  return {painting.lightness, photo.a * scale, photo.b * scale};
}

}  // namespace

Image inPalette(const Image& photo, const Image& painting, Palette palette) {
  if (palette == Palette::reference || palette == Palette::photo) return painting;
  if (photo.area() != painting.area())
    throw Error("a photo gives its colours to a painting of its own size only");
  Image out = painting;
  parallelFor(out.height, [&](int y) {
    for (int x = 0; x < out.width; ++x) {
      const std::size_t i = out.index(x, y, 0) / 3;
      const Oklab own = oklabAt(photo, i);
      const Oklab painted = oklabAt(painting, i);
      Oklab mixed = painted;
      if (palette == Palette::photoChroma) mixed = {painted.lightness, own.a, own.b};
      if (palette == Palette::photoLightness) mixed = {own.lightness, painted.a, painted.b};
      if (palette == Palette::photoHue) mixed = withHueOf(own, painted);
      const auto rgb = fittedDisplay(mixed, painted);
      std::copy(rgb.begin(), rgb.end(), &out.pixels[i * 3]);
    }
  });
  return out;
}

Image laidOver(const Image& photo, const Image& painting, const Image& shown, const PaintSettings& settings) {
  Image picture = inPalette(photo, painting, settings.palette);
  LayerSettings layer{settings.opacity, settings.blend, std::nullopt};
  if (!shown.empty()) layer.mask = shown;
  const Layer over(std::move(layer), photo.width, photo.height);
  over.combine(photo, picture);
  return picture;
}

}  // namespace jugendstil
