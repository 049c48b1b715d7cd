// SPDX-License-Identifier: Apache-2.0
#include "film/fades.h"

#include <algorithm>

#include "motion/cut.h"

namespace jugendstil {
namespace {

constexpr int kLooked = 160;      // long edge at which brightness is measured
constexpr double kBlack = 0.05;   // of the shot's brightness: a fade comes this low
constexpr double kBright = 0.97;  // and begins or ends here
constexpr double kWobble = 0.02;  // by which it may go the other way between frames
constexpr float kDarkest = 0.1F;

double meanOfFrame(const Image& frame) {
  double sum = 0;
  for (const float v : frame.pixels) sum += v;
  return sum / static_cast<double>(frame.pixels.size());
}

// A fade is no cut: frames are compared as if they were equally bright, and what is nearly black with
// nothing.
bool shotBegins(const Image& before, const Image& frame) {
  constexpr double kNothing = 0.02;
  constexpr double kEven = 0.4;
  const double a = meanOfFrame(before);
  const double b = meanOfFrame(frame);
  if (a < kNothing || b < kNothing) return false;
  const auto even = [](Image image, double mean) {
    for (float& v : image.pixels) v *= static_cast<float>(kEven / mean);
    return image;
  };
  return isCut(histogramDistance(even(before, a), even(frame, b)), 1);
}

// From one end of a shot inwards (`step` 1 or -1): a fade is dark at the end and rises steadily to the shot's
// own brightness.
void markFade(const std::vector<double>& brightness, std::int64_t end, std::int64_t stop, std::int64_t step,
              double own, std::vector<float>& fades) {
  const auto at = [&](std::int64_t i) { return brightness[i]; };
  if (own <= 0 || at(end) > kBlack * own) return;
  std::int64_t i = end;
  while (i != stop && at(i) < kBright * own && at(i + step) > at(i) - kWobble * own) i += step;
  if (at(i) < kBright * own) return;
  for (std::int64_t k = end; k != i; k += step)
    fades[k] = static_cast<float>(std::clamp(at(k) / own, 0.0, 1.0));
}

}  // namespace

std::vector<float> fadesOf(const std::vector<double>& brightness, const std::vector<bool>& begins) {
  std::vector<float> fades(brightness.size(), 1.0F);
  for (std::size_t first = 0; first < brightness.size();) {
    std::size_t last = first;
    while (last + 1 < brightness.size() && !begins[last + 1]) ++last;
    // The shot's own brightness is that of its brighter half.
    std::vector<double> sorted(brightness.begin() + first, brightness.begin() + last + 1);
    std::sort(sorted.begin(), sorted.end());
    const double own = sorted[sorted.size() * 3 / 4];
    const std::int64_t a = first;
    const std::int64_t b = last;
    markFade(brightness, a, b, 1, own, fades);
    markFade(brightness, b, a, -1, own, fades);
    first = last + 1;
  }
  return fades;
}

std::vector<float> findFades(FrameFeed& feed, const std::function<void(std::int64_t)>& progress) {
  std::vector<double> brightness;
  std::vector<bool> begins;
  Image before;
  for (std::int64_t place = 0; place < feed.count(); ++place) {
    progress(place);
    Image frame;
    const bool read = feed.at(place, frame) == FrameState::read;
    if (read) {
      const Size size =
          sizeForLongEdge(frame.width, frame.height, std::min(kLooked, std::max(frame.width, frame.height)));
      frame = resample(frame, size.width, size.height);
    }
    // A damaged frame is as bright as the one before.
    brightness.push_back(read ? meanOfFrame(frame) : brightness.empty() ? 0.0 : brightness.back());
    begins.push_back(read && !before.empty() && shotBegins(before, frame));
    if (read) before = std::move(frame);
  }
  return fadesOf(brightness, begins);
}

Image unfaded(const Image& frame, float fade) {
  if (fade >= 1) return frame;
  Image out = frame;
  const float gain = 1 / std::max(fade, kDarkest);
  for (float& v : out.pixels) v = std::min(1.0F, v * gain);
  return out;
}

Image faded(const Image& picture, float fade) {
  if (fade >= 1) return picture;
  Image out = picture;
  for (float& v : out.pixels) v *= fade;
  return out;
}

}  // namespace jugendstil
