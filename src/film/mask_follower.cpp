#include "film/mask_follower.h"

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "motion/one_thread.h"
#include "motion/warp.h"

namespace jugendstil {
namespace {

// The outline's neighbourhood, by which confidence is judged.
constexpr float kBand = 4;

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
      length += static_cast<double>(slope);
      area += v > 0.02F && v < 0.98F ? 1.0 : 0.0;
    }
  }
  if (length < 1) return 0.5F;
  return static_cast<float>(std::clamp(area / length / 2, 0.5, 64.0));
}

}  // namespace

MaskFollower::MaskFollower(const Image& mask)
    : mask_(mask), distance_(signedDistance(mask)), softness_(softnessOf(mask)) {}

void MaskFollower::draw() {
  // A smooth step as wide as the given edge.
  for (std::size_t i = 0; i < mask_.pixels.size(); ++i) {
    const float t = std::clamp(0.5F + distance_.pixels[i] / (2 * softness_), 0.0F, 1.0F);
    mask_.pixels[i] = softness_ <= 1 ? t : t * t * (3 - 2 * t);
  }
}

void MaskFollower::follow(const Motion& motion) {
  const Image carried = warped(distance_, motion.back);
  double trusted = 0;
  double band = 0;
  for (std::size_t i = 0; i < carried.pixels.size(); ++i) {
    if (std::fabs(carried.pixels[i]) > kBand) continue;
    band += 1;
    trusted += static_cast<double>(motion.trust.pixels[i]);
  }
  // A pixel of the outline that is hidden for a moment is not lost at once.
  if (band > 0) confidence_ *= 0.97 + 0.03 * trusted / band;
  // The carried field is the mask's outline moved; taken anew from it, distances stay distances.
  Image outline(carried.width, carried.height, 1);
  for (std::size_t i = 0; i < outline.pixels.size(); ++i)
    outline.pixels[i] = carried.pixels[i] > 0 ? 1.0F : 0.0F;
  const Image fresh = signedDistance(outline);
  for (std::size_t i = 0; i < fresh.pixels.size(); ++i) {
    // Near the outline the carried field knows it to a part of a pixel.
    distance_.pixels[i] = std::fabs(fresh.pixels[i]) < 2 ? carried.pixels[i] : fresh.pixels[i];
  }
  draw();
}

}  // namespace jugendstil
