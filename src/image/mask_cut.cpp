// SPDX-License-Identifier: Apache-2.0
// Masks by graph cuts.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "base/error.h"
#include "base/number.h"
#include "base/one_thread.h"
#include "image/mask.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

// The thing is found on a small copy, its outline drawn anew on a larger one.
constexpr int kSmall = 480;
constexpr int kLarge = 1600;
constexpr int kRounds = 5;
constexpr int kRefining = 2;
// So far from the small copy's outline, in its own pixels, the larger one may still differ.
constexpr double kDoubt = 2.5;

cv::Mat eightBits(const Image& photo) {
  cv::Mat out(photo.height, photo.width, CV_8UC3);
  const std::size_t step = photo.channels;
  for (std::size_t i = 0; i < photo.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) {
      out.data[i * 3 + c] =
          static_cast<std::uint8_t>(std::lround(std::clamp(photo.pixels[i * step + c], 0.0F, 1.0F) * 255));
    }
  }
  return out;
}

Image fitted(const Image& photo, int longEdge) {
  const int own = std::max(photo.width, photo.height);
  if (own <= longEdge) return photo;
  const Size size = sizeForLongEdge(photo.width, photo.height, longEdge);
  return resizePhoto(photo, size.width, size.height);
}

Image foundIn(const cv::Mat& labels) {
  Image mask(labels.cols, labels.rows, 1);
  for (std::size_t i = 0; i < mask.area(); ++i)
    mask.pixels[i] = labels.data[i] == cv::GC_FGD || labels.data[i] == cv::GC_PR_FGD ? 1.0F : 0.0F;
  return mask;
}

Image cutInBox(const Image& photo, const cv::Rect& box) {
  cv::setRNGSeed(1);
  cv::Mat labels;
  cv::Mat outside;
  cv::Mat inside;
  cv::grabCut(eightBits(photo), labels, box, outside, inside, kRounds, cv::GC_INIT_WITH_RECT);
  return foundIn(labels);
}

// The same cut on a larger copy, where only the neighbourhood of the outline is in doubt.
Image cutAlong(const Image& photo, const Image& rough) {
  const double scale = 1.0 * photo.width / rough.width;
  const Image outline = resizedMask(rough, photo.width, photo.height);
  const int doubt = std::max(1, rounded(kDoubt * scale));
  const Image sure = grown(outline, -doubt);
  const Image perhaps = grown(outline, doubt);
  cv::Mat labels(photo.height, photo.width, CV_8UC1);
  for (std::size_t i = 0; i < outline.area(); ++i) {
    labels.data[i] = static_cast<std::uint8_t>(sure.pixels[i] > 0.5F      ? cv::GC_FGD
                                               : perhaps.pixels[i] < 0.5F ? cv::GC_BGD
                                               : outline.pixels[i] > 0.5F ? cv::GC_PR_FGD
                                                                          : cv::GC_PR_BGD);
  }
  cv::setRNGSeed(1);
  cv::Mat outside;
  cv::Mat inside;
  cv::grabCut(eightBits(photo), labels, {}, outside, inside, kRefining, cv::GC_INIT_WITH_MASK);
  return foundIn(labels);
}

bool hasBothSides(const Image& mask) {
  const double part = coverage(mask);
  return part > 0 && part < 1;
}

}  // namespace

Image maskInBox(const Image& photo, const MaskBox& box) {
  if (!(box.width >= 1 && box.height >= 1) || box.x < 0 || box.y < 0 || box.x + box.width > photo.width ||
      box.y + box.height > photo.height) {
    throw Error(fmt::format("the box {:g},{:g} of {:g}x{:g} does not lie in the photo of {}x{}", box.x, box.y,
                            box.width, box.height, photo.width, photo.height));
  }
  keepOpenCvOnOneThread();
  const Image small = fitted(photo, kSmall);
  const double scale = 1.0 * small.width / photo.width;
  const int left = static_cast<int>(box.x * scale);
  const int top = static_cast<int>(box.y * scale);
  const int right = std::min(small.width, static_cast<int>(std::ceil((box.x + box.width) * scale)));
  const int bottom = std::min(small.height, static_cast<int>(std::ceil((box.y + box.height) * scale)));
  if (right - left >= small.width && bottom - top >= small.height)
    throw Error("the box is the whole photo; leave some of what is around the thing outside of it");
  Image mask = cutInBox(small, {left, top, right - left, bottom - top});
  if (!hasBothSides(mask))
    throw Error("nothing in the box stands out from what is around it; draw a mask by hand");
  const Image large = fitted(photo, kLarge);
  if (large.width != small.width) {
    Image finer = cutAlong(large, mask);
    if (hasBothSides(finer)) mask = std::move(finer);
  }
  // A pixel's width of softness takes the steps off the outline.
  mask = feathered(mask, 1);
  return mask.width == photo.width ? mask : resizedMask(mask, photo.width, photo.height);
}

}  // namespace jugendstil
