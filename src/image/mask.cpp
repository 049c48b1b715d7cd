// SPDX-License-Identifier: Apache-2.0
#include "image/mask.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "base/error.h"
#include "base/file.h"
#include "base/file_name.h"
#include "base/one_thread.h"
#include "base/parallel.h"
#include "image/display_oklab.h"
#include "image/luma.h"
#include "image/picture_file.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

// A thing keeps its hue in light and shade.
constexpr float kLightness = 0.4F;
constexpr std::size_t kMaxDrawing = std::size_t{64} << 20;

Oklab oklabAt(const Image& photo, std::size_t pixel) { return oklabOfDisplay(photo.pixel(pixel)); }

// f(pixel) everywhere.
template <typename F>
Image maskBy(const Image& like, const F& f) {
  Image mask(like.width, like.height, 1);
  parallelFor(like.height, [&](int y) {
    for (std::size_t i = mask.index(0, y, 0); i < mask.index(0, y, 0) + like.width; ++i)
      mask.pixels[i] = f(i);
  });
  return mask;
}

// 1 up to `inside`, 0 from `outside` on, straight between.
float falling(float v, float inside, float outside) {
  if (v <= inside) return 1;
  return v >= outside ? 0.0F : (outside - v) / (outside - inside);
}

template <typename F>
Image together(const Image& a, const Image& b, const F& f) {
  if (a.width != b.width || a.height != b.height) {
    throw Error(fmt::format("masks of {}x{} and {}x{} pixels cannot be put together; they must have one size",
                            a.width, a.height, b.width, b.height));
  }
  return maskBy(a, [&](std::size_t i) { return f(a.pixels[i], b.pixels[i]); });
}

cv::Mat matOf(const Image& mask) {
  return {mask.height, mask.width, CV_32FC1, const_cast<float*>(mask.pixels.data())};
}

Image imageOf(const cv::Mat& mat) {
  Image out(mat.cols, mat.rows, 1);
  mat.copyTo(cv::Mat(mat.rows, mat.cols, CV_32FC1, out.pixels.data()));
  return out;
}

}  // namespace

Image maskOfTones(const Image& photo, double from, double to, double soft) {
  const auto low = static_cast<float>(from / 100);
  const auto high = static_cast<float>(to / 100);
  const auto ramp = static_cast<float>(std::max(soft / 100, 1e-6));
  return maskBy(photo, [&](std::size_t i) {
    const float l = oklabAt(photo, i).lightness;
    return std::min(falling(l, high, high + ramp), falling(-l, -low, ramp - low));
  });
}

Image maskOfColour(const Image& photo, const std::array<float, 3>& colour, double within) {
  const Oklab wanted = oklabOfDisplay(colour);
  const auto reach = static_cast<float>(within / 100);
  return maskBy(photo, [&](std::size_t i) {
    const Oklab c = oklabAt(photo, i);
    const float dl = kLightness * (c.lightness - wanted.lightness);
    const float da = c.a - wanted.a;
    const float db = c.b - wanted.b;
    return falling(std::sqrt(dl * dl + da * da + db * db), reach, reach * 4 / 3 + 1e-6F);
  });
}

Image maskOfAlpha(const Image& picture) {
  if (picture.channels != 4) throw Error("the picture has no transparency to make a mask of");
  return maskBy(picture, [&](std::size_t i) { return std::clamp(picture.pixels[i * 4 + 3], 0.0F, 1.0F); });
}

Image readMask(const std::filesystem::path& path, int width, int height) {
  if (extensionOf(path) == ".svg") {
    try {
      return maskOfDrawing(readFile(path.string(), kMaxDrawing), width, height);
    } catch (const Error& e) {
      throw Error(fmt::format("{}: {}", path.string(), e.what()));
    }
  }
  const Image picture = readPicture(path).image;
  const std::size_t step = picture.channels;
  return maskBy(picture, [&](std::size_t i) {
    const float* p = &picture.pixels[i * step];
    const float grey = step < 3 || (p[0] == p[1] && p[1] == p[2]) ? p[0] : lumaOf(p);
    return std::clamp(grey * (step == 4 ? p[3] : 1.0F), 0.0F, 1.0F);
  });
}

