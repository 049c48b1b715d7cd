// SPDX-License-Identifier: Apache-2.0
#include "image/image.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/number.h"
#include "base/state_file.h"

namespace jugendstil {

Image rgbOf(const Image& image) {
  if (image.channels == 3) return image;
  Image rgb(image.width, image.height, 3);
  const std::size_t step = image.channels;
  for (std::size_t i = 0; i < image.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) {
      rgb.pixels[i * 3 + c] = image.pixels[i * step + (step < 3 ? 0 : c)];
    }
  }
  return rgb;
}

Image clipped(Image image) {
  for (float& v : image.pixels) v = std::clamp(v, 0.0F, 1.0F);
  return image;
}

Image crop(const Image& image, int x, int y, int width, int height) {
  if (x < 0 || y < 0 || width < 1 || height < 1 || x + width > image.width || y + height > image.height) {
    throw Error(fmt::format("cannot crop {}x{} at {},{} out of a {}x{} picture", width, height, x, y,
                            image.width, image.height));
  }
  Image out(width, height, image.channels);
  const std::size_t row = std::size_t{1} * width * image.channels;
  for (int j = 0; j < height; ++j) {
    const auto from = image.pixels.begin() + image.index(x, y + j, 0);
    std::copy(from, from + row, out.pixels.begin() + out.index(0, j, 0));
  }
  return out;
}

int reflected(int i, int n) {
  const int period = 2 * n;
  const int k = ((i % period) + period) % period;
  return k < n ? k : period - 1 - k;
}

Image mirrorPad(const Image& image, int left, int top, int right, int bottom) {
  Image out(image.width + left + right, image.height + top + bottom, image.channels);
  for (int y = 0; y < out.height; ++y) {
    const int sy = reflected(y - top, image.height);
    for (int x = 0; x < out.width; ++x) {
      const int sx = reflected(x - left, image.width);
      for (int c = 0; c < image.channels; ++c) out.at(x, y, c) = image.at(sx, sy, c);
    }
  }
  return out;
}

void exchangeImage(StateExchange& with, Image& image) {
  with.value(image.width);
  with.value(image.height);
  with.value(image.channels);
  with.values(image.pixels);
}

}  // namespace jugendstil
