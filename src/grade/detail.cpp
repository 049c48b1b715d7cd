// SPDX-License-Identifier: Apache-2.0
#include "grade/detail.h"

#include <algorithm>
#include <cmath>

#include "base/number.h"
#include "base/parallel.h"
#include "image/box_mean.h"
#include "image/luma.h"

namespace jugendstil {
namespace {

constexpr std::array<double, kDetailBands> kRadius{1.0 / 256, 1.0 / 64, 1.0 / 20};  // of the long edge
constexpr double kEdge = 0.08;       // differences larger than this count as edges and stay in the average
constexpr float kMostNoise = 6e-5F;  // variance: two code values of 8 bits; what varies more is texture
constexpr float kDark = 0.12F;       // luma below which steps take over from factors
constexpr float kLeastLuma = 1.0F / 256;  // below, a factor would only scale noise

struct Plane {
  int width = 0;
  int height = 0;
  std::vector<float> at;
  Plane(int w, int h) : width(w), height(h), at(cellCount(w, h)) {}
};

Plane lumaPlane(const Image& picture) {
  Plane out(picture.width, picture.height);
  for (std::size_t i = 0; i < out.at.size(); ++i) {
    out.at[i] = lumaOf(picture.pixel(i));
  }
  return out;
}

Plane box(const Plane& in, int radius) {
  Plane out(in.width, in.height);
  out.at = boxMeans(in.at, in.width, in.height, radius);
  return out;
}

// An edge-preserving average as a local line: average = scale * luma + offset.
struct Guided {
  Plane scale;
  Plane offset;
  Plane variance;
};

Guided guided(const Plane& luma, int radius) {
  Plane squares = luma;
  for (float& v : squares.at) v *= v;
  const Plane mean = box(luma, radius);
  Plane variance = box(squares, radius);
  Plane scale(luma.width, luma.height);
  Plane offset(luma.width, luma.height);
  for (std::size_t i = 0; i < mean.at.size(); ++i) {
    variance.at[i] = std::max(0.0F, variance.at[i] - mean.at[i] * mean.at[i]);
    scale.at[i] = variance.at[i] / (variance.at[i] + static_cast<float>(kEdge * kEdge));
    offset.at[i] = mean.at[i] * (1 - scale.at[i]);
  }
  return {box(scale, radius), box(offset, radius), std::move(variance)};
}

std::vector<Guided> averages(const Plane& luma) {
  std::vector<Guided> out;
  const int edge = std::max(luma.width, luma.height);
  for (const double part : kRadius) out.push_back(guided(luma, std::max(1, rounded(part * edge))));
  return out;
}

// The averages at one position, as local lines of the luma, taken apart.
struct Lines {
  Lines(const std::vector<Guided>& a, std::size_t i, float noise)
      : baseScale(a[2].scale.at[i]),
        baseOffset(a[2].offset.at[i]),
        scale{1 - a[0].scale.at[i], a[0].scale.at[i] - a[1].scale.at[i], a[1].scale.at[i] - a[2].scale.at[i]},
        offset{-a[0].offset.at[i], a[0].offset.at[i] - a[1].offset.at[i],
               a[1].offset.at[i] - a[2].offset.at[i]},
        texture(a[0].variance.at[i] / (a[0].variance.at[i] + noise)) {}

