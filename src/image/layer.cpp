// SPDX-License-Identifier: Apache-2.0
#include "image/layer.h"

#include <algorithm>

#include "base/error.h"
#include "base/parallel.h"
#include "image/resample.h"
#include "image/transfer_table.h"

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

struct Transfers {
  const TransferTable& light = tableToLinear();
  const TransferTable& display = tableToDisplay();
};

void mixInto(float* above, const float* below, const std::array<float, 3>& top, float part, bool linear,
             const Transfers& to) {
  for (std::size_t c = 0; c < 3; ++c) {
    if (part >= 1) {
      above[c] = top[c];
    } else if (part <= 0) {
      above[c] = below[c];
    } else if (linear) {
      above[c] = to.display(to.light(below[c]) * (1 - part) + to.light(top[c]) * part);
    } else {
      above[c] = below[c] * (1 - part) + top[c] * part;
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

void Layer::combine(const Image& below, Image& above, int begin) const {
  if (plain()) return;
  const std::size_t step = above.channels;
  const auto opacity = static_cast<float>(settings_.opacity);
  const bool normal = settings_.blend == BlendMode::normal;
  const Transfers to;
  parallelFor(above.height, [&](int y) {
    for (int x = 0; x < above.width; ++x) {
      const std::size_t at = above.index(0, y, 0) + x * step;
      float part = opacity;
      if (settings_.mask) {
        part *= maskAt(*settings_.mask, (static_cast<float>(x) + 0.5F) / static_cast<float>(above.width),
                       (static_cast<float>(begin + y) + 0.5F) / static_cast<float>(height_));
      }
      float* pixel = &above.pixels[at];
      const float* under = &below.pixels[at];
      const std::array<float, 3> over{pixel[0], pixel[1], pixel[2]};
      const auto top = normal ? over : blended(settings_.blend, {under[0], under[1], under[2]}, over);
      mixInto(pixel, under, top, part, normal, to);
    }
  });
}

}  // namespace jugendstil
