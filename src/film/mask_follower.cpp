// SPDX-License-Identifier: Apache-2.0
#include "film/mask_follower.h"

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "base/one_thread.h"
#include "motion/warp.h"

namespace jugendstil {
namespace {

// The outline's neighbourhood, by which confidence is judged.
constexpr float kBand = 4;
constexpr double kUsual = 0.1;
constexpr double kLoss = 0.2;
// From how far inside and outside on a pixel's side is beyond doubt, and how far around the subject colours
// are looked at.
constexpr float kSureInside = 6;
constexpr float kSureOutside = 10;
constexpr int kAround = 48;
// Pixels from which a side's colours can be learnt.
constexpr int kLeast = 40;
constexpr double kTelling = 0.85;

// Signed distance to where the mask crosses one half; exact Euclidean (Felzenszwalb & Huttenlocher 2012),
// half a pixel taken off on either side so that the outline lies between pixels.
Image signedDistance(const Image& mask) {
  keepOpenCvOnOneThread();
  cv::Mat inside(mask.height, mask.width, CV_8UC1);
  for (int y = 0; y < mask.height; ++y) {
    for (int x = 0; x < mask.width; ++x) inside.at<std::uint8_t>(y, x) = mask.at(x, y, 0) >= 0.5F ? 255 : 0;
  }
  cv::Mat in;
  cv::Mat out;
  cv::distanceTransform(inside, in, cv::DIST_L2, cv::DIST_MASK_PRECISE, CV_32F);
  cv::distanceTransform(255 - inside, out, cv::DIST_L2, cv::DIST_MASK_PRECISE, CV_32F);
  Image distance(mask.width, mask.height, 1);
  const float far = static_cast<float>(mask.width + mask.height);
  for (int y = 0; y < mask.height; ++y) {
    for (int x = 0; x < mask.width; ++x) {
      const float a = in.at<float>(y, x);
      const float b = out.at<float>(y, x);
      // A mask without an outline is far from one everywhere.
      distance.at(x, y, 0) = a > 0 ? std::min(a - 0.5F, far) : std::max(0.5F - b, -far);
    }
  }
  return distance;
}

// Half the width of the ramp: at a straight edge the mean slope is 1 / (2 softness).
float softnessOf(const Image& mask) {
  double length = 0;
  double area = 0;
  for (int y = 0; y + 1 < mask.height; ++y) {
    for (int x = 0; x + 1 < mask.width; ++x) {
      const float v = mask.at(x, y, 0);
      const float dx = mask.at(x + 1, y, 0) - v;
      const float dy = mask.at(x, y + 1, 0) - v;
      const float slope = std::sqrt(dx * dx + dy * dy);
      // Total variation is the outline's length; the ramp's area divided by it is its width.
      length += slope;
      area += v > 0.02F && v < 0.98F ? 1.0 : 0.0;
    }
  }
  if (length < 1) return 0.5F;
  return static_cast<float>(std::clamp(area / length / 2, 0.5, 64.0));
}

// The part of the frame in which sides can be in doubt, and what is around it.
cv::Rect subjectOf(const Image& distance) {
  int left = distance.width;
  int top = distance.height;
  int right = -1;
  int bottom = -1;
  for (int y = 0; y < distance.height; ++y) {
    for (int x = 0; x < distance.width; ++x) {
      if (std::fabs(distance.at(x, y, 0)) > kSureOutside) continue;
      left = std::min(left, x);
      right = std::max(right, x);
      top = std::min(top, y);
      bottom = std::max(bottom, y);
    }
  }
  if (right < left) return {};
  left = std::max(0, left - kAround);
  top = std::max(0, top - kAround);
  right = std::min(distance.width - 1, right + kAround);
  bottom = std::min(distance.height - 1, bottom + kAround);
  return {left, top, right - left + 1, bottom - top + 1};
}

cv::Mat eightBits(const Image& frame, const cv::Rect& part) {
  cv::Mat out(part.height, part.width, CV_8UC3);
  for (int y = 0; y < part.height; ++y) {
    for (int x = 0; x < part.width; ++x) {
      for (int c = 0; c < 3; ++c) {
        const float v = std::clamp(frame.at(part.x + x, part.y + y, c), 0.0F, 1.0F);
        out.at<cv::Vec3b>(y, x)[c] = static_cast<std::uint8_t>(std::lround(v * 255));
      }
    }
  }
  return out;
}

// What the distances say of each pixel: certain, or only likely.
cv::Mat guessOf(const Image& distance, const cv::Rect& part, float sureInside, float sureOutside) {
  cv::Mat out(part.height, part.width, CV_8UC1);
  for (int y = 0; y < part.height; ++y) {
    for (int x = 0; x < part.width; ++x) {
      const float d = distance.at(part.x + x, part.y + y, 0);
      out.at<std::uint8_t>(y, x) = static_cast<std::uint8_t>(d > sureInside     ? cv::GC_FGD
                                                             : d < -sureOutside ? cv::GC_BGD
                                                             : d > 0            ? cv::GC_PR_FGD
                                                                                : cv::GC_PR_BGD);
    }
  }
  return out;
}

// How much of the inside of two outlines is common; the second one as a distance.
double overlap(const Image& sides, const Image& distance) {
  double both = 0;
  double either = 0;
  for (std::size_t i = 0; i < sides.pixels.size(); ++i) {
    const bool a = sides.pixels[i] > 0;
    const bool b = distance.pixels[i] > 0;
    both += a && b ? 1.0 : 0.0;
    either += a || b ? 1.0 : 0.0;
  }
  return either > 0 ? both / either : 1;
}

}  // namespace

// The subject's colours and those around it are learnt from the frame that the mask was given for.
struct MaskFollower::Colours {
  cv::Mat inside;
  cv::Mat outside;
  bool known = false;
};

MaskFollower::MaskFollower(const Image& frame, const Image& mask)
    : mask_(mask),
      distance_(signedDistance(mask)),
      softness_(softnessOf(mask)),
      colours_(std::make_shared<Colours>()) {
  const cv::Rect part = subjectOf(distance_);
  if (part.area() == 0) return;
  keepOpenCvOnOneThread();
  cv::setRNGSeed(1);
  cv::Mat guess = guessOf(distance_, part, 0, 0);
  // Both sides need some pixels to be learnt from.
  const int inside = cv::countNonZero(guess == cv::GC_FGD);
  if (inside < kLeast || static_cast<int>(guess.total()) - inside < kLeast) return;
  cv::grabCut(eightBits(frame, part), guess, {}, colours_->outside, colours_->inside, 0,
              cv::GC_INIT_WITH_MASK);
  colours_->known = true;
  // Colours that do not tell the subject from its surroundings here will not do so later.
  colours_->known = overlap(sidesBy(frame, distance_), distance_) > kTelling;
}

void MaskFollower::draw() {
  // A smooth step as wide as the given edge.
  for (std::size_t i = 0; i < mask_.pixels.size(); ++i) {
    const float t = std::clamp(0.5F + distance_.pixels[i] / (2 * softness_), 0.0F, 1.0F);
    mask_.pixels[i] = softness_ <= 1 ? t : t * t * (3 - 2 * t);
  }
}

// 1 inside, 0 outside, where colours and the carried outline agree best (Rother, Kolmogorov & Blake 2004).
Image MaskFollower::sidesBy(const Image& frame, const Image& carried) const {
  Image sides(carried.width, carried.height, 1);
  for (std::size_t i = 0; i < sides.pixels.size(); ++i) sides.pixels[i] = carried.pixels[i] > 0 ? 1.0F : 0.0F;
  const cv::Rect part = subjectOf(carried);
  if (!colours_->known || part.area() == 0) return sides;
  cv::Mat guess = guessOf(carried, part, kSureInside, kSureOutside);
  cv::Mat inside = colours_->inside.clone();
  cv::Mat outside = colours_->outside.clone();
  cv::grabCut(eightBits(frame, part), guess, {}, outside, inside, 1, cv::GC_EVAL_FREEZE_MODEL);
  for (int y = 0; y < part.height; ++y) {
    for (int x = 0; x < part.width; ++x)
      sides.at(part.x + x, part.y + y, 0) = (guess.at<std::uint8_t>(y, x) & 1) != 0 ? 1.0F : 0.0F;
  }
  return sides;
}

void MaskFollower::follow(const Image& frame, const Motion& motion) {
  const Image carried = warped(distance_, motion.back);
  double trusted = 0;
  double band = 0;
  for (std::size_t i = 0; i < carried.pixels.size(); ++i) {
    if (std::fabs(carried.pixels[i]) > kBand) continue;
    band += 1;
    trusted += motion.seen.pixels[i];
  }
  // About a tenth of an outline's surroundings is hidden or bared by any motion; more than that is a loss.
  if (band > 0) confidence_ *= std::min(1.0, 1 - kLoss * (1 - kUsual - trusted / band));
  const Image sides = sidesBy(frame, carried);
  const Image fresh = signedDistance(sides);
  for (std::size_t i = 0; i < fresh.pixels.size(); ++i) {
    // Near the outline the carried field knows it to a part of a pixel, unless its side was changed.
    const bool kept = (carried.pixels[i] > 0) == (sides.pixels[i] > 0);
    distance_.pixels[i] = kept && std::fabs(fresh.pixels[i]) < 2 ? carried.pixels[i] : fresh.pixels[i];
  }
  draw();
}

}  // namespace jugendstil