Image readMaskFor(const std::filesystem::path& path, int width, int height) {
  Image mask = readMask(path, width, height);
  requireFormat(path, mask, width, height);
  return mask;
}

void requireFormat(const std::filesystem::path& path, const Image& mask, int width, int height) {
  constexpr double kFormat = 0.02;
  const double ratio = 1.0 * mask.width / mask.height * height / width;
  if (std::fabs(ratio - 1) > kFormat) {
    throw Error(fmt::format("the mask {} is {}x{}, the photo {}x{}; a mask has its photo's format",
                            path.string(), mask.width, mask.height, width, height));
  }
}

Image bothOf(const Image& a, const Image& b) {
  return together(a, b, [](float x, float y) { return x * y; });
}

Image eitherOf(const Image& a, const Image& b) {
  return together(a, b, [](float x, float y) { return x + y - x * y; });
}

Image withoutOf(const Image& a, const Image& b) {
  return together(a, b, [](float x, float y) { return x * (1 - y); });
}

Image inverted(Image mask) {
  for (float& v : mask.pixels) v = 1 - v;
  return mask;
}

Image grown(const Image& mask, int pixels) {
  keepOpenCvOnOneThread();
  cv::Mat out = matOf(mask).clone();
  const cv::Mat cross = cv::getStructuringElement(cv::MORPH_CROSS, {3, 3});
  const cv::Mat square = cv::getStructuringElement(cv::MORPH_RECT, {3, 3});
  // Squares among the crosses make an octagon, which is as near to a circle as small steps come.
  constexpr double kSquares = 0.41421356;
  double due = 0;
  for (int i = 0; i < std::abs(pixels); ++i) {
    due += kSquares;
    const bool whole = due >= 1;
    if (whole) due -= 1;
    if (pixels > 0)
      cv::dilate(out, out, whole ? square : cross);
    else
      cv::erode(out, out, whole ? square : cross);
  }
  return imageOf(out);
}

Image feathered(const Image& mask, double pixels) {
  if (pixels <= 0) return mask;
  keepOpenCvOnOneThread();
  cv::Mat out;
  cv::GaussianBlur(matOf(mask), out, {0, 0}, pixels / 2, pixels / 2, cv::BORDER_REPLICATE);
  return imageOf(out);
}

Image resizedMask(const Image& mask, int width, int height) { return clipped(resample(mask, width, height)); }

double coverage(const Image& mask) {
  double sum = 0;
  for (const float v : mask.pixels) sum += v;
  return mask.pixels.empty() ? 0 : sum / static_cast<double>(mask.pixels.size());
}

Image maskOver(const Image& photo, const Image& mask) {
  if (photo.width != mask.width || photo.height != mask.height)
    throw Error("a mask can only be shown over a photo of its own size");
  constexpr float kVeil = 0.8F;
  constexpr std::array<float, 3> kEdge{0.9F, 0.1F, 0.08F};
  // Thick enough to be seen when the picture is looked at as a whole.
  const int line = std::max(1, std::max(photo.width, photo.height) / 700);
  const Image edge = withoutOf(grown(mask, line), grown(mask, -line));
  Image out = rgbOf(photo);
  for (std::size_t i = 0; i < out.area(); ++i) {
    float* p = &out.pixels[i * 3];
    const float grey = 0.5F + 0.35F * (lumaOf(p) - 0.5F);
    const float veil = kVeil * (1 - mask.pixels[i]);
    // A hard edge has a steep line; over a soft one it would cover the very thing that is to be seen.
    const float ink = std::max(0.0F, edge.pixels[i] - 0.6F) / 0.4F;
    for (std::size_t c = 0; c < 3; ++c) {
      p[c] += veil * (grey - p[c]);
      p[c] += ink * (kEdge[c] - p[c]);
    }
  }
  return out;
}

}  // namespace jugendstil
