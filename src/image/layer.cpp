// SPDX-License-Identifier: Apache-2.0
#include "image/layer.h"

#include <algorithm>
#include <array>
#include <span>

#include "base/error.h"
#include "base/parallel.h"
#include "image/quick_transfer.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

// Between the mask's pixels, at the centre of a picture's pixel.
float maskAt(const Image& mask, float u, float v) {
  const float x =
      std::clamp(u * static_cast<float>(mask.width) - 0.5F, 0.0F, static_cast<float>(mask.width - 1));
  const float y =
      std::clamp(v * static_cast<float>(mask.height) - 0.5F, 0.0F, static_cast<float>(mask.height - 1));
  const int left = static_cast<int>(x);
  const int top = static_cast<int>(y);
  const int right = std::min(left + 1, mask.width - 1);
  const int bottom = std::min(top + 1, mask.height - 1);
  const float a = x - static_cast<float>(left);
  const float b = y - static_cast<float>(top);
  const float upper = mask.at(left, top, 0) * (1 - a) + mask.at(right, top, 0) * a;
  const float lower = mask.at(left, bottom, 0) * (1 - a) + mask.at(right, bottom, 0) * a;
  return std::clamp(upper * (1 - b) + lower * b, 0.0F, 1.0F);
}

// In display values, as the modes' specification has it.
void blendRow(BlendMode mode, std::span<const float> below, std::span<float> above,
              std::span<const float> parts, std::size_t step) {
  for (std::size_t i = 0; i < above.size(); i += step) {
    const std::array<float, 3> under{below[i], below[i + 1], below[i + 2]};
    const auto top = blended(mode, under, {above[i], above[i + 1], above[i + 2]});
    for (std::size_t c = 0; c < 3; ++c) {
      const float part = parts[i + c];
      above[i + c] = part >= 1 ? top[c] : under[c] * (1 - part) + top[c] * part;
    }
  }
}

}  // namespace

Layer::Layer(LayerSettings settings, int width, int height)
    : settings_(std::move(settings)), height_(height) {
  if (!settings_.mask) return;
  if (settings_.mask->empty()) throw Error("the mask has no pixels");
  // A mask with more pixels than the picture is averaged, not picked from.
  if (settings_.mask->width > width || settings_.mask->height > height) {
    settings_.mask = resample(*settings_.mask, width, height);
  }
}

bool Layer::plain() const {
  return settings_.opacity >= 1 && settings_.blend == BlendMode::normal && !settings_.mask;
}

// How much of a row's values is the layer's, each channel alike; alpha is the layer's own.
std::vector<float> Layer::partsOf(const Image& above, int y) const {
  std::vector<float> parts(above.rowLength(), 1.0F);
  const auto opacity = static_cast<float>(settings_.opacity);
  const auto width = static_cast<float>(above.width);
  const std::size_t step = above.channels;
  float part = opacity;
  for (int x = 0; x < above.width; ++x) {
    if (settings_.mask)
      part = opacity * maskAt(*settings_.mask, (static_cast<float>(x) + 0.5F) / width,
                              (static_cast<float>(y) + 0.5F) / static_cast<float>(height_));
    std::fill_n(&parts[x * step], 3, part);
  }
  return parts;
}

void Layer::combine(const Image& below, Image& above, int begin) const {
  if (plain()) return;
  const std::size_t n = above.rowLength();
  // Where there is no mask, all rows are alike.
  const std::vector<float> even = settings_.mask ? std::vector<float>() : partsOf(above, 0);
  parallelFor(above.height, [&](int y) {
    const std::vector<float> own = settings_.mask ? partsOf(above, begin + y) : std::vector<float>();
    const std::span<const float> parts = settings_.mask ? own : even;
    const std::span<const float> under(below.row(y), n);
    const std::span<float> over(above.row(y), n);
    if (settings_.blend == BlendMode::normal) {
      mixInLight(under, over, parts);
    } else {
      blendRow(settings_.blend, under, over, parts, above.channels);
    }
  });
}

}  // namespace jugendstil