  float baseScale;
  float baseOffset;
  std::array<float, kDetailBands> scale;
  std::array<float, kDetailBands> offset;
  float texture;
};

// The variance that flat places show: noise and quantisation.
float noiseVariance(const Plane& variance) {
  std::vector<float> sorted = variance.at;
  const auto tenth = sorted.begin() + sorted.size() / 10;
  std::nth_element(sorted.begin(), tenth, sorted.end());
  return std::min(2 * *tenth, kMostNoise) + 1e-5F;
}

// The factor of one band: what is asked, less what the tone curve will add; noise is not strengthened.
float gainOf(const DetailChange& change, std::size_t band, float slope, float texture) {
  const float gain = static_cast<float>(change.gain[band]) / slope;
  return gain > 1 ? 1 + (gain - 1) * texture : gain;
}

// A pixel's colours changed so that its luma becomes `wanted`: by a factor, so that hues stay; in the darkest
// tones by the same step in all channels, because a factor cannot move what is 0 and leaves it behind as
// specks. Towards white a push fades, and it ends where a channel is full.
inline void reach(float* pixel, float wanted) {
  const float luma = lumaOf(pixel);
  const float most = std::max({pixel[0], pixel[1], pixel[2], 1e-6F});
  float factor = std::clamp(wanted / std::max(luma, kLeastLuma), 0.25F, 4.0F);
  if (factor > 1) {
    factor = std::min(1 + (factor - 1) * std::max(0.0F, 1 - most * most * most), std::max(1.0F, 1 / most));
  }
  const float dark = std::clamp(1 - luma / kDark, 0.0F, 1.0F);
  const float step = std::clamp(wanted - luma, -kDark, kDark) * dark;
  for (int c = 0; c < 3; ++c) pixel[c] = std::max(0.0F, pixel[c] * (dark + (1 - dark) * factor) + step);
}

}  // namespace

std::vector<PixelDetail> detailOf(const Image& reduced) {
  const Plane luma = lumaPlane(reduced);
  const auto a = averages(luma);
  const float noise = noiseVariance(a[0].variance);
  std::vector<PixelDetail> out(luma.at.size());
  for (std::size_t i = 0; i < out.size(); ++i) {
    const Lines lines(a, i, noise);
    out[i].base = lines.baseScale * luma.at[i] + lines.baseOffset;
    for (std::size_t k = 0; k < kDetailBands; ++k)
      out[i].band[k] = lines.scale[k] * luma.at[i] + lines.offset[k];
    out[i].texture = lines.texture;
  }
  return out;
}

std::array<float, 3> detailChanged(const std::array<float, 3>& rgb, const PixelDetail& detail,
                                   const DetailChange& change) {
  const float slope = change.toneSlope ? change.toneSlope(detail.base) : 1.0F;
  float luma = detail.base;
  for (std::size_t k = 0; k < kDetailBands; ++k)
    luma += gainOf(change, k, slope, detail.texture) * detail.band[k];
  std::array<float, 3> out = rgb;
  reach(out.data(), luma);
  return out;
}

DetailMap::DetailMap(const Image& reduced, const DetailChange& change)
    : width_(reduced.width), height_(reduced.height), scale_(reduced.area()), offset_(reduced.area()) {
  const Plane luma = lumaPlane(reduced);
  const auto a = averages(luma);
  const float noise = noiseVariance(a[0].variance);
  parallelFor(height_, [&](int y) {
    for (int x = 0; x < width_; ++x) {
      const std::size_t i = cellAt(x, y, width_);
      const Lines lines(a, i, noise);
      const float slope =
          change.toneSlope ? change.toneSlope(lines.baseScale * luma.at[i] + lines.baseOffset) : 1.0F;
      float scale = lines.baseScale;
      float offset = lines.baseOffset;
      for (std::size_t k = 0; k < kDetailBands; ++k) {
        const float gain = gainOf(change, k, slope, lines.texture);
        scale += gain * lines.scale[k];
        offset += gain * lines.offset[k];
      }
      scale_[i] = scale;
      offset_[i] = offset;
    }
  });
}

void DetailMap::apply(float* row, int y, int width, int height, int channels) const {
  // Centres of pixels meet centres of the small fields.
  const auto place = [](int at, int size, int small) {
    return std::clamp(
        (static_cast<float>(at) + 0.5F) * static_cast<float>(small) / static_cast<float>(size) - 0.5F, 0.0F,
        static_cast<float>(small - 1));
  };
  const float v = place(y, height, height_);
  const int top = std::min(static_cast<int>(v), std::max(0, height_ - 2));
  const float down = v - static_cast<float>(top);
  const std::size_t w = width_;
  const std::size_t upper = top * w;
  const std::size_t lower = std::min(top + 1, height_ - 1) * w;
  std::vector<float> line(w * 2 + 2);
  for (std::size_t x = 0; x < w; ++x) {
    line[x * 2] = scale_[upper + x] * (1 - down) + scale_[lower + x] * down;
    line[x * 2 + 1] = offset_[upper + x] * (1 - down) + offset_[lower + x] * down;
  }
  line[w * 2] = line[w * 2 - 2];
  line[w * 2 + 1] = line[w * 2 - 1];
  for (int x = 0; x < width; ++x) {
    const float u = place(x, width, width_);
    const int left = static_cast<int>(u);
    const float right = u - static_cast<float>(left);
    const float* l = &line[static_cast<std::size_t>(left) * 2];
    const float scale = l[0] + (l[2] - l[0]) * right;
    const float offset = l[1] + (l[3] - l[1]) * right;
    float* pixel = row + std::size_t{1} * x * channels;
    reach(pixel, scale * lumaOf(pixel) + offset);
  }
}

}  // namespace jugendstil
